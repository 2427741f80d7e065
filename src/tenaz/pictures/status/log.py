"""The merged log: all that was said, by whom, and when; the newest line last."""

from collections.abc import Sequence

from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.marks import Role


def draw_log(lines: Sequence[tuple[str, str, str]], width: int, height: int) -> Cells:
    """Draw as many of the newest lines (time, source, text) as there is room for."""
    cells = Cells(width, height)
    shown = lines[-height:] if height else ()
    for row, (at, source, text) in enumerate(shown):
        cells.put(0, row, at, Role.FAINT)
        cells.put(10, row, source, Role.MEASURED)
        cells.put(20, row, text, Role.TEXT if row == len(shown) - 1 else Role.FAINT)
    return cells
