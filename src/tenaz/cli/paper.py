"""What a canvas shows, written as a file under the head of what is in force."""

from pathlib import Path
from typing import TYPE_CHECKING

from tenaz.cli.options import say

if TYPE_CHECKING:
    from tenaz.charts.cells import Cells
    from tenaz.workshop.view import View


def write_paper(title: str, view: "View", cells: "Cells", out: Path) -> None:
    """Write .svg or .pdf, and say where."""
    from tenaz.charts.cells_paper import export_cells
    from tenaz.charts.paper_head import paper_head
    from tenaz.core.evidence import evidence_at
    from tenaz.engine.clock import RealClock

    shown = evidence_at(view.in_force, view.index, view.rig)
    head = paper_head(title, view.rig, view.in_force, shown, RealClock().utc(), not view.bench.real)
    export_cells(cells, head, out)
    say(f"written: {out.absolute()}")
