"""The Scores page: what is in force against another setpoint, in percent."""

from functools import partial
from typing import TYPE_CHECKING

from tenaz.advice.coming import Coming
from tenaz.advice.scores import next_scored
from tenaz.orders import BringScores
from tenaz.pictures.scores.cells import draw_scores
from tenaz.pictures.scores.model import ScoresPicture
from tenaz.tui.pages.fetched import Fetched
from tenaz.tui.pages.page import Drawing, PageHelp

if TYPE_CHECKING:
    from tenaz.tui.base.at_hand import AtHand
    from tenaz.tui.base.hands import Hands


class ScoresPage(Fetched[ScoresPicture]):
    """Against stock, until another setpoint is asked for."""

    name = "scores"
    help = PageHelp(
        "What is set now against another setpoint, in percent, better to the right: a dot a figure, with the interval "
        "that holds it. Under it latency and bandwidth against block size, other setpoints that were measured, what "
        "holds the rig back and what a watt gives.",
        (
            ("●", "what was gained"),
            ("├ ┤", "where the gain lies, 95 % for all leading figures together"),
            ("┊", "the least gain that is worth a risk: half a percent"),
            ("○ ●", "in the curves: before, now"),
        ),
        ("measure", "tell_against", "export_page"),
        "Medians of repeats, compared by their logarithms in least squares; measured in turn (now, before, before, "
        "now) a drift is fitted beside the gain. What differs from start to start has a prior of 0.3 % and is learnt; "
        "intervals are Student's, shared by all leading figures (Bonferroni).",
    )

    def __init__(self) -> None:
        super().__init__()
        self.against = "stock"
        self._skip = 0
        self._of: str = ""

    def drawing(self, work: "AtHand") -> Drawing:
        """Dots with intervals, and curves."""
        return partial(draw_scores, self.picture(work), skip=self._skip)

    def bring(self, work: "AtHand", hands: "Hands") -> None:
        """What was measured."""
        view = work.view
        if self._of != view.rig.name:
            self._of, self.against = view.rig.name, "stock" if self._of else self.against
        marks = view.marks
        known = (view.rig.name, view.bench, view.in_force, marks.change, marks.measured, self.against)
        self.fetch(hands, known, BringScores(self.against))

    def scroll(self, work: "AtHand", step: int, width: int) -> None:
        """Figures above or below."""
        most = len(self._picture.newest) if self._picture is not None else 0
        self._skip = max(0, min(most, self._skip + step))

    def next_step(self, work: "AtHand") -> Coming | None:
        """What the scores say, where nothing else is dialled."""
        view, picture = work.view, self.picture(work)
        still = not work.busy and not view.book.read_only and work.dial.setpoint == view.in_force
        return next_scored(picture, view.stands) if picture is not None and still else None
