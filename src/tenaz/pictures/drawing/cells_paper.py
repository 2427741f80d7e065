"""A sheet of cells on paper, as it stood on the screen, under its head: SVG, or PDF with letters that stay letters."""

import io
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from tenaz.catalogues.writing import write_whole
from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.cells_svg import cells_to_svg
from tenaz.pictures.drawing.marks import Role
from tenaz.pictures.drawing.paper import check_path, figure_to
from tenaz.pictures.drawing.paper_head import PaperHead
from tenaz.pictures.drawing.roles import LIGHT as INK

if TYPE_CHECKING:
    from matplotlib.figure import Figure

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
    width, height = _size_in(whole)
    with figure_to(path, width, height, layout=None) as figure:
        _draw(figure, whole, width, height)


def export_pages(pages: Sequence[tuple[Cells, PaperHead]], path: Path) -> None:
    """Write sheets to one PDF, a page each, numbered at its foot.

    Raises:
        TenazError: an ending that is none of a PDF's, or a file that cannot be written.
    """
    check_path(path, (".pdf",))
    import matplotlib as mpl  # noqa: PLC0415 - start-up must not pay for it
    from matplotlib.backends.backend_pdf import PdfPages  # noqa: PLC0415
    from matplotlib.figure import Figure  # noqa: PLC0415

    drawn = io.BytesIO()
    with (
        mpl.rc_context({"pdf.fonttype": 42, "font.family": "DejaVu Sans Mono"}),
        PdfPages(drawn, metadata={"CreationDate": None}) as book,
    ):
        for number, (cells, head) in enumerate(pages, 1):
            whole = with_head(cells, head)
            paged = Cells(whole.width, whole.height + 2)
            paged.paste(0, 0, whole)
            paged.put_right(paged.width, paged.height - 1, f"{number} of {len(pages)}", Role.FAINT)
            width, height = _size_in(paged)
            figure = Figure(figsize=(width, height))
            _draw(figure, paged, width, height)
            book.savefig(figure)
    write_whole(path, drawn.getvalue())


def _size_in(whole: Cells) -> tuple[float, float]:
    return (whole.width + 4) * CELL_WIDTH_IN, (whole.height + 3) * CELL_HEIGHT_IN


def _draw(figure: "Figure", whole: Cells, width: float, height: float) -> None:
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
                    parse_math=False,
                )
