"""The Night page: a whole rig tuned alone, leg by leg."""

from functools import partial
from typing import TYPE_CHECKING

from tenaz.orders import BringNight
from tenaz.pictures.night.cells import draw_night
from tenaz.pictures.night.model import NightPicture
from tenaz.search.strategy_kinds import StrategyKind
from tenaz.tui.pages.of_search import OfSearch
from tenaz.tui.pages.page import OUTCOMES, Drawing, PageHelp

if TYPE_CHECKING:
    from tenaz.tui.base.at_hand import AtHand


class NightPage(OfSearch[NightPicture]):
    """Of the newest night."""

    name = "night"
    help = PageHelp(
        "The whole rig tuned alone. Down the spine are the stages of the route; to its left what each cost in hours, "
        "to its right what it is expected to have gained of the score, and what it moved. Under each how its trials "
        "ended, and why it went no further.",
        (
            *OUTCOMES,
            ("▒", "half an hour that a stage took"),
            ("█", "half a percent of the score"),
            ("░", "given up for what comes: voltages raised for a higher rate"),
            ("◇", "where it is now"),
        ),
        ("begin_night", "end_climb", "stop_run", "export_page"),
        "The score is the geometric mean of bandwidth, latency and throughput. Along a knob each trial is that which "
        "is expected to raise the value that can be advised most for its hours; a stage ends where an hour gains too "
        "little. Many timings go together, and who fails is found by group testing. At the end runs what the purpose "
        "asks for; stopped before that, the rig goes back to what was proven last.",
    )

    @staticmethod
    def shows(kind: StrategyKind) -> bool:
        """Searches that need nobody."""
        return kind.alone

    def order(self, search_id: int) -> BringNight:
        """Draws one."""
        return BringNight(search_id)

    def drawing(self, work: "AtHand") -> Drawing:
        """A spine with legs down it."""
        return partial(draw_night, self.picture(work))
