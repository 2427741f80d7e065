"""A menu: letters, what each does, and why not."""

from collections.abc import Sequence
from dataclasses import dataclass

from tenaz.pictures.drawing.cells import Cells, clipped
from tenaz.pictures.drawing.marks import Role


@dataclass(frozen=True, slots=True)
class MenuLine:
    """A line: its letter, its words, what stands at the right (a key, or nothing), and why it makes no sense now."""

    letter: str
    words: str
    beside: str = ""
    why_not: str = ""


def draw_menu(lines: Sequence[MenuLine], width: int, height: int) -> Cells:
    """One under the other; those that make no sense now are faint, with the reason in place of the key."""
    cells = Cells(width, height)
    for row, line in enumerate(lines):
        dead = bool(line.why_not)
        cells.put(0, row, line.letter, Role.FAINT if dead else Role.LIT)
        cells.put(3, row, clipped(line.words, width - 3), Role.FAINT if dead else Role.TEXT)
        beside = line.why_not or line.beside
        room = width - 5 - min(len(line.words), width - 3)
        if beside and room > 0:
            cells.put_right(width, row, clipped(beside, room), Role.FAINT)
        cells.aim(0, row, width, ("letter", line.letter))
    return cells
