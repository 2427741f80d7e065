"""A report as pages of A4 or Letter: PDF with letters that stay letters, their font in it, numbered at the foot."""

import io
from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING, Any

from tenaz.core.base.plain_text import plain, plain_lines
from tenaz.papers.report import Edition, Fact, Picture, Report, Words, blocks
from tenaz.pictures.drawing.marks import Role
from tenaz.pictures.drawing.roles import LIGHT as INK

if TYPE_CHECKING:
    from contextlib import AbstractContextManager

    from matplotlib.figure import Figure

POINTS = 72.0
MARGIN = 54.0
LINE = 1.42
"""From line to line, in heights of letters."""
BODY, SMALL, HEADING, TITLE = 10.0, 8.0, 12.0, 17.0
NAME_PART, VALUE_PART = 0.34, 0.42
"""Of a table's width: what a figure is called, what it is; the rest says what it rests on."""
LETTERS, FIXED = "DejaVu Sans", "DejaVu Sans Mono"
BOLD_PART = 0.86
FIXED_ASPECT = 0.602
"""Width of a letter of the fixed font, in heights."""
RED = INK[Role.FAILED]


class Paper(StrEnum):
    """Sizes of paper."""

    A4 = "a4"
    LETTER = "letter"

    @property
    def points(self) -> tuple[float, float]:
        """Width and height."""
        return (595.28, 841.89) if self is Paper.A4 else (612.0, 792.0)


@dataclass(frozen=True, slots=True)
class _Piece:
    """A line of one page: pieces of text from the left, in points."""

    x: float
    text: str
    size: float
    color: str
    family: str = LETTERS
    bold: bool = False


@dataclass(frozen=True, slots=True)
class _Line:
    """Pieces side by side, the height that they take, and whether the next line should be on the same page."""

    pieces: tuple[_Piece, ...]
    height: float
    with_next: bool = False


def as_pdf(report: Report, edition: Edition, paper: Paper = Paper.A4) -> bytes:
    """All pages."""
    from matplotlib.backends.backend_pdf import PdfPages  # noqa: PLC0415 - start-up must not pay for it

    drawn = io.BytesIO()
    with _letters(), PdfPages(drawn, metadata={"CreationDate": None, "Title": plain(report.title)}) as book:
        for page in _pages(report, edition, paper):
            book.savefig(page)
    return drawn.getvalue()


def as_png(report: Report, edition: Edition, page: int = 0, paper: Paper = Paper.A4, dots_an_inch: int = 80) -> bytes:
    """One page as a picture, to be shown where no PDF is."""
    drawn = io.BytesIO()
    with _letters():
        pages = _pages(report, edition, paper)
        pages[min(page, len(pages) - 1)].savefig(drawn, format="png", dpi=dots_an_inch, metadata={"Software": None})
    return drawn.getvalue()


def _letters() -> "AbstractContextManager[None]":
    import matplotlib as mpl  # noqa: PLC0415

    settings: Any = {"pdf.fonttype": 42, "font.family": LETTERS, "text.parse_math": False}
    found: AbstractContextManager[None] = mpl.rc_context(settings)
    return found


def _pages(report: Report, edition: Edition, paper: Paper) -> "list[Figure]":
    width, height = paper.points
    pages = _paged(_lines(report, edition, width - 2 * MARGIN, _Widths()), height - 2 * MARGIN - 2 * BODY)
    foot = f"{plain(report.title)} · {report.at_utc:%Y-%m-%d} · page"
    return [_drawn(page, f"{foot} {number} of {len(pages)}", paper) for number, page in enumerate(pages, 1)]


class _Widths:
    """How wide a text is in points."""

    def __init__(self) -> None:
        from matplotlib.font_manager import FontProperties  # noqa: PLC0415
        from matplotlib.textpath import TextToPath  # noqa: PLC0415

        self._to_path, self._properties = TextToPath(), FontProperties
        self._known: dict[tuple[str, float], float] = {}

    def of(self, text: str, size: float) -> float:
        """Of one line."""
        if (text, size) not in self._known:
            font: Any = self._properties(family=LETTERS, size=size)
            width, _, _ = self._to_path.get_text_width_height_descent(text, font, False)
            self._known[text, size] = float(width)
        return self._known[text, size]

    def wrapped(self, text: str, size: float, room: float) -> list[str]:
        """Broken at spaces; a word that is wider than the room is broken where the room ends."""
        lines: list[str] = []
        for word in (part for long in text.split() for part in self._parts(long, size, room)):
            if lines and self.of(f"{lines[-1]} {word}", size) <= room:
                lines[-1] += f" {word}"
            else:
                lines.append(word)
        return lines

    def _parts(self, word: str, size: float, room: float) -> list[str]:
        if self.of(word, size) <= room:
            return [word]
        most = max(1, int(len(word) * room / self.of(word, size)) - 1)
        return [word[at : at + most] for at in range(0, len(word), most)]


