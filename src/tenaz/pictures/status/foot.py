"""The foot of a page: the keys that act only on it."""

from collections.abc import Sequence

from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.marks import Role

GAP = 2


def put_foot(cells: Cells, row: int, keys: Sequence[tuple[str, str]]) -> None:
    """Keys with their words in one row, as many as have room."""
    column = 0
    for key, word in keys:
        length = len(key) + 1 + len(word)
        if column + length > cells.width:
            break
        cells.put(column, row, key, Role.TEXT)
        cells.put(column + len(key) + 1, row, word, Role.FAINT)
        column += length + GAP
