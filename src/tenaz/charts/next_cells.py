"""The next step and why; or the question that the loop waits for; or what went wrong."""

from dataclasses import dataclass

from tenaz.charts.cells import Cells, wrapped
from tenaz.charts.marks import NEXT, Role
from tenaz.core.ports import Question


@dataclass(frozen=True, slots=True)
class NextPicture:
    """A question goes before trouble, trouble before the suggestion."""

    headline: str = ""
    reason: str = ""
    trouble: str = ""
    question: Question | None = None


def draw_next(picture: NextPicture, width: int, height: int) -> Cells:
    """Draw whichever of the three matters most."""
    cells = Cells(width, height)
    if picture.question is not None:
        _draw_question(cells, picture.question)
        return cells
    row = 0
    if picture.trouble:
        for line in wrapped(f"✗ {picture.trouble}", cells.width):
            cells.put(0, row, line, Role.FAILED)
            row += 1
        row += 1
    if picture.headline:
        cells.put(0, row, f"{NEXT.sign} next", Role.LIT)
        cells.put(8, row, picture.headline, Role.TEXT)
    for line in wrapped(picture.reason, cells.width - 8):
        row += 1
        cells.put(8, row, line, Role.FAINT)
    return cells


def _draw_question(cells: Cells, question: Question) -> None:
    cells.put(0, 0, f"{question.station}: {question.prompt}", Role.LIT)
    room = cells.height - 3
    lines = question.lines
    half = (len(lines) + 1) // 2 if len(lines) > room else len(lines)
    longest = max((len(line) for line in lines), default=0)
    for number, line in enumerate(lines):
        # A long sheet goes on in a second column beside the first.
        column = 2 if number < half else longest + 8
        changed = line.startswith(("▸", "≠"))
        cells.put(column, 1 + number % max(1, half), line, Role.LIT if changed else Role.TEXT)
    column = 0
    for choice in question.choices:
        cells.put(column, cells.height - 2, f" {choice.key} ", Role.LIT)
        cells.put(column + 4, cells.height - 2, choice.label, Role.TEXT)
        column += len(choice.label) + 7
