"""Keys of measuring: how fast the rig is, figures of one's own, and what they are told against."""

from tenaz.core.ports.events import MeasureProgressed
from tenaz.orders import KeepOwn
from tenaz.tui.base.hands import Hands
from tenaz.tui.pages.scores import ScoresPage
from tenaz.tui.prompts.measure import against_prompt, measure_order, measure_prompt
from tenaz.tui.session.starting import Starting
from tenaz.tui.session.workspace import Workspace


class MeasureController:
    """On the Scores page."""

    def __init__(self, work: Workspace, hands: Hands, starting: Starting) -> None:
        self._work = work
        self._hands = hands
        self._starting = starting

    def measure(self) -> None:
        """Ask for how long, or for a figure; what came of it is in sight."""

        def take(text: str | None) -> None:
            if text is None:
                return
            order = measure_order(text)
            self._work.pages.show(ScoresPage)
            self._hands.bring_page_forward()
            if isinstance(order, KeepOwn):
                self._hands.give(order)
            else:
                self._starting.start(order, priced=True)
            self._hands.show()

        self._hands.ask(measure_prompt(self._work.view), take)

    def tell_against(self) -> None:
        """Another setpoint to tell scores against."""
        scores = self._work.pages.of(ScoresPage)

        def take(text: str | None) -> None:
            if text is not None and text.strip():
                scores.against = text.strip()
                self._work.pages.show(ScoresPage)
                self._hands.show()

        self._hands.ask(against_prompt(self._work.view, scores.against), take)

    def hear(self, event: object) -> None:
        """How far it is."""
        if isinstance(event, MeasureProgressed):
            self._hands.show_progress(event)
