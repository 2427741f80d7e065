"""The next step and why; or the question that the loop waits for; or what went wrong."""

from dataclasses import dataclass
from typing import TYPE_CHECKING

from tenaz.pictures.drawing.cells import Cells, wrapped
from tenaz.pictures.drawing.marks import NEXT, Role

if TYPE_CHECKING:
    from tenaz.core.ports.bench import Choice, Question

FOLLOW = "order('follow_next')"
"""What a click on the next step does."""

REASON_AT = 8
"""Column of the suggestion, behind the word *next*."""


@dataclass(frozen=True, slots=True)
class NextPicture:
    """Trouble stands above; under it a question, or the suggestion when nothing is asked."""

    headline: str = ""
    reason: str = ""
    trouble: str = ""
    question: "Question | None" = None


def rows_needed(picture: NextPicture, width: int) -> int:
    """How many lines the picture would like to have."""
    rows = len(_trouble_lines(picture, width))
    if picture.question is not None:
        return rows + 2 + len(picture.question.lines) + len(_answer_rows(picture.question, width))
    return rows + 1 + len(wrapped(picture.reason, width - REASON_AT))


def draw_next(picture: NextPicture, width: int, height: int) -> Cells:
    """Draw the trouble, and under it the question or else the suggestion."""
    cells = Cells(width, height)
    row = 0
    for line in _trouble_lines(picture, width):
        cells.put(0, row, line, Role.FAILED)
        row += 1
    if picture.question is not None:
        _draw_question(cells, picture.question, row)
        return cells
    if picture.headline:
        cells.put(0, row, f"{NEXT.sign} next", Role.LIT)
        cells.put(REASON_AT, row, picture.headline, Role.TEXT)
        cells.aim(0, row, width, ("key", FOLLOW))
    for line in wrapped(picture.reason, width - REASON_AT):
        row += 1
        cells.put(REASON_AT, row, line, Role.FAINT)
    return cells


def _trouble_lines(picture: NextPicture, width: int) -> list[str]:
    return [*wrapped(f"✗ {picture.trouble}", width), ""] if picture.trouble else []


def _draw_question(cells: Cells, question: "Question", top: int) -> None:
    cells.put(0, top, f"{question.station}: {question.prompt}", Role.LIT)
    answers = _answer_rows(question, cells.width)
    lines, room = question.lines, max(1, cells.height - top - 2 - len(answers))
    longest = max((len(line) for line in lines), default=0)
    for number, line in enumerate(lines):
        # A sheet too long for the panel goes on in the next column.
        column = 2 + number // room * (longest + 4)
        role = Role.LIT if line.startswith(("▸", "≠")) else Role.TEXT
        cells.put(column, top + 1 + number % room, line, role)
    for row, choices in enumerate(answers, start=cells.height - 1 - len(answers)):
        column = 0
        for choice in choices:
            cells.put(column, row, f" {choice.key} ", Role.LIT)
            cells.put(column + 4, row, choice.label, Role.TEXT)
            cells.aim(column, row, len(choice.label) + 5, ("answer", choice.key))
            column += _room_of(choice)


def _room_of(choice: "Choice") -> int:
    return len(choice.label) + 7


def _answer_rows(question: "Question", width: int) -> list[list["Choice"]]:
    """The answers, as many in a row as have room: none is cut off."""
    rows: list[list[Choice]] = [[]]
    for choice in question.choices:
        if rows[-1] and sum(map(_room_of, (*rows[-1], choice))) > width:
            rows.append([])
        rows[-1].append(choice)
    return rows
