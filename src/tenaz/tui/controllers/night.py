"""Keys of the night: begun from stock, gone on with, looked at in the morning."""

from tenaz.core.base.typed import parse_hours
from tenaz.orders import BeginSearch, GoOn, Steps
from tenaz.orders.nights import order_for_night
from tenaz.search.night.ground import Aim
from tenaz.search.registry import strategy_of
from tenaz.tui.base.hands import Hands
from tenaz.tui.pages.night import NightPage
from tenaz.tui.screens.picks import Pick
from tenaz.tui.screens.prompt import Prompt
from tenaz.tui.session.starting import Starting
from tenaz.tui.session.workspace import Workspace

AS_LONG = "as long as it pays"


class NightController:
    """On the Night page."""

    def __init__(self, work: Workspace, hands: Hands, starting: Starting) -> None:
        self._work = work
        self._hands = hands
        self._starting = starting

    def begin_night(self) -> None:
        """Go on with the night under way, or ask how long one may take."""
        view = self._work.view
        if view.searches.going is not None:
            if strategy_of(view.searches.going.strategy).alone:
                self._show()
                self._starting.start(GoOn(self._steps))
            else:
                self._hands.complain("A climb is under way: a›e ends it, its trials stay.")
            return
        proof_h = view.rig.purpose.proof_h
        picks = [
            Pick(AS_LONG, "ends when an hour gains too little"),
            *(Pick(f"{proof_h + hours:g}h", "") for hours in (4, 8)),
            Pick(Aim.QUIET.value, "voltages down, nothing else"),
        ]
        hint = f"from stock; how long it may take in all, the proof of {proof_h:g} h at its end among it"

        def take(text: str | None) -> None:
            if text is not None:
                self._show()
                self._starting.start(self._order(text), priced=True)

        self._hands.ask(Prompt("a night alone", hint, AS_LONG, self._order, picks=picks), take)

    @property
    def _steps(self) -> Steps:
        """Where it takes hands, one trial at a time; else to the end, and that is measured."""
        return Steps(self._work.view.rig.needs_hands(self._work.view.bench), measured=True)

    def _order(self, text: str) -> BeginSearch:
        words = text.replace(AS_LONG, "").split()
        aim = Aim.QUIET if Aim.QUIET in words else Aim.FAST
        typed = " ".join(word for word in words if word not in tuple(Aim))
        hours = parse_hours(typed) if typed else 0.0
        rig = self._work.dial.rig
        return order_for_night(rig, rig.stock, hours, steps=self._steps, aim=aim)

    def _show(self) -> None:
        self._work.pages.show(NightPage)
        self._hands.bring_page_forward()
