"""The Memory page: physical memory from the lowest address up, and what loads reached of it."""

from functools import partial
from typing import TYPE_CHECKING

from tenaz.orders import BringMemory
from tenaz.pictures.memory.cells import draw_memory
from tenaz.pictures.memory.model import MemoryPicture
from tenaz.tui.pages.fetched import Fetched
from tenaz.tui.pages.page import Drawing, PageHelp

if TYPE_CHECKING:
    from tenaz.tui.base.at_hand import AtHand
    from tenaz.tui.base.hands import Hands


class MemoryPage(Fetched[MemoryPicture]):
    """Of all trials of the rig."""

    name = "memory"
    help = PageHelp(
        "Physical memory from the lowest address up: what loads went over at least once, and how often; what the "
        "kernel or the firmware had each time; where something was wrong.",
        (
            ("1…9", "gone over so often, in whole laps"),
            ("+", "more often"),
            ("◐", "not all of it"),
            ("·", "kept free of the kernel, and not gone over yet"),
            ("k", "left to the system every time"),
            ("f", "the firmware's"),
            ("✗", "wrong values there"),
        ),
        ("start_trial", "choose_load", "export_page"),
        "The share is of all that is fitted, by the firmware's tables. Where a block lies is told by the system to "
        "root; the stick starts twice, each time with another range kept from the kernel, and so reaches nearly all.",
    )

    def drawing(self, work: "AtHand") -> Drawing:
        """What came; an empty picture until it has."""
        waiting = MemoryPicture(work.view.rig.name, None, (), ("looking it up …",))
        return partial(draw_memory, self.picture(work) or waiting)

    def bring(self, work: "AtHand", hands: "Hands") -> None:
        """What was reached."""
        self.fetch(hands, (work.view.rig.name, work.view.marks.change), BringMemory())
