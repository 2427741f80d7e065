"""A sheet of cells on paper, as it stood on the screen, under its head: SVG, or PDF on a sheet lying on its side."""

from pathlib import Path

from tenaz.catalogues.writing import write_whole
from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.cells_svg import cells_to_svg
from tenaz.pictures.drawing.inked import inked
from tenaz.pictures.drawing.marks import Role
from tenaz.pictures.drawing.paper import check_path
from tenaz.pictures.drawing.paper_head import PaperHead, headed_leaf
from tenaz.press.size import PaperSize
from tenaz.press.typeset import as_pdf


def with_head(cells: Cells, head: PaperHead) -> Cells:
    """The sheet under its head, without what is empty below."""
    lines, used = head.lines, max((at for at, row in enumerate(cells.text().split("\n"), 1) if row.strip()), default=0)
    whole = Cells(max(cells.width, *(len(line) for line in lines)), used + len(lines) + 1)
    for row, line in enumerate(lines):
        whole.put(0, row, line, Role.TEXT if row == 0 else Role.FAINT)
    whole.paste(0, len(lines) + 1, cells)
    return whole


def export_cells(cells: Cells, head: PaperHead, path: Path, size: PaperSize = PaperSize.A4) -> None:
    """Write a sheet to ``path``; its ending says in which format.

    Raises:
        TenazError: an ending that is not known, or a file that cannot be written.
    """
    check_path(path)
    if path.suffix.lower() == ".svg":
        write_whole(path, cells_to_svg(with_head(cells, head), head.lines[0], size))
    else:
        drawn = inked("", cells, f"{head.title} of {head.rig}, as it stood on the screen")
        write_whole(path, as_pdf(headed_leaf(head, (drawn,)), size))
