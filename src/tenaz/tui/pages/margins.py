"""The Margins page: of every knob that was moved, the way to its edge."""

from functools import partial
from typing import TYPE_CHECKING

from tenaz.pictures.margins.build import margins_picture
from tenaz.pictures.margins.cells import draw_margins
from tenaz.pictures.margins.model import MarginsPicture
from tenaz.tui.pages.page import Drawing, Page, PageHelp

if TYPE_CHECKING:
    from tenaz.tui.base.at_hand import AtHand


class MarginsPage(Page):
    """At what is in force; judged anew only when a trial or a value has changed."""

    name = "margins"
    help = PageHelp(
        "For every knob that was moved from what is in use: the way from there to its edge, on a scale of its own.",
        (
            ("│", "in use"),
            ("▾", "the hardest value that can be advised"),
            ("━", "where the edge lies, 95 %"),
            ("●", "held"),
            ("✗", "failed"),
        ),
        ("choose_load", "climb"),
        "Shown: an exact bound for n failures in T hours, χ²(95 %; 2n + 2) / 2T (Garwood 1936). Model: "
        "what the posterior extends it to. Next hour: by how much another clean one would raise what can "
        "be advised. An edge found while other values stood: where all that moved since asks less, what "
        "held holds still; where all asks more, what failed fails still; one trial asks the rest.",
    )

    def __init__(self) -> None:
        self._skipped = 0
        self._picture: tuple[object, MarginsPicture] | None = None

    def drawing(self, work: "AtHand") -> Drawing:
        """The ways of all knobs, that of the knob in hand marked."""
        return partial(draw_margins, self.picture(work), in_hand=work.dial.knob.name, skip=self._skipped)

    def picture(self, work: "AtHand") -> MarginsPicture:
        """As it is known now."""
        view = work.view
        known = (view.rig, view.in_force, view.marks.change, view.bench)
        if self._picture is None or self._picture[0] != known:
            self._picture = known, margins_picture(view.rig, view.in_force, view.index)
        return self._picture[1]

    def scroll(self, work: "AtHand", step: int, width: int) -> None:
        """Knobs above or below."""
        self._skipped = max(0, min(len(self.picture(work).rows) - 1, self._skipped + step))
