"""What a page shows that has nothing to show yet, or too little room."""

from tenaz.pictures.drawing.cells import Cells, wrapped
from tenaz.pictures.drawing.marks import Role


def draw_blank(cells: Cells, told: str, key: str = "") -> Cells:
    """Words, and under them the key that begins."""
    row = 0
    for text, role in ((told, Role.FAINT), ("", Role.FAINT), (key, Role.TEXT)):
        for line in wrapped(text, cells.width) or [""]:
            cells.put(0, row, line, role)
            row += 1
    return cells
