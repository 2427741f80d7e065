"""A sheet of cells on paper, as it stood on the screen, under its head: SVG, or PDF with letters that stay letters."""

from pathlib import Path

from tenaz.catalogues.writing import write_whole
from tenaz.charts.cells import Cells
from tenaz.charts.cells_svg import cells_to_svg
from tenaz.charts.marks import Role
from tenaz.charts.paper import check_path, figure_to
from tenaz.charts.paper_head import PaperHead
from tenaz.charts.roles import LIGHT as INK

CELL_WIDTH_IN, CELL_HEIGHT_IN = 0.072, 0.15
LETTER_PT = 8.6
"""A letter of the fixed-width font that is as wide as a cell."""


def with_head(cells: Cells, head: PaperHead) -> Cells:
    """The sheet under its head."""
    lines = head.lines
    whole = Cells(max(cells.width, *(len(line) for line in lines)), cells.height + len(lines) + 1)
    for row, line in enumerate(lines):
        whole.put(0, row, line, Role.TEXT if row == 0 else Role.FAINT)
    whole.paste(0, len(lines) + 1, cells)
    return whole


def export_cells(cells: Cells, head: PaperHead, path: Path) -> None:
    """Write a sheet to ``path``; its ending says in which format.

    Raises:
        TenazError: an ending that is not known, or a file that cannot be written.
    """
    check_path(path)
    whole = with_head(cells, head)
    if path.suffix.lower() == ".svg":
        write_whole(path, cells_to_svg(whole, head.lines[0]))
        return
    width, height = (whole.width + 4) * CELL_WIDTH_IN, (whole.height + 3) * CELL_HEIGHT_IN
    with figure_to(path, width, height, layout=None) as figure:
        for row, runs in enumerate(whole.rows()):
            column = 0
            for run in runs:
                words = run.text.strip()
                at = column + len(run.text) - len(run.text.lstrip())
                column += len(run.text)
                if words:
                    figure.text(
                        (at + 2) * CELL_WIDTH_IN / width,
                        1 - (row + 2) * CELL_HEIGHT_IN / height,
                        words,
                        family="DejaVu Sans Mono",
                        size=LETTER_PT,
                        color=INK[run.role],
                        va="baseline",
                    )
