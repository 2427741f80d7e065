"""What a page is: all that it shows, asks for, does under a key or a click, and is written as, said in one place."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import TYPE_CHECKING, ClassVar

from tenaz.advice.coming import Coming
from tenaz.catalogues.outside import typed_path
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.papers.exports import Paper
from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.marks import ALARM_MARKS, MARKS, NEXT, RUNNING
from tenaz.pictures.drawing.paper import PICTURES, check_path
from tenaz.pictures.drawing.paper_head import PaperHead, head_at
from tenaz.tui.screens.prompt import Prompt

if TYPE_CHECKING:
    from tenaz.tui.base.at_hand import AtHand
    from tenaz.tui.base.hands import Hands
    from tenaz.workshop.looking.view import View

Drawing = Callable[[int, int], Cells]
"""Draws on so many columns and rows."""

OUTCOMES = tuple((mark.sign, mark.word) for mark in (*MARKS.values(), RUNNING, NEXT))
ALARMS = tuple((mark.sign, mark.word) for mark in ALARM_MARKS.values())
PAPER_COLUMNS, PAPER_ROWS = 120, 40
"""A page that is exported as it stands in the terminal gets so many cells."""


@dataclass(frozen=True, slots=True)
class PageHelp:
    """``keys`` are actions of the commands; ``sums`` says how figures come about, and by whose work."""

    shows: str
    marks: tuple[tuple[str, str], ...]
    keys: tuple[str, ...]
    sums: str = ""


@dataclass(frozen=True, slots=True)
class Export:
    """What is offered for export, the file's name that is proposed, the endings it may have, and what is written."""

    what: str
    name: str
    endings: tuple[str, ...]
    paper: Paper

    def prompt(self) -> Prompt:
        """Where it goes."""
        return Prompt(
            f"export {self.what}",
            f"a file ending in {' or '.join(self.endings)}",
            self.name,
            lambda text: check_path(typed_path(text), self.endings),
        )


class Page:
    """One page, with what it remembers while others are shown."""

    name: ClassVar[str]
    help: ClassVar[PageHelp]
    above: ClassVar[int] = -1
    """Which way one points to what stands above: where the newest stands first, that is the next one."""
    beside: ClassVar[tuple[str, ...]] = ()
    """Panels that it wants beside it: all knobs where one dials. What is said of the dialled values stands beside every
    page.
    """
    live: ClassVar[bool] = False
    """Whether it is about a load, and changes while that runs."""

    def drawing(self, work: "AtHand") -> Drawing:
        """What it shows now."""
        raise NotImplementedError

    def bring(self, work: "AtHand", hands: "Hands") -> None:
        """Fetch what it shows, where that is not here yet."""

    def points(self, work: "AtHand") -> bool:
        """Whether there is anything to point at."""
        return bool(work.view.trials)

    def point(self, work: "AtHand", step: int) -> None:
        """Point at the next thing, or the one before."""
        work.walk(step)

    def scroll(self, work: "AtHand", step: int, width: int) -> None:
        """Show what lies above or below."""

    def click(self, work: "AtHand", hands: "Hands", kind: str, which: int | str) -> None:
        """Something on it was clicked."""
        if kind == "named":
            work.dial.selected, work.cursor = work.dial.place_of(str(which)), None
        elif kind == "trial":
            work.point_at_number(int(which))
        hands.show()

    def next_step(self, work: "AtHand") -> Coming | None:
        """What comes next by what it shows; None: it is not asked for that."""
        return None

    def follow(self, work: "AtHand", hands: "Hands") -> bool:
        """Do what it says comes next, where that is no order; whether it did."""
        return False

    def export(self, work: "AtHand") -> Export:
        """What it can become.

        Raises:
            Refused: it shows nothing.
        """
        from tenaz.papers.exports import CellsPaper  # noqa: PLC0415 - paper is needed where something is written

        name = f"{work.view.rig.name}-{self.name}.svg"
        paper = CellsPaper(self.drawn(work), head_of(work.view, self.name))
        return Export(f"the {self.name}", name, PICTURES, paper)

    def drawn(self, work: "AtHand") -> Cells:
        """What it shows, as large as on paper."""
        return self.drawing(work)(PAPER_COLUMNS, PAPER_ROWS)


def head_of(view: "View", title: str, setpoint: Setpoint | None = None) -> PaperHead:
    """The head of a picture: at what is in force, or at another setpoint that it shows."""
    return head_at(title, view.stands, datetime.now(UTC), setpoint)
