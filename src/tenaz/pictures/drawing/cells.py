"""A sheet of terminal cells: signs with roles, no colours yet."""

from dataclasses import dataclass

from tenaz.core.base.plain_text import plain
from tenaz.pictures.drawing.marks import Role


@dataclass(frozen=True, slots=True)
class CellRun:
    """Neighbouring cells of one role."""

    text: str
    role: Role


Target = tuple[str, int | str]
"""What a click is meant for: a kind of thing, and which one of its kind."""


class Cells:
    """Width × height cells; what is put outside is dropped."""

    def __init__(self, width: int, height: int) -> None:
        self.width = max(0, width)
        self.height = max(0, height)
        self._signs = [[" "] * self.width for _ in range(self.height)]
        self._roles = [[Role.TEXT] * self.width for _ in range(self.height)]
        self._targets: list[tuple[range, range, Target]] = []

    def put(self, column: int, row: int, text: str, role: Role = Role.TEXT) -> None:
        """Write text from a cell to the right."""
        if not 0 <= row < self.height:
            return
        for offset, sign in enumerate(plain(text)):
            if 0 <= column + offset < self.width:
                self._signs[row][column + offset] = sign
                self._roles[row][column + offset] = role

    def put_right(self, column: int, row: int, text: str, role: Role = Role.TEXT) -> None:
        """Write text that ends just before a column."""
        self.put(column - len(text), row, text, role)

    def aim(self, column: int, row: int, width: int, target: Target, height: int = 1) -> None:
        """What a click on some cells is meant for; what is aimed later lies above."""
        self._targets.append((range(column, column + width), range(row, row + height), target))

    def target_at(self, column: int, row: int) -> Target | None:
        """What a click on a cell is meant for."""
        return next((t for columns, rows, t in reversed(self._targets) if column in columns and row in rows), None)

    def paste(self, column: int, row: int, other: "Cells") -> None:
        """Lay another sheet over this one, its upper left corner at a cell."""
        for columns, rows, target in other._targets:
            self.aim(column + columns.start, row + rows.start, len(columns), target, len(rows))
        for line, runs in enumerate(other.rows()):
            at = column
            for run in runs:
                self.put(at, row + line, run.text, run.role)
                at += len(run.text)

    def empty_at(self, column: int, row: int) -> bool:
        """Whether nothing is drawn there yet."""
        return 0 <= row < self.height and 0 <= column < self.width and self._signs[row][column] == " "

    def rows(self) -> list[list[CellRun]]:
        """The sheet as runs of one role, row by row."""
        result = []
        for signs, roles in zip(self._signs, self._roles, strict=True):
            runs: list[CellRun] = []
            start = 0
            for end in range(1, self.width + 1):
                if end == self.width or roles[end] is not roles[start]:
                    runs.append(CellRun("".join(signs[start:end]), roles[start]))
                    start = end
            result.append(runs)
        return result

    def text(self) -> str:
        """The sheet as plain text."""
        return "\n".join("".join(row).rstrip() for row in self._signs)


def clipped(text: str, room: int) -> str:
    """A text in so many columns; where it is longer, a sign at its end says so."""
    return text if len(text) <= room else f"{text[: max(0, room - 1)]}…"


def wrapped(text: str, width: int) -> list[str]:
    """Break text into lines at spaces."""
    lines: list[str] = []
    for word in text.split():
        if lines and len(lines[-1]) + 1 + len(word) <= width:
            lines[-1] += f" {word}"
        else:
            lines.append(word)
    return lines
