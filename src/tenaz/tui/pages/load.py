"""The Load page: what each worker does, and the sensors, on one time axis."""

from functools import partial
from typing import TYPE_CHECKING

from tenaz.pictures.load.cells import draw_load
from tenaz.tui.pages.bringing import bring_load
from tenaz.tui.pages.page import ALARMS, Drawing, Page, PageHelp

if TYPE_CHECKING:
    from tenaz.tui.base.at_hand import AtHand
    from tenaz.tui.base.hands import Hands


class LoadPage(Page):
    """Follows a load that runs; else what the book kept of the trial pointed at."""

    name = "load"
    help = PageHelp(
        "A lane a worker: its core, lap, rate, the clock that core was measured to reach, when it last "
        "verified, errors. Under it every sensor on one time axis, with its ceilings, and what happened. Where a "
        "machine across a wire went down, its last seconds stand in place of the lanes: each core, rails, heat.",
        ALARMS,
        ("filter_lines", "stop_run"),
        "A clock is measured by timed chains of dependent additions, not asked for. A curve's band is the"
        " lowest and highest reading of its stretch.",
    )

    live = True
    above = 1

    def drawing(self, work: "AtHand") -> Drawing:
        """Lanes, curves, what happened."""
        return partial(draw_load, work.load_view.picture(work.loaded()))

    def bring(self, work: "AtHand", hands: "Hands") -> None:
        """What the book kept of the trial pointed at."""
        bring_load(work, hands)

    def scroll(self, work: "AtHand", step: int, width: int) -> None:
        """Along the time axis."""
        work.load_view.move(step)
