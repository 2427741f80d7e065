"""A sheet of cells for paper: each role in the ink that it has on a light ground."""

from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.roles import LIGHT
from tenaz.press.leaf import Drawing


def inked(heading: str, cells: Cells, alt: str, breaks: bool = False) -> Drawing:
    """Runs with their inks; empty rows at the end are left out."""
    rows = [tuple((run.text, LIGHT[run.role]) for run in row) for row in cells.rows()]
    while rows and not any(text.strip() for text, _ in rows[-1]):
        rows.pop()
    return Drawing(heading, tuple(rows), cells.width, alt, breaks)
