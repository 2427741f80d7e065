"""The Rig page: the machine as one sees it."""

from functools import partial
from typing import TYPE_CHECKING

from tenaz.pictures.rig.cells import draw_rig, pointed_out
from tenaz.tui.pages.page import Drawing, Page, PageHelp

if TYPE_CHECKING:
    from tenaz.tui.base.at_hand import AtHand


SCROLL_LINES = 3


class RigPage(Page):
    """What is known of it, and what to look at."""

    name = "rig"
    help = PageHelp(
        "The machine as one sees it: slots by channel, modules, cores, cooler, supply, board; whose it is and what it "
        "is for; what is off stock, and what to look at.",
        (("▸", "worth a look"), ("·", "not known"), ("?", "read by nobody yet")),
        ("edit_rig", "take_in", "new_rig", "choose_rig", "work_on_parts", "label_part"),
        "Read from the tables of the firmware (SMBIOS), the modules' own (SPD) and the kernel's; what nobody could "
        "read is asked for once.",
    )

    def __init__(self) -> None:
        self._skipped = 0

    def drawing(self, work: "AtHand") -> Drawing:
        """What is known of the rig."""
        return partial(draw_rig, work.view.rig, skip=self._skipped)

    def scroll(self, work: "AtHand", step: int, width: int) -> None:
        """What is pointed out, above or below."""
        most = len(pointed_out(work.view.rig, width))
        self._skipped = max(0, min(most, self._skipped + SCROLL_LINES * step))
