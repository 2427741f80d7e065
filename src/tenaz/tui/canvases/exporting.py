"""Writing what a canvas shows: what it can become, and under which name."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from tenaz.catalogues.outside import typed_path
from tenaz.core.evidence.shown import evidence_at
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.knobs.timings.minima import Remark
from tenaz.core.rigs.rig import Rig
from tenaz.core.trials.trial import Trial
from tenaz.orders import Paper
from tenaz.papers.exports import CellsPaper, ClimbPaper, CyclePaper, SheetPaper
from tenaz.papers.setpoint_files import Sheet
from tenaz.papers.sheets import ENDINGS
from tenaz.papers.trial_files import ENDINGS as TRIAL_ENDINGS
from tenaz.papers.trial_files import TrialsPaper
from tenaz.pictures.climb.model import ClimbPicture
from tenaz.pictures.cycle.model import CyclePicture
from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.paper import PICTURES, check_path
from tenaz.pictures.drawing.paper_head import PaperHead, paper_head
from tenaz.tui.screens.prompt import Prompt
from tenaz.workshop.looking.session_paper import session_paper
from tenaz.workshop.looking.view import View

PAPER_COLUMNS, PAPER_ROWS = 120, 40
"""A canvas that is exported as it stands in the terminal gets so many cells."""


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


def head_of(view: View, title: str, setpoint: Setpoint | None = None) -> PaperHead:
    """The head of a picture: at what is in force, or at another setpoint that it shows."""
    at = setpoint or view.in_force
    return paper_head(
        title, view.rig, at, evidence_at(at, view.index, view.rig), datetime.now(UTC), not view.bench.real
    )


def climb_export(picture: ClimbPicture, view: View) -> Export:
    """The climb as a picture."""
    name, head = f"{picture.rig}-{picture.knob.name}.svg", head_of(view, f"{picture.knob.label}, {picture.load}")
    return Export("the climb", name, PICTURES, ClimbPaper(picture, head))


def cycle_export(picture: CyclePicture, view: View, setpoint: Setpoint) -> Export:
    """The row cycle as a picture, at the setpoint that it shows."""
    head = head_of(view, f"one row cycle at {picture.rate_mts} MT/s", setpoint)
    name = f"{view.rig.name}-cycle-{picture.rate_mts}.svg"
    return Export("the row cycle", name, PICTURES, CyclePaper(picture, head))


def sheet_export(view: View, setpoint: Setpoint, drawn: Cells, out_of_reach: tuple[Remark, ...] = ()) -> Export:
    """The dialled sheet with the notes on its values, against what is in force; ``drawn`` as the canvas shows it."""
    rig = view.rig
    notes = tuple(note for note in view.notes if note.value == setpoint[note.knob])
    sheet = Sheet(setpoint, rig=rig.name, memory=rig.family, notes=notes, out_of_reach=out_of_reach)
    name = f"{rig.name}-sheet.toml"
    written, head = SheetPaper(rig, sheet, view.in_force), head_of(view, "the sheet", setpoint)
    return Export("the sheet", name, (*ENDINGS, ".svg"), PictureOr(written, ".svg", drawn, head))


def day_export(drawing: Callable[[int, int], Cells], view: View) -> Export:
    """The day: by itself as a picture, with all of the session as a PDF."""
    head, name = head_of(view, "the day"), f"{view.rig.name}-session.pdf"
    cells = drawing(PAPER_COLUMNS, PAPER_ROWS)
    return Export("the session (.pdf: all of it, .svg: this page)", name, PICTURES, DayPaper(cells, head, view))


@dataclass(frozen=True, slots=True)
class DayPaper:
    """The day, or with it the whole session."""

    cells: Cells
    head: PaperHead
    view: View

    def write(self, path: Path) -> None:
        """Write the page as SVG, or everything as PDF."""
        if path.suffix.lower() == ".pdf":
            session_paper(self.view).write(path)
        else:
            CellsPaper(self.cells, self.head).write(path)


@dataclass(frozen=True, slots=True)
class PictureOr:
    """Something that is written otherwise, and with one ending as the picture of its canvas."""

    paper: Paper
    ending: str
    cells: Cells
    head: PaperHead

    def write(self, path: Path) -> None:
        """Write it as its ending says."""
        if path.suffix.lower() == self.ending:
            CellsPaper(self.cells, self.head).write(path)
        else:
            self.paper.write(path)


def book_export(view: View, drawn: Cells, rows: tuple[tuple[Trial, Rig], ...]) -> Export:
    """The trials that are looked for, as a table; or as the canvas shows them."""
    head = head_of(view, "trials in the book")
    endings = (*TRIAL_ENDINGS, *PICTURES)
    paper = PictureOr(PictureOr(TrialsPaper(rows), ".svg", drawn, head), ".pdf", drawn, head)
    return Export(f"{len(rows)} trials", f"{view.rig.name}-trials.csv", endings, paper)


def cells_export(drawing: Callable[[int, int], Cells], what: str, view: View) -> Export:
    """A canvas as it stands in the terminal, under its head."""
    head, name = head_of(view, what), f"{view.rig.name}-{what}.svg"
    return Export(f"the {what}", name, PICTURES, CellsPaper(drawing(PAPER_COLUMNS, PAPER_ROWS), head))
