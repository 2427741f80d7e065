"""The strip of pages: which there are, and which one is in sight."""

from collections.abc import Sequence

from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.marks import Role

MORE = "…"


def draw_pages(names: Sequence[str], shown: str, width: int) -> Cells:
    """One line; the page in sight stands between brackets, so that it can be told apart without colour. Where not all
    have room, those on both sides of it; a click on one goes there.
    """
    cells = Cells(width, 1)
    first, last = _in_room(names, names.index(shown), width - 2 * (len(MORE) + 1))
    column = 0
    if first:
        cells.put(column, 0, MORE, Role.FAINT)
        column += len(MORE) + 1
    for name in names[first:last]:
        here = name == shown
        cells.put(column, 0, f"[{name}]" if here else f" {name} ", Role.LIT if here else Role.FAINT)
        cells.aim(column, 0, len(name) + 2, ("key", f"order('show_page', '{name}')"))
        column += len(name) + 2
    if last < len(names):
        cells.put(column, 0, MORE, Role.FAINT)
    return cells


def _in_room(names: Sequence[str], at: int, room: int) -> tuple[int, int]:
    """From which to before which page there is room, the one in sight among them: about as many on each side."""
    first, last, taken = at, at + 1, len(names[at]) + 2
    while first > 0 or last < len(names):
        before = first > 0 and (at - first <= last - at or last == len(names))
        taken += len(names[first - 1] if before else names[last]) + 2
        if taken > room:
            break
        first, last = (first - 1, last) if before else (first, last + 1)
    return first, last
