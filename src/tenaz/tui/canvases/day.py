"""The Day canvas: how far the work on a rig has come, and where everything stands."""

from functools import partial
from typing import TYPE_CHECKING

from tenaz.pictures.day.build import day_picture
from tenaz.pictures.day.cells import draw_day
from tenaz.pictures.drawing.paper import PICTURES
from tenaz.tui.canvases.canvas import Canvas, CanvasHelp, Drawing, Export, head_of
from tenaz.workshop.looking.session_paper import DayPaper, ground_of

if TYPE_CHECKING:
    from tenaz.tui.base.at_hand import AtHand


class DayCanvas(Canvas):
    """From taking the rig in to handing it over."""

    name = "day"
    help = CanvasHelp(
        "How far the work on this rig has come, from taking it in to handing it over, and where everything stands.",
        (("●", "done"), ("◐", "begun"), ("✗", "failed"), ("·", "to come"), ("▸", "where to go on")),
        ("follow_next", "run_routine", "climb", "run_plan", "choose_rig"),
        "A stage is done when its evidence is in the book: the baseline when each kind of load that the "
        "purpose asks for held at stock, the proof when all its hours were shown at what is in force.",
    )

    def drawing(self, work: "AtHand") -> Drawing:
        """A stair that one climbs."""
        return partial(draw_day, day_picture(ground_of(work.view)))

    def export(self, work: "AtHand") -> Export:
        """By itself as a picture, with all of the session as a PDF."""
        view = work.view
        paper = DayPaper(self.drawn(work), head_of(view, "the day"), view)
        what = "the session (.pdf: all of it, .svg: this page)"
        return Export(what, f"{view.rig.name}-session.pdf", PICTURES, paper)
