"""What a page shows, written as a file under the head of what is in force."""

from pathlib import Path
from typing import TYPE_CHECKING

from tenaz.cli.kit.options import say

if TYPE_CHECKING:
    from tenaz.core.trials.stands import Stands
    from tenaz.pictures.drawing.cells import Cells
    from tenaz.pictures.drawing.paper_head import PaperHead


def paper_head_of(title: str, stands: "Stands") -> "PaperHead":
    """What stands on every picture: whose it is, of when, at which values, and what was shown there."""
    from tenaz.engine.clock import RealClock
    from tenaz.pictures.drawing.paper_head import head_at

    return head_at(title, stands, RealClock().utc())


def write_paper(title: str, stands: "Stands", cells: "Cells", out: Path) -> None:
    """Write .svg or .pdf, and say where."""
    from tenaz.pictures.drawing.cells_paper import export_cells
    from tenaz.workshop.reports.letterhead import our_paper

    export_cells(cells, paper_head_of(title, stands), out, our_paper())
    say(f"written: {out.absolute()}")
