"""The Alike page: what rigs with the same parts have come to."""

from functools import partial
from typing import TYPE_CHECKING

from tenaz.orders import BringAlike
from tenaz.pictures.alike.cells import draw_alike
from tenaz.pictures.alike.model import AlikePicture
from tenaz.tui.pages.fetched import Fetched
from tenaz.tui.pages.page import Drawing, PageHelp

if TYPE_CHECKING:
    from tenaz.tui.base.at_hand import AtHand
    from tenaz.tui.base.hands import Hands


class AlikePage(Fetched[AlikePicture]):
    """By the workshop's other rigs that have them."""

    name = "alike"
    help = PageHelp(
        "What its board, its memory and its processor usually come to: a line a knob, from the grid's easiest value to "
        "its hardest, by the workshop's other rigs that have the same; and where this rig stands.",
        (
            ("├ ┤", "where the edge of one more such rig lies, four in five"),
            ("┼", "the middle"),
            ("●", "the hardest value at which this rig held for ten minutes"),
            ("•", "the same of the other rigs"),
            ("┊", "what it came with"),
        ),
        ("edit_rig", "choose_rig", "search_book"),
        "What the rigs have in common is learnt from all that was tried on them, in what carries over (a timing's "
        "time, a data rate's part of what the rig came with); from three rigs on. It is the belief with which a climb "
        "begins: work.experience in the settings switches that off.",
    )

    def __init__(self) -> None:
        super().__init__()
        self._skip = 0

    def drawing(self, work: "AtHand") -> Drawing:
        """A line a knob."""
        return partial(draw_alike, self.picture(work), skip=self._skip)

    def bring(self, work: "AtHand", hands: "Hands") -> None:
        """What other rigs have shown."""
        view = work.view
        self.fetch(hands, (view.rig.name, view.rig.parts, view.bench, view.marks.change), BringAlike())

    def scroll(self, work: "AtHand", step: int, width: int) -> None:
        """Parts above or below."""
        most = len(self._picture.parts) - 1 if self._picture is not None else 0
        self._skip = max(0, min(most, self._skip + step))
