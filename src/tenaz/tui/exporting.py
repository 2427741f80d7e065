"""Writing what a canvas shows: which files it can become, and what writes them."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from tenaz.catalogues.outside import typed_path
from tenaz.charts.cells import Cells
from tenaz.charts.cells_paper import export_cells
from tenaz.charts.climb import ClimbPicture
from tenaz.charts.climb_paper import export_climb
from tenaz.charts.cycle import CyclePicture
from tenaz.charts.cycle_paper import export_cycle
from tenaz.charts.paper import PICTURES, check_path
from tenaz.charts.paper_head import PaperHead, paper_head
from tenaz.core.evidence import evidence_at
from tenaz.core.setpoints import Setpoint
from tenaz.core.timings.minima import Remark
from tenaz.tui.screens.prompt import Prompt
from tenaz.workshop.setpoint_files import Sheet
from tenaz.workshop.sheets import ENDINGS, write_sheet
from tenaz.workshop.view import View

PAPER_COLUMNS, PAPER_ROWS = 120, 40
"""A canvas that is exported as it stands in the terminal gets so many cells."""


@dataclass(frozen=True, slots=True)
class Export:
    """What is offered for export, the file's name that is proposed, the endings it may have, and what writes it."""

    what: str
    name: str
    endings: tuple[str, ...]
    write: Callable[[Path], None]

    def prompt(self) -> Prompt:
        """Where it goes."""
        return Prompt(
            f"export {self.what}",
            f"a file ending in {' or '.join(self.endings)}",
            self.name,
            lambda text: check_path(typed_path(text), self.endings),
        )

    def write_to(self, text: str) -> str:
        """Write it; says where it went."""
        path = typed_path(text)
        self.write(path)
        return f"written: {path.absolute()}"


def head_of(view: View, title: str, setpoint: Setpoint | None = None) -> PaperHead:
    """The head of a picture: at what is in force, or at another setpoint that it shows."""
    at = setpoint or view.in_force
    return paper_head(title, view.rig, at, evidence_at(at, view.trials, view.rig.purpose), datetime.now(UTC))


def climb_export(picture: ClimbPicture, view: View) -> Export:
    """The climb as a picture."""
    name, head = f"{picture.rig}-{picture.knob.name}.svg", head_of(view, f"{picture.knob.label}, {picture.load}")
    return Export("the climb", name, PICTURES, lambda path: export_climb(picture, path, head))


def cycle_export(picture: CyclePicture, view: View, setpoint: Setpoint) -> Export:
    """The row cycle as a picture, at the setpoint that it shows."""
    head = head_of(view, f"one row cycle at {picture.rate_mts} MT/s", setpoint)
    name = f"{view.rig.name}-cycle-{picture.rate_mts}.svg"
    return Export("the row cycle", name, PICTURES, lambda path: export_cycle(picture, path, head))


def sheet_export(view: View, setpoint: Setpoint, out_of_reach: tuple[Remark, ...] = ()) -> Export:
    """The dialled sheet with the notes on its values, against what is in force."""
    rig = view.rig
    notes = tuple(note for note in view.notes if note.value == setpoint[note.knob])
    sheet = Sheet(setpoint, rig=rig.name, memory=rig.family, notes=notes, out_of_reach=out_of_reach)
    name = f"{rig.name}-sheet.toml"
    return Export("the sheet", name, ENDINGS, lambda path: write_sheet(rig, sheet, path, view.in_force))


def cells_export(drawing: Callable[[int, int], Cells], what: str, view: View) -> Export:
    """A canvas as it stands in the terminal, under its head."""
    head, name = head_of(view, what), f"{view.rig.name}-{what}.svg"
    return Export(
        f"the {what}", name, PICTURES, lambda path: export_cells(drawing(PAPER_COLUMNS, PAPER_ROWS), head, path)
    )
