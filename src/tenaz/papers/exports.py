"""What a canvas can be written as: frozen values, each with what it takes to write it."""

from dataclasses import dataclass
from pathlib import Path

from tenaz.charts.cells import Cells
from tenaz.charts.cells_paper import export_cells
from tenaz.charts.climb import ClimbPicture
from tenaz.charts.climb_paper import export_climb
from tenaz.charts.cycle import CyclePicture
from tenaz.charts.cycle_paper import export_cycle
from tenaz.charts.paper_head import PaperHead
from tenaz.core.rigs import Rig
from tenaz.core.setpoints import Setpoint
from tenaz.papers.setpoint_files import Sheet
from tenaz.papers.sheets import write_sheet


@dataclass(frozen=True, slots=True)
class ClimbPaper:
    """A climb as a picture."""

    picture: ClimbPicture
    head: PaperHead

    def write(self, path: Path) -> None:
        """Write it as SVG or PDF."""
        export_climb(self.picture, path, self.head)


@dataclass(frozen=True, slots=True)
class CyclePaper:
    """A row cycle as a picture."""

    picture: CyclePicture
    head: PaperHead

    def write(self, path: Path) -> None:
        """Write it as SVG or PDF."""
        export_cycle(self.picture, path, self.head)


@dataclass(frozen=True, slots=True)
class SheetPaper:
    """A sheet, against what was in force before."""

    rig: Rig
    sheet: Sheet
    before: Setpoint

    def write(self, path: Path) -> None:
        """Write it in the form that the file's ending says."""
        write_sheet(self.rig, self.sheet, path, self.before)


@dataclass(frozen=True, slots=True)
class CellsPaper:
    """A canvas as it stood in the terminal, under its head."""

    cells: Cells
    head: PaperHead

    def write(self, path: Path) -> None:
        """Write it as SVG or PDF."""
        export_cells(self.cells, self.head, path)
