"""The Day page: all rigs, a line each; of the one in hand how far the work has come, and where everything stands."""

import time
from functools import partial
from typing import TYPE_CHECKING

from tenaz.advice.coming import Coming
from tenaz.core.rigs.rig_line import RigLine
from tenaz.orders import BringRigs
from tenaz.pictures.day.build import day_picture
from tenaz.pictures.day.cells import draw_day
from tenaz.pictures.day.rigs import RigsPicture, in_order
from tenaz.pictures.drawing.paper import PICTURES
from tenaz.tui.pages.page import Drawing, Export, Page, PageHelp, head_of
from tenaz.workshop.looking.session_paper import DayPaper, ground_of

if TYPE_CHECKING:
    from tenaz.tui.base.at_hand import AtHand
    from tenaz.tui.base.hands import Hands


LOOKS_EVERY_S = 2.0


class DayPage(Page):
    """What the workbench opens on. What is known of all rigs is fetched; until it comes they stand there by name."""

    name = "day"
    help = PageHelp(
        "All rigs, a line each: how the newest trial ended, what waits for an answer, what was found, what comes next; "
        "what waits first. Under it the rig in hand: how far the work has come, from taking it in to handing it over, "
        "and where everything stands.",
        (
            ("?", "waits for an answer"),
            ("●", "done"),
            ("◐", "begun; of a rig: something runs on it now"),
            ("✗", "failed"),
            ("·", "to come"),
            ("▸", "pointed at, or where to go on"),
        ),
        ("follow_next", "run_routine", "climb", "run_plan", "choose_rig"),
        "A stage is done when its evidence is in the book: the baseline when each kind of load that the "
        "purpose asks for held at stock, the proof when all its hours were shown at what is set now.",
    )

    def __init__(self) -> None:
        self._lines: tuple[RigLine, ...] = ()
        self._known: object = None
        self._pointed: str | None = None

    def rigs(self, work: "AtHand") -> RigsPicture:
        """All of them, those with something waiting first."""
        view = work.view
        known = {one.name: one for one in self._lines}
        bare = [known.get(name) or RigLine(name, "", "", "", (), "", "") for name in view.book.rigs]
        lines = in_order(bare)
        names = [one.name for one in lines]
        pointed = self._pointed if self._pointed in names else view.rig.name
        return RigsPicture(lines, names.index(pointed) if pointed in names else 0, view.rig.name)

    def as_known_to(self, other: "DayPage") -> None:
        """What another one fetched is known here."""
        self._lines = other._lines

    def drawing(self, work: "AtHand") -> Drawing:
        """The rigs, and the stair that one climbs."""
        return partial(draw_day, day_picture(ground_of(work.view)), rigs=self.rigs(work))

    def bring(self, work: "AtHand", hands: "Hands") -> None:
        """Where each rig stands."""
        view = work.view
        # What runs on other rigs is in the book only; it is looked at again and again.
        moment = int(time.monotonic() / LOOKS_EVERY_S) if self.others_run(work) else 0
        known = (view.book.rigs, view.rig.name, view.marks.change, view.now.unfinished, work.busy, moment)
        if known == self._known:
            return

        def take(lines: tuple[RigLine, ...]) -> None:
            self._lines = tuple(lines)
            hands.show()

        self._known = known
        hands.bring(BringRigs(), take)

    def ask_again(self) -> None:
        """What is known of the rigs is known no longer."""
        self._known = None

    def others_run(self, work: "AtHand") -> bool:
        """Whether something runs on another rig than that in hand."""
        return any(one.running and one.name != work.view.rig.name for one in self._lines)

    def points(self, work: "AtHand") -> bool:
        """Rigs."""
        return len(work.view.book.rigs) > 1

    def point(self, work: "AtHand", step: int) -> None:
        """At another rig."""
        rigs = self.rigs(work)
        self._pointed = rigs.lines[max(0, min(len(rigs.lines) - 1, rigs.at + step))].name

    def click(self, work: "AtHand", hands: "Hands", kind: str, which: int | str) -> None:
        """A rig; clicked again it is taken in hand."""
        if kind == "rig":
            name = self.rigs(work).lines[int(which)].name
            again, self._pointed = name == self._pointed, name
            if again and self.follow(work, hands):
                return
        super().click(work, hands, kind, which)

    def next_step(self, work: "AtHand") -> Coming | None:
        """To the rig pointed at, where it is another one."""
        rigs = self.rigs(work)
        line = rigs.lines[rigs.at]
        if line.name == work.view.rig.name:
            return None
        why = line.running or line.waits_for or line.found or line.next_step or line.state
        stays = f"; what runs on {work.view.rig.name} goes on" if work.busy else ""
        return Coming(f"work on {line.name}", f"{why}{stays}", key="⏎")

    def follow(self, work: "AtHand", hands: "Hands") -> bool:
        """Take the rig pointed at in hand."""
        coming = self.next_step(work)
        if coming is None:
            return False
        rigs = self.rigs(work)
        hands.work_on(rigs.lines[rigs.at].name)
        return True

    def export(self, work: "AtHand") -> Export:
        """By itself as a picture, with all of the session as a PDF."""
        view = work.view
        paper = DayPaper(self.drawn(work), head_of(view, "the day"), view)
        what = "the session (.pdf: all of it, .svg: this page)"
        return Export(what, f"{view.rig.name}-session.pdf", PICTURES, paper)
