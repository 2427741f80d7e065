"""A list to pick from, under a line to type into: what is in hand stands in the line, as one would type it."""

from collections.abc import Sequence
from dataclasses import dataclass

from tenaz.pictures.drawing.cells import Cells, clipped, wrapped
from tenaz.pictures.drawing.marks import Role

ABOUT_ROWS = 3
LONGEST_TEXT = 30


@dataclass(frozen=True, slots=True)
class Pick:
    """One of the list: what is typed for it, what stands beside it, and what is told of it while it is in hand."""

    text: str
    beside: str = ""
    about: str = ""
    role: Role = Role.FAINT


def narrowed(picks: Sequence[Pick], typed: str) -> tuple[Pick, ...]:
    """Those whose text begins with what was typed, then those whose text holds it; else those that hold it at all; all
    where none does, or nothing was typed.
    """
    wanted = typed.strip().lower()
    if not wanted:
        return tuple(picks)
    begin = [pick for pick in picks if pick.text.lower().startswith(wanted)]
    hold = [pick for pick in picks if pick not in begin and wanted in pick.text.lower()]
    beside = [pick for pick in picks if wanted in pick.beside.lower()]
    return tuple(begin + hold) or tuple(beside) or tuple(picks)


def draw_picks(picks: Sequence[Pick], at: int | None, width: int, height: int) -> Cells:
    """The list, the one in hand marked, and under it what is told of that one."""
    cells = Cells(width, height)
    room = max(1, height - ABOUT_ROWS - 1)
    first = 0 if at is None else max(0, min(at - room // 2, len(picks) - room))
    column = 2 + min(LONGEST_TEXT, max((len(pick.text) for pick in picks), default=0)) + 2
    for row, pick in enumerate(picks[first : first + room]):
        mine = first + row == at
        cells.put(0, row, "▸" if mine else " ", Role.LIT)
        cells.put(2, row, clipped(pick.text, column - 3), Role.LIT if mine else Role.TEXT)
        cells.put(column, row, clipped(pick.beside, width - column), pick.role)
        cells.aim(0, row, width, ("pick", first + row))
    hidden = len(picks) - room
    if hidden > 0:
        cells.put_right(width, min(room, len(picks)), f" {hidden} more: ↑ ↓", Role.LIT)
    about = picks[at].about if at is not None and at < len(picks) else ""
    for row, line in enumerate(wrapped(about, width)[:ABOUT_ROWS]):
        cells.put(0, min(room, len(picks)) + 1 + row, line, Role.MEASURED)
    return cells