def _lines(report: Report, edition: Edition, room: float, widths: _Widths) -> list[_Line]:
    found = [
        _Line((_Piece(0, plain(report.title), TITLE, INK[Role.TEXT], bold=True),), TITLE * LINE, True),
        _Line((_Piece(0, plain(report.dated), SMALL, INK[Role.FAINT]),), SMALL * 2.6, True),
    ]
    for block in blocks(report, edition):
        match block:
            case Words():
                found += _words(block, room, widths)
            case Picture():
                found += _picture(block, room)
            case (section, facts):
                found += [_heading(section), *(line for fact in facts for line in _fact(fact, room, widths))]
        found.append(_Line((), BODY * 0.7))
    return found


def _heading(text: str) -> _Line:
    return _Line((_Piece(0, plain(text), HEADING, INK[Role.LIT], bold=True),), HEADING * 1.6, True)


def _words(block: Words, room: float, widths: _Widths) -> list[_Line]:
    color = RED if block.red else INK[Role.TEXT]
    lines = [_heading(block.heading)] if block.heading else []
    if "\n" in block.text:
        # A sheet: as it is typed.
        return lines + [
            _Line((_Piece(0, line, SMALL, color, FIXED),), SMALL * 1.3) for line in plain_lines(block.text).split("\n")
        ]
    # Bold letters are wider than those that were measured.
    for line in widths.wrapped(plain(block.text), BODY, room * (BOLD_PART if block.red else 1.0)):
        lines.append(_Line((_Piece(0, line, BODY, color, bold=block.red),), BODY * LINE))
    return lines


def _fact(fact: Fact, room: float, widths: _Widths) -> list[_Line]:
    """Name, value, and what it rests on, side by side."""
    columns = (
        (0.0, NAME_PART, plain(fact.name), INK[Role.TEXT]),
        (NAME_PART, VALUE_PART, plain(f"{fact.value} {fact.unit}".strip()), INK[Role.TEXT]),
        (NAME_PART + VALUE_PART, 1 - NAME_PART - VALUE_PART, plain(fact.rests_on), INK[Role.FAINT]),
    )
    broken = [widths.wrapped(text, SMALL, part * room - 8) for _, part, text, _ in columns]
    lines = []
    for at in range(max(1, *map(len, broken))):
        pieces = tuple(
            _Piece(left * room, texts[at], SMALL, color)
            for (left, _, _, color), texts in zip(columns, broken, strict=True)
            if at < len(texts)
        )
        lines.append(_Line(pieces, SMALL * 1.35, True))
    return [*lines[:-1], _Line(lines[-1].pieces, SMALL * 1.5)]


def _picture(block: Picture, room: float) -> list[_Line]:
    """As it stood on the screen, as large as the page allows."""
    cells = block.cells
    size = min(BODY, room / (max(cells.width, 1) * FIXED_ASPECT))
    lines = [_heading(block.title)]
    rows = cells.rows()
    for at, row in enumerate(rows):
        column, pieces = 0, []
        for run in row:
            words = run.text.strip()
            start = column + len(run.text) - len(run.text.lstrip())
            column += len(run.text)
            if words:
                pieces.append(_Piece(start * size * FIXED_ASPECT, words, size, INK[run.role], FIXED))
        lines.append(_Line(tuple(pieces), size * 1.25, at < len(rows) - 1))
    return lines


def _paged(lines: list[_Line], room: float) -> list[list[_Line]]:
    """Lines on pages; those that belong together stay so where a page holds them."""
    pages: list[list[_Line]] = [[]]
    left = room
    at = 0
    while at < len(lines):
        end = at + 1
        while end < len(lines) and lines[end - 1].with_next:
            end += 1
        group = lines[at:end]
        needed = sum(line.height for line in group)
        if needed > left and pages[-1] and (needed <= room or left < room / 4):
            pages.append([])
            left = room
        for line in group:
            if line.height > left:
                pages.append([])
                left = room
            pages[-1].append(line)
            left -= line.height
        at = end
    return pages


def _drawn(page: list[_Line], foot: str, paper: Paper) -> "Figure":
    from matplotlib.figure import Figure  # noqa: PLC0415

    width, height = paper.points
    figure = Figure(figsize=(width / POINTS, height / POINTS))
    y = height - MARGIN
    for line in page:
        y -= line.height
        for piece in line.pieces:
            _put(figure, piece, (MARGIN + piece.x) / width, (y + 0.3 * piece.size) / height)
    _put(figure, _Piece(0, foot, SMALL, INK[Role.FAINT]), MARGIN / width, 0.6 * MARGIN / height)
    return figure


def _put(figure: "Figure", piece: _Piece, x: float, y: float) -> None:
    figure.text(
        x, y, piece.text, family=piece.family, size=piece.size, color=piece.color, va="baseline", parse_math=False,
        weight="bold" if piece.bold else "normal",
    )  # fmt: skip
