"""The Climb picture in terminal cells."""

import math

from tenaz.core.evidence.edge import EdgeEstimate
from tenaz.core.knobs.knob import Knob, show_steps
from tenaz.core.loads.plan import show_duration
from tenaz.pictures.climb.model import ClimbPicture, Point
from tenaz.pictures.climb.rates import draw_rates
from tenaz.pictures.drawing.cells import Cells, clipped, wrapped
from tenaz.pictures.drawing.marks import NEXT, Role, mark_of

LABEL = 8
"""Columns for the values at the left."""
MOST_CHANCE_COLUMNS = 22
BLOCKS = " ▏▎▍▌▋▊▉█"


LOAD_COLUMNS = 10
RATE_COLUMNS = 21
BARELY = 0.002
"""A chance before anything was tried that is worth a dot."""
LEAST_FOR_RATES = 76
"""Columns from which on there is room for how often each value fails."""
LEAST_LIST = 3
"""Lines of the list of trials that are worth making room for."""


class Frame:
    """Where strains and trials lie on the sheet.

    Where there is room a step gets one row or several; where there is not, a row stands for ``per_row`` neighbouring
    values, and its label names the first and the last of them.
    """

    def __init__(self, picture: ClimbPicture, width: int, height: int) -> None:
        strains, self._knob = picture.strains, picture.knob
        self.low, self.high = strains[0], strains[-1]
        below = len(picture.series) + bool(picture.stood) + bool(picture.elsewhere) + 1
        below += 1 + len(picture.judged.doubts) if picture.judged else 0
        self.top, self.bottom = 1, max(2, height - 4 - below)
        rows = max(1, self.bottom - self.top)
        steps = max(1, self.high - self.low)
        self.rows_per_step = max(1, rows // steps) if rows >= steps else 0
        self.per_row = 1 if self.rows_per_step else -(-(steps + 1) // (rows + 1))
        # Steps get whole rows where there is room; what is left over goes to the list of trials below.
        self.bottom = self.top + (steps * self.rows_per_step or steps // self.per_row)
        self.chance_width = min(MOST_CHANCE_COLUMNS, max(8, width // 4))
        self.labels = {row: self._label(row) for row in range(self.top, self.bottom + 1)}
        self.label_width = max(LABEL, 1 + max(len(label) for label in self.labels.values()))
        self.left = self.label_width + 2
        self.rate_width = RATE_COLUMNS if picture.judged is not None and width >= LEAST_FOR_RATES else 0
        self.right = width - self.chance_width - self.rate_width - 3
        slots = len(picture.points) + 1
        room = max(1, self.right - self.left - 2)
        self.pitch = max(1, min(6, room // max(1, slots)))
        self.first = max(0, slots - room // self.pitch)
        """Index of the first trial drawn: the newest stay in sight."""

    def row(self, strain: float) -> int:
        """The row of a strain, also of one between two values."""
        if self.rows_per_step:
            return self.top + round((self.high - strain) * self.rows_per_step)
        return self.top + math.floor((self.high - strain) / self.per_row)

    def _label(self, row: int) -> str:
        """The value, or the first and the last value, that a row stands for; empty between two values."""
        if self.rows_per_step:
            above, between = divmod(row - self.top, self.rows_per_step)
            return "" if between or self.high - above < self.low else str(self._knob.at_strain(self.high - above))
        hardest = self.high - (row - self.top) * self.per_row
        ends = sorted({self._knob.at_strain(s) for s in (hardest, max(self.low, hardest - self.per_row + 1))})
        return "–".join(map(str, ends))

    def by_row(self, edge: EdgeEstimate, before: bool) -> dict[int, float]:
        """The chance of the edge by row. A cell is drawn between the rows of its values where there is one, else at the
        easier of them; cells that fall on one row are one bar.
        """
        found: dict[int, float] = {}
        for start, end, part in edge.cells(self.low - 1, self.high + 1, before):
            middle = self.row((start + end) / 2 if self.rows_per_step > 1 else start)
            found[middle] = found.get(middle, 0.0) + part
        return found

    def column(self, index: int) -> int:
        """The column of a trial by its index."""
        return self.left + 2 + (index - self.first) * self.pitch


def draw_climb(picture: ClimbPicture, width: int, height: int, cursor: int | None = None, listed: bool = True) -> Cells:
    """Draw the picture; ``cursor`` is the index of the trial that is pointed at, ``listed`` whether the newest trials
    are listed where there is room.
    """
    cells = Cells(width, height)
    if width < LABEL + 20 or height < 8:
        cells.put(0, 0, "too little room for the climb", Role.UNKNOWN)
        return cells
    frame = Frame(picture, width, height)
    _axis(cells, picture, frame)
    _guard(cells, picture, frame)
    _elsewhere(cells, picture, frame)
    _bracket_lines(cells, picture, frame)
    _points(cells, picture, frame, cursor)
    _chances(cells, picture, frame)
    if frame.rate_width:
        draw_rates(cells, picture, width - frame.rate_width, frame)
    below = _legend(cells, picture, frame.bottom + 2, cursor)
    if listed:
        _list(cells, picture, below + 1, cursor)
    return cells


def draw_no_climb(knob: Knob, width: int, height: int) -> Cells:
    """What stands there before the first climb along a knob: how to begin one."""
    cells = Cells(width, height)
    cells.put(0, 0, f"{knob.label}, {knob.unit}", Role.TEXT)
    cells.put(0, 2, f"No climb along {knob.label} on this bench yet.", Role.FAINT)
    cells.put(0, 4, "c   climb from the dialled values; a›s chooses how", Role.TEXT)
    cells.put(0, 5, "t   one trial at the dialled values", Role.TEXT)
    return cells


def _axis(cells: Cells, picture: ClimbPicture, frame: Frame) -> None:
    knob = picture.knob
    under = f" · under {picture.kind}" if picture.kind else ""
    cells.put(0, 0, f"{knob.label}, {knob.unit}{under}", Role.TEXT)
    ghost = None if picture.ghost is None else frame.row(knob.strain(picture.ghost))
    for row, label in frame.labels.items():
        cells.put(frame.label_width, row, "┤" if label else "│", Role.FRAME)
        if not label:
            continue
        cells.put_right(frame.label_width - 1, row, label, Role.LIT if row == ghost else Role.TEXT)
        for column in range(frame.left, frame.right, 3):
            cells.put(column, row, "·", Role.FRAME)
    if isinstance(picture.stock, int) and frame.low <= knob.strain(picture.stock) <= frame.high:
        cells.put(frame.label_width - 1, frame.row(knob.strain(picture.stock)), "s", Role.TEXT)
    if frame.low <= knob.strain(picture.limit) <= frame.high:
        row = frame.row(knob.strain(picture.limit))
        cells.put(frame.left, row, "╌" * (frame.right - frame.left), Role.UNKNOWN)
        cells.put_right(frame.right, row, f" {picture.limit_word} ", Role.UNKNOWN)


def _guard(cells: Cells, picture: ClimbPicture, frame: Frame) -> None:
    band = [strain for strain in picture.guard if frame.low <= strain <= frame.high]
    if not band:
        return
    for row in range(frame.row(band[-1] + 1) + 1, frame.row(band[0]) + 1):
        for column in range(frame.left, frame.right):
            if (column + row) % 2 == 0:
                cells.put(column, row, "░", Role.GUARD)
    words = f" guard band, {show_steps(len(picture.guard))} "
    cells.put_right(frame.right, frame.row(band[0]), words, Role.FAINT)


def _bracket_lines(cells: Cells, picture: ClimbPicture, frame: Frame) -> None:
    """After each trial: how high it is known to hold, and how low to fail; the two close in."""
    for index, point in enumerate(picture.points):
        if index < frame.first:
            continue
        start = frame.column(index)
        end = frame.column(index + 1) if index + 1 < len(picture.points) else frame.right
        for value, role in ((point.bracket.held, Role.HELD), (point.bracket.failed, Role.FAILED)):
            if value is not None:
                strain = picture.knob.strain(value)
                cells.put(start, frame.row(strain), "─" * (end - start), role)


def _points(cells: Cells, picture: ClimbPicture, frame: Frame, cursor: int | None) -> None:
    for index, point in enumerate(picture.points):
        if index < frame.first:
            continue
        mark = mark_of(point.outcome)
        column, row = frame.column(index), frame.row(point.strain)
        cells.put(column, row, mark.sign, Role.FAINT if point.apart else mark.role)
        cells.aim(column - 1, row, 3, ("trial", point.number))
        number = str(point.number)
        if len(number) < frame.pitch or index == cursor:
            cells.put(column, frame.bottom + 1, number, Role.LIT if index == cursor else Role.FAINT)
        if index == cursor:
            cells.put(column, row - 1, "▾", Role.LIT)
    if picture.ghost is not None:
        column = frame.column(len(picture.points))
        row = frame.row(picture.knob.strain(picture.ghost))
        cells.put(column, row, NEXT.sign, NEXT.role)
        cells.put(column, frame.bottom + 1, "next", Role.LIT)


def _chances(cells: Cells, picture: ClimbPicture, frame: Frame) -> None:
    """At the right: between which grid values the edge lies, with what chance, and the interval beside it."""
    left = frame.right + 1
    edge = picture.edge
    for row in range(frame.top, frame.bottom + 1):
        cells.put(left, row, "│", Role.FRAME)
    # Without a row between two values a bar stands at the easier of them.
    title = "chance of the edge" if frame.chance_width > len("chance of the edge") else "edge, chance"
    title += "" if frame.rows_per_step > 1 else " ↑"
    cells.put(left + 1, 0, title[: frame.chance_width], Role.MEASURED)
    if edge is None:
        cells.put(left + 2, frame.top, "not known yet", Role.UNKNOWN)
        return
    shown, before = frame.by_row(edge, before=False), frame.by_row(edge, before=True)
    most = max([*shown.values(), *before.values(), 1e-9])
    room = frame.chance_width - 7
    top = max(frame.top, min(frame.bottom, frame.row(edge.high)))
    bottom = max(frame.top, min(frame.bottom, frame.row(edge.low)))
    if top == frame.top and bottom == frame.bottom and _flat(shown, frame):
        for row, line in enumerate(wrapped(ANYWHERE, frame.chance_width - 3)):
            cells.put(left + 2, frame.top + row, line, Role.UNKNOWN)
        return
    for middle, chance in before.items():
        # What would be believed had nothing been tried: faint, behind.
        if frame.top <= middle <= frame.bottom and chance > BARELY:
            cells.put(left + 2, middle, "·" * max(1, round(chance / most * room)), Role.FAINT)
    for middle, chance in shown.items():
        if chance < 0.005 or not frame.top <= middle <= frame.bottom:
            continue
        eighths = round(chance / most * room * 8)
        bar = "█" * (eighths // 8) + BLOCKS[eighths % 8].strip()
        cells.put(left + 2, middle, bar, Role.MEASURED)
        cells.put(left + 3 + len(bar), middle, f"{chance:.0%}", Role.TEXT)
    for row in range(top, bottom + 1):
        sign = "┃" if top != bottom else "╋"
        cells.put(left, row, sign, Role.MEASURED)


ANYWHERE = "it may lie anywhere here, and beyond: nothing that was tried bounds it yet"
FLAT = 2.0
"""So many times the mean the likeliest row is at most, where no row is likelier than others to speak of."""


def _flat(shown: dict[int, float], frame: Frame) -> bool:
    """Whether bars would be a wall: no row is much likelier than the mean of them."""
    seen = [chance for row, chance in shown.items() if frame.top <= row <= frame.bottom]
    return bool(seen) and max(seen) < FLAT * sum(seen) / len(seen)


def _elsewhere(cells: Cells, picture: ClimbPicture, frame: Frame) -> None:
    """What was tried while other values stood, faint beside the scale: it says little of this line."""
    for strain, outcome in picture.elsewhere_at:
        row = frame.row(strain)
        if frame.top <= row <= frame.bottom:
            cells.put(frame.left, row, mark_of(outcome).sign, Role.FAINT)


def _legend(cells: Cells, picture: ClimbPicture, row: int, cursor: int | None) -> int:
    """The bracket in words, what the marks mean, and what other loads showed; gives the row after them."""
    head = f"{picture.rig} · {picture.load} · all else: {picture.around}" if picture.around else picture.rig
    cells.put(0, row, clipped(head, cells.width), Role.FAINT)
    row += 1
    words = f"{picture.kind}: " if picture.kind and picture.series else ""
    words += picture.bracket.show(picture.knob)
    cells.put(0, row, words, Role.TEXT)
    if picture.edge is not None:
        text = f" · edge {picture.interval_text()} ({picture.edge.confidence:.0%})"
        cells.put(len(words), row, text, Role.MEASURED)
        row += 1
        words = picture.stand_words if cursor is None else picture.rests_words(cursor)
        cells.put(0, row, clipped(words, cells.width), Role.LIT)
        for doubt in picture.judged.doubts if picture.judged else ():
            row += 1
            cells.put(0, row, clipped(f"! {doubt}", cells.width), Role.FAILED)
    if picture.stood:
        row += 1
        words = f"climbed with {picture.stood}, which stands otherwise now"
        cells.put(0, row, clipped(words, cells.width), Role.LIT)
    column = 0
    for outcome in dict.fromkeys(p.outcome for p in picture.points):
        mark = mark_of(outcome)
        cells.put(column, row + 1, mark.sign, mark.role)
        cells.put(column + 2, row + 1, mark.word, Role.FAINT)
        column += len(mark.word) + 5
    if picture.ghost is not None:
        cells.put(column, row + 1, f"{NEXT.sign} {NEXT.word}", Role.LIT)
    cells.put_right(cells.width, row + 1, picture.cost_words, Role.FAINT)
    row += 2
    if picture.elsewhere:
        told = f"{picture.elsewhere} more trials along {picture.knob.label}, at other values: faint beside the scale"
        cells.put(0, row, clipped(told, cells.width), Role.FAINT)
        row += 1
    for text in picture.strand_texts():
        cells.put(0, row, text, Role.FAINT)
        row += 1
    return row


def _list(cells: Cells, picture: ClimbPicture, top: int, cursor: int | None) -> None:
    """The newest trials in words, as many as there is room for, with their notes; the one pointed at among them."""
    room = cells.height - top
    if room < LEAST_LIST:
        return
    # The newest stay in sight until the one pointed at is older than there is room for.
    first = max(0, len(picture.points) - room)
    first = first if cursor is None else min(first, cursor)
    shown = range(first, min(len(picture.points), first + room))
    for row, index in enumerate(reversed(shown), start=top):
        point, mark = picture.points[index], mark_of(picture.points[index].outcome)
        cells.put(0, row, "▸" if index == cursor else " ", Role.LIT)
        cells.aim(0, row, cells.width, ("trial", point.number))
        cells.put_right(6, row, str(point.number), Role.FAINT)
        value = picture.knob.at_strain(point.strain) if point.value is None else point.value
        cells.put_right(18, row, picture.knob.show(value), Role.TEXT)
        cells.put(20, row, f"{mark.sign} {mark.word}", mark.role)
        cells.put(33, row, point.load[:LOAD_COLUMNS], Role.FAINT if point.apart else Role.TEXT)
        how_long, at = _how_long(point), 34 + LOAD_COLUMNS
        cells.put(at, row, how_long, Role.FAINT)
        at += len(how_long) + 2 if how_long else 0
        if point.asked:
            cells.put(at, row, f"asked {point.asked}", Role.LIT)
            at += len(point.asked) + 8
        cells.put(at, row, clipped(point.note, max(0, cells.width - at)), Role.TEXT)


def _how_long(point: Point) -> str:
    if point.outcome is None:
        return "under way"
    errors = f"{point.errors} error{'s' if point.errors != 1 else ''} " if point.errors else ""
    if point.failed_after_s:
        return f"{errors}after {show_duration(point.failed_after_s)}"
    return f"{show_duration(point.elapsed_s)} under load" if point.elapsed_s else ""
