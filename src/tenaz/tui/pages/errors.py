"""The Prints page: where wrong values lay, and what that points to."""

from functools import partial
from typing import TYPE_CHECKING

from tenaz.pictures.prints.cells import draw_prints
from tenaz.tui.pages.bringing import bring_load
from tenaz.tui.pages.page import Drawing, Page, PageHelp

if TYPE_CHECKING:
    from tenaz.tui.base.at_hand import AtHand
    from tenaz.tui.base.hands import Hands


class ErrorsPage(Page):
    """Follows a load that runs; else what the book kept of the trial pointed at."""

    name = "errors"
    help = PageHelp(
        "Where wrong values lay: bit lanes across, regions of addresses down, which way they were wrong, "
        "and in words what that points to.",
        (("·", "one wrong bit in that lane and region"), ("+", "a few"), ("#", "many"), ("┄", "none")),
        ("correct_trial", "note_trial", "export_page"),
        "Each wrong value is read once more: stored wrong if it stays, wrong on the way if not. Suspects "
        "are weighed by how each kind of fault scatters over lanes, rows and time.",
    )

    live = True
    above = 1

    def drawing(self, work: "AtHand") -> Drawing:
        """Lanes across, regions down."""
        return partial(draw_prints, work.load_view.prints(work.loaded()))

    def bring(self, work: "AtHand", hands: "Hands") -> None:
        """What the book kept of the trial pointed at."""
        bring_load(work, hands)
