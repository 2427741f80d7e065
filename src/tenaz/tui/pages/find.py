"""The Find page: the question path to what is wrong with the machine."""

from functools import partial
from typing import TYPE_CHECKING

from tenaz.advice.coming import Coming
from tenaz.advice.finding import next_found
from tenaz.core.parts.fitting import Fitting
from tenaz.orders import BringFinding, WorkOnParts
from tenaz.pictures.find.cells import draw_find, draw_working
from tenaz.pictures.find.model import FindPicture
from tenaz.tui.pages.page import Drawing, Page, PageHelp
from tenaz.tui.pages.question_path import QuestionPath
from tenaz.tui.prompts.find import parts_prompt

if TYPE_CHECKING:
    from tenaz.tui.base.at_hand import AtHand
    from tenaz.tui.base.hands import Hands

SCROLL_LINES = 3


class FindPage(Page):
    """Worked out only while it is in sight."""

    name = "find"
    help = PageHelp(
        "What is wrong with it? The board with suspicion as its ink: slots by channel, modules, cores, cooler, supply, "
        "controller, board; under it who it may be and what speaks for it, and what tells most a minute.",
        (
            ("▓", "how suspect a part is: ░ ▒ ▓ █"),
            ("◇", "what comes next"),
            ("+", "speaks for it"),
            ("−", "speaks against it"),
            ("║", "pointed at"),
        ),
        ("follow_next", "work_on_parts", "label_part", "tick_symptom", "write_claim", "edit_rig"),
        "Every cause and every pair of causes is weighed by Bayes' rule over symptoms, failure times, clean times, "
        "error patterns and sensors, with rates that were learnt from simulated faults (tenaz study faults --learn). "
        "What comes next tells most about who is at fault, for its minutes. A click on a module and then on a slot "
        "moves it.",
    )

    def __init__(self) -> None:
        self.path = QuestionPath()

    def drawing(self, work: "AtHand") -> Drawing:
        """The board with suspicion as its ink."""
        path = self.path
        if path.picture is not None and path.picture.rig.name == work.view.rig.name:
            return partial(draw_find, path.picture, pointed=path.pointed, skip=path.skip)
        return draw_working

    def bring(self, work: "AtHand", hands: "Hands") -> None:
        """What is thought."""
        path, view = self.path, work.view
        known = (view.rig, view.bench, view.marks.change, view.marks.parts, view.in_force.key)
        if known in (path.of, path.asked):
            return

        def take(picture: FindPicture) -> None:
            now = work.view
            # Of another rig it comes too late.
            if picture.rig.name == now.rig.name and picture.simulated is not now.bench.real:
                path.picture, path.of = picture, known
            hands.show()

        path.asked = known
        hands.bring(BringFinding(), take)

    def points(self, work: "AtHand") -> bool:
        """Parts."""
        return True

    def point(self, work: "AtHand", step: int) -> None:
        """At another part."""
        self.path.point(step)

    def scroll(self, work: "AtHand", step: int, width: int) -> None:
        """Who else is suspect, above or below."""
        self.path.skip = max(0, self.path.skip + SCROLL_LINES * step)

    def click(self, work: "AtHand", hands: "Hands", kind: str, which: int | str) -> None:
        """A part; a module and then a slot: it is to be moved there."""
        moving = self.path.move_to(int(which)) if kind == "part" else ""
        super().click(work, hands, kind, which)
        if moving:
            self.ask_work(work, hands, moving)

    def ask_work(self, work: "AtHand", hands: "Hands", text: str) -> None:
        """What was done to parts, or (a simulated rig) is to be done."""

        def take(typed: str | None) -> None:
            if typed is not None:
                hands.give(WorkOnParts(typed))

        hands.ask(parts_prompt(work.view, self.fitting(work), text), take)

    def fitting(self, work: "AtHand") -> Fitting | None:
        """How the parts stand, where that is known here."""
        picture = self.path.picture
        return picture.fitting if picture is not None and picture.rig.name == work.view.rig.name else None

    def next_step(self, work: "AtHand") -> Coming | None:
        """What tells most."""
        picture, fresh = self.path.picture, not work.busy and not work.view.book.read_only
        return next_found(picture, not self.path.stale) if fresh and picture else None
