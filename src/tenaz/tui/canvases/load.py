"""The Load canvas: what each worker does, and the sensors, on one time axis."""

from functools import partial
from typing import TYPE_CHECKING

from tenaz.pictures.load.cells import draw_load
from tenaz.tui.canvases.bringing import bring_load
from tenaz.tui.canvases.canvas import ALARMS, Canvas, CanvasHelp, Drawing

if TYPE_CHECKING:
    from tenaz.tui.base.at_hand import AtHand
    from tenaz.tui.base.hands import Hands


class LoadCanvas(Canvas):
    """Follows a load that runs; else what the book kept of the trial pointed at."""

    name = "load"
    help = CanvasHelp(
        "A lane a worker: its core, lap, rate, the clock that core was measured to reach, when it last "
        "verified, errors. Under it every sensor on one time axis, with its ceilings, and what happened.",
        ALARMS,
        ("move_time", "zoom_time", "filter_lines", "point_at", "stop_run"),
        "A clock is measured by timed chains of dependent additions, not asked for. A curve's band is the"
        " lowest and highest reading of its stretch.",
    )

    scrolls = has_time = live = True

    def drawing(self, work: "AtHand") -> Drawing:
        """Lanes, curves, what happened."""
        return partial(draw_load, work.load_view.picture(work.loaded()))

    def bring(self, work: "AtHand", hands: "Hands") -> None:
        """What the book kept of the trial pointed at."""
        bring_load(work, hands)

    def scroll(self, work: "AtHand", step: int, width: int) -> None:
        """Along the time axis."""
        work.load_view.move(step)
