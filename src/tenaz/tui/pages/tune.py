"""The Climb page: the climb along the knob in hand, or its line through what is dialled."""

from functools import partial
from typing import TYPE_CHECKING

from tenaz.core.base.errors import Refused
from tenaz.pictures.climb.cells import draw_climb, draw_no_climb
from tenaz.pictures.drawing.paper import PICTURES
from tenaz.tui.pages.page import OUTCOMES, Drawing, Export, Page, PageHelp, head_of

if TYPE_CHECKING:
    from tenaz.tui.base.at_hand import AtHand


class TunePage(Page):
    """Its picture is the workspace's: what is pointed at elsewhere walks over the same trials."""

    name = "tune"
    beside = ("tracks",)
    help = PageHelp(
        "Trials from left to right against the value of the knob in hand, harder is up. Lines behind the "
        "marks are what is known after each: the hardest value that held, the easiest that failed. At the"
        " right, where the edge of the purpose lies and with what chance, and how many hours lie between "
        "errors at each value.",
        (
            *OUTCOMES,
            ("▒", "guard band: past what can be advised, before what failed"),
            ("·· ", "what would be believed had nothing been tried"),
            ("┊", "hours between errors that the purpose asks for"),
            ("•", "a value's own hours between errors, with its interval of 90 %"),
            ("↑", "a bar stands for the edge from its value to the next row up"),
            ("!", "something that does not fit: a stray failure, a drift, an odd slope"),
        ),
        ("climb", "follow_next", "choose_load", "choose_strategy", "look_back", "note_trial", "end_climb"),
        "Failures come at a rate that grows e-fold over so many steps (the slope); the posterior over "
        "edge, slope and tail is exact on a grid, from failure times, clean times and starts (right-"
        "censored lifetimes). Its prior is what past rigs say, else what simulated ones do. Advised is the "
        "hardest value that is tolerated by the model as surely as the purpose asks.",
    )

    def drawing(self, work: "AtHand") -> Drawing:
        """The climb, or that there is none."""
        picture = work.picture()
        return partial(draw_climb, picture, cursor=work.cursor) if picture else partial(draw_no_climb, work.dial.knob)

    def export(self, work: "AtHand") -> Export:
        """As a picture of its own.

        Raises:
            Refused: there is no climb along the knob in hand.
        """
        from tenaz.papers.exports import ClimbPaper  # noqa: PLC0415 - paper is needed where something is written

        picture = work.picture()
        if picture is None:
            raise Refused("There is no climb along this knob to export yet.")
        head = head_of(work.view, f"{picture.knob.label}, {picture.load}")
        name = f"{picture.rig}-{picture.knob.name}.svg"
        return Export("the climb", name, PICTURES, ClimbPaper(picture, head))
