"""The Prints canvas: where wrong values lay, and what that points to."""

from functools import partial
from typing import TYPE_CHECKING

from tenaz.pictures.prints.cells import draw_prints
from tenaz.tui.canvases.bringing import bring_load
from tenaz.tui.canvases.canvas import Canvas, CanvasHelp, Drawing

if TYPE_CHECKING:
    from tenaz.tui.base.at_hand import AtHand
    from tenaz.tui.base.hands import Hands


class PrintsCanvas(Canvas):
    """Follows a load that runs; else what the book kept of the trial pointed at."""

    name = "prints"
    help = CanvasHelp(
        "Where wrong values lay: bit lanes across, regions of addresses down, which way they were wrong, "
        "and in words what that points to.",
        (("·", "one wrong bit in that lane and region"), ("+", "a few"), ("#", "many"), ("┄", "none")),
        ("point_at", "turn_canvas"),
        "Each wrong value is read once more: stored wrong if it stays, wrong on the way if not. Suspects "
        "are weighed by how each kind of fault scatters over lanes, rows and time.",
    )

    live = True

    def drawing(self, work: "AtHand") -> Drawing:
        """Lanes across, regions down."""
        return partial(draw_prints, work.load_view.prints(work.loaded()))

    def bring(self, work: "AtHand", hands: "Hands") -> None:
        """What the book kept of the trial pointed at."""
        bring_load(work, hands)
