"""The sheet in terminal cells: typed in line by line at the other machine, ticked off by key."""

from collections.abc import Collection
from dataclasses import dataclass

from tenaz.pictures.drawing.cells import Cells, clipped
from tenaz.pictures.drawing.marks import Role
from tenaz.pictures.sheet.model import SheetPicture, SheetRow

LABEL, VALUE, TIME, WAS, OTHER = 4, 20, 33, 46, 18
"""Columns: where each begins; the width of a compared setpoint's."""


LEAST_SAID = 12
"""Where less room is left, nothing is said rather than a stump."""


@dataclass(frozen=True, slots=True)
class Ticks:
    """Which lines are to be typed in, and which of them have been."""

    due: tuple[str, ...] = ()
    done: Collection[str] = ()

    @property
    def next(self) -> str | None:
        """The line to type in now."""
        return next((name for name in self.due if name not in self.done), None)


def draw_sheet(picture: SheetPicture, width: int, height: int, selected: str = "", ticks: Ticks | None = None) -> Cells:
    """Draw the stretch of the sheet around the line in hand; while it is typed in, around the next line."""
    cells = Cells(width, height)
    ticks = ticks or Ticks()
    title = picture.title
    if ticks.due:
        title += f" {len([name for name in ticks.due if name in ticks.done])} of {len(ticks.due)} typed in"
        title += " · ␣ ticks the next line, ⌫ takes one back" if ticks.next else " · all of them"
    cells.put(0, 0, title, Role.TEXT)
    for place, name in enumerate(picture.compared):
        cells.put(WAS + place * OTHER, 1, name[: OTHER - 1], Role.FAINT)
    lines = _lines(picture)
    follow = [("", None), ("to follow up", None), *((f"  {text}", None) for text in picture.follow_ups)]
    if picture.follow_ups:
        lines += follow
    at = next((n for n, (_, row) in enumerate(lines) if row is not None and row.name == (ticks.next or selected)), 0)
    room = max(1, height - 3)
    first = max(0, min(at - room // 2, len(lines) - room))
    for place, (heading, row) in enumerate(lines[first : first + room]):
        if row is None:
            cells.put(0, place + 2, heading, Role.FAINT)
        else:
            _row(cells, row, place + 2, row.name == selected, ticks, width)
    if first + room < len(lines):
        cells.put_right(width, height - 1, "more below ▾", Role.FAINT)
    return cells


def _lines(picture: SheetPicture) -> list[tuple[str, SheetRow | None]]:
    """Headings and rows in order."""
    lines: list[tuple[str, SheetRow | None]] = []
    group = ""
    for row in picture.rows:
        if row.group != group:
            group = row.group
            lines.append((group, None))
        lines.append(("", row))
    return lines


def _row(cells: Cells, row: SheetRow, at: int, selected: bool, ticks: Ticks, width: int) -> None:
    if row.name in ticks.due:
        done = row.name in ticks.done
        cells.put(0, at, "[x]" if done else "[ ]", Role.HELD if done else Role.LIT)
        if row.name == ticks.next:
            cells.put(3, at, "▸", Role.LIT)
    elif selected:
        cells.put(1, at, "▸", Role.LIT)
    role = Role.LIT if row.changed else Role.TEXT
    cells.aim(0, at, cells.width, ("named", row.name))
    cells.put(LABEL, at, row.label[: VALUE - LABEL - 1], Role.LIT if selected else Role.TEXT)
    cells.put_right(TIME - 1, at, row.value, role)
    if row.time_ns is not None:
        cells.put_right(WAS - 2, at, f"{row.time_ns:.2f} ns", Role.FAINT)
    column = WAS
    for other in row.others:
        cells.put(column, at, other.show(), Role.LIT if other.value != row.value else Role.FAINT)
        column += OTHER
    said = [f"was {row.was}"] if row.changed and not row.others else []
    said += row.notes
    said += [row.remark.brief] if row.remark else []
    said += [f"locked: {row.locked}"] if row.locked else []
    words = " · ".join(said)
    room = max(0, width - column)
    if room < LEAST_SAID:
        return
    role = Role.FAILED if row.remark else Role.LIT if row.changed else Role.UNKNOWN
    cells.put(column, at, clipped(words, room), role)
