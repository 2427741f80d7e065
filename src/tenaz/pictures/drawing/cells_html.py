"""A sheet of cells as the inside of an HTML ``pre``: colours as on paper, all text as text."""

from html import escape

from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.roles import LIGHT


def cells_to_html(cells: Cells) -> str:
    """Rows of coloured runs."""
    lines = []
    for row in cells.rows():
        runs = (f'<span style="color:{LIGHT[run.role]}">{escape(run.text)}</span>' for run in row if run.text)
        lines.append("".join(runs).rstrip())
    return "\n".join(lines)
