"""What a page can be written as: frozen values, each with what it takes to write it."""

from dataclasses import dataclass
from pathlib import Path
from typing import Protocol

from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.rigs.rig import Rig
from tenaz.papers.setpoint_files import Sheet
from tenaz.papers.sheets import write_sheet
from tenaz.pictures.climb.model import ClimbPicture
from tenaz.pictures.climb.paper import export_climb
from tenaz.pictures.cycle.model import CyclePicture
from tenaz.pictures.cycle.paper import export_cycle
from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.cells_paper import export_cells
from tenaz.pictures.drawing.paper_head import PaperHead
from tenaz.press.size import PaperSize


class Paper(Protocol):
    """Something that can be written to a file; a frozen value."""

    def write(self, path: Path, size: PaperSize = PaperSize.A4) -> None:
        """Write it."""
        ...


@dataclass(frozen=True, slots=True)
class ClimbPaper:
    """A climb as a picture."""

    picture: ClimbPicture
    head: PaperHead

    def write(self, path: Path, size: PaperSize = PaperSize.A4) -> None:
        """Write it as SVG or PDF."""
        export_climb(self.picture, path, self.head, size)


@dataclass(frozen=True, slots=True)
class CyclePaper:
    """A row cycle as a picture."""

    picture: CyclePicture
    head: PaperHead

    def write(self, path: Path, size: PaperSize = PaperSize.A4) -> None:
        """Write it as SVG or PDF."""
        export_cycle(self.picture, path, self.head, size)


@dataclass(frozen=True, slots=True)
class SheetPaper:
    """A sheet, against what was in force before."""

    rig: Rig
    sheet: Sheet
    before: Setpoint

    def write(self, path: Path, size: PaperSize = PaperSize.A4) -> None:
        """Write it in the form that the file's ending says."""
        write_sheet(self.rig, self.sheet, path, self.before, size)


@dataclass(frozen=True, slots=True)
class CellsPaper:
    """A page as it stood in the terminal, under its head."""

    cells: Cells
    head: PaperHead

    def write(self, path: Path, size: PaperSize = PaperSize.A4) -> None:
        """Write it as SVG or PDF."""
        export_cells(self.cells, self.head, path, size)


@dataclass(frozen=True, slots=True)
class PictureOr:
    """Something that is written otherwise, and with these endings as the picture of its page."""

    paper: Paper
    endings: tuple[str, ...]
    cells: Cells
    head: PaperHead

    def write(self, path: Path, size: PaperSize = PaperSize.A4) -> None:
        """Write it as its ending says."""
        if path.suffix.lower() in self.endings:
            export_cells(self.cells, self.head, path, size)
        else:
            self.paper.write(path, size)
