"""The Cycle page: what the dialled timings make of one row, to scale."""

from functools import partial
from typing import TYPE_CHECKING

from tenaz.core.base.errors import Refused
from tenaz.pictures.cycle.cells import draw_cycle
from tenaz.pictures.cycle.model import CyclePicture, cycle_picture
from tenaz.pictures.drawing.paper import PICTURES
from tenaz.pictures.sheet.clocks import clocks_line
from tenaz.tui.pages.page import Drawing, Export, Page, PageHelp, head_of

if TYPE_CHECKING:
    from tenaz.tui.base.at_hand import AtHand


class TimingsPage(Page):
    """Beside what it is compared with."""

    name = "timings"
    beside = ("tracks",)
    help = PageHelp(
        "What the timings make of one row, to scale in ns: activate, read, precharge, next activate; a "
        "write with its recovery; four activates and the window; refresh with the share of time that it "
        "costs.",
        (
            ("━", "a timing that decides; ┄ one that has no effect, or is too low"),
            ("╎ ╢", "the least that the other timings ask for"),
            ("▒", "data on the bus"),
        ),
        ("find_knob", "carry_sheet", "note_value"),
        "Clocks to ns by the data rate: two transfers a clock. Minima and what carries as a time: the "
        "tables of timing parameters in JESD79-4 (DDR4) and JESD79-5 (DDR5); the rules round up by them, "
        "or carefully above them.",
    )

    def drawing(self, work: "AtHand") -> Drawing:
        """One row cycle."""
        return partial(draw_cycle, self.picture(work), clocks_line=clocks_line(work.view.rig, work.dial.setpoint))

    def picture(self, work: "AtHand") -> CyclePicture | None:
        """Of what is dialled; None where its rate is not known."""
        name, compared = work.compared_with() or ("", None)
        return cycle_picture(work.view.rig, work.dial.setpoint, work.dial.knob.name, compared, name)

    def export(self, work: "AtHand") -> Export:
        """As a picture of its own, at the setpoint that it shows.

        Raises:
            Refused: the data rate is not known, or on auto.
        """
        from tenaz.papers.exports import CyclePaper  # noqa: PLC0415 - paper is needed where something is written

        picture = self.picture(work)
        if picture is None:
            raise Refused("The data rate is not known, or on auto: there is no cycle to export.")
        head = head_of(work.view, f"one row cycle at {picture.rate_mts} MT/s", work.dial.setpoint)
        name = f"{work.view.rig.name}-cycle-{picture.rate_mts}.svg"
        return Export("the row cycle", name, PICTURES, CyclePaper(picture, head))
