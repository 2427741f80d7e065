"""The Cycle picture in terminal cells: lanes of commands over a ruler in ns, each timing a measured stretch."""

from tenaz.core.knobs.names import REFRESH_FINENESS, T_REFI
from tenaz.core.knobs.timings.figures import REFRESH_CYCLE
from tenaz.core.knobs.timings.minima import TimingFault
from tenaz.pictures.cycle.model import Command, CommandLane, CyclePicture, Refresh, TimingSpan
from tenaz.pictures.drawing.cells import Cells, wrapped
from tenaz.pictures.drawing.marks import Role

LABEL = 11
RULER_STEPS_NS = (1, 2, 5, 10, 20, 50, 100)
LEAST_COLUMNS_A_TICK = 7
HEAD_ROWS, SHORT_HEAD_ROWS = 4, 2
FULL_ROWS = 26
"""With fewer, the head is short and lanes stand close."""
REFRESH_KNOBS = (REFRESH_FINENESS, T_REFI, *REFRESH_CYCLE.values())
SAID_ROWS = 3
LEGEND = "A activate  R read  W write  P precharge  ▒ data  ╎ ╢ least by the others"


def draw_cycle(picture: CyclePicture | None, width: int, height: int, clocks_line: str = "") -> Cells:
    """Draw it; ``clocks_line`` says how the clock tree stands at this rate."""
    cells = Cells(width, height)
    if picture is None:
        cells.put(0, 0, "The data rate is not known, or on auto: type one, and the cycle has a length.", Role.UNKNOWN)
        return cells
    scale = _Scale(picture.length_ns, max(1, width - LABEL - 1))
    compact = height < FULL_ROWS
    body = Cells(width, height - SAID_ROWS)
    row = _ruler(body, scale, (SHORT_HEAD_ROWS if compact else HEAD_ROWS) + 1)
    # Where not all lanes fit, that of the timing in hand comes first.
    for lane in sorted(picture.lanes, key=lambda lane: compact and not lane.has(picture.selected)):
        row = _lane(body, scale, lane, picture.ghost_of(lane), picture, row) + (0 if compact else 1)
    if picture.missing:
        body.put(LABEL, row, f"on auto, so not drawn: {', '.join(picture.missing)}"[: width - LABEL], Role.UNKNOWN)
        row += 1
    if picture.refresh is not None:
        _refresh(body, picture.refresh, picture.ghost_refresh, picture.selected, row)
        row += 1 if picture.ghost_refresh is None else 2
    if row < body.height:
        body.put(0, body.height - 1, LEGEND, Role.FAINT)
    _head(body, picture, "" if compact else clocks_line)
    cells.paste(0, 0, body)
    for place, line in enumerate(wrapped(picture.said, width)[:SAID_ROWS]):
        cells.put(0, height - SAID_ROWS + place, line.ljust(width), Role.LIT if place == 0 else Role.TEXT)
    return cells


class _Scale:
    """Nanoseconds to columns."""

    def __init__(self, length_ns: float, room: int) -> None:
        self.room = room
        self.ns_a_column = max(1e-9, length_ns) / max(1, room - 1)

    def column(self, at_ns: float) -> int:
        return LABEL + min(self.room - 1, round(at_ns / self.ns_a_column))


def _head(cells: Cells, picture: CyclePicture, clocks_line: str) -> None:
    f = picture.figures
    title = f"one row cycle at {picture.rate_mts} MT/s"
    cells.put(0, 0, title, Role.TEXT)
    if picture.ghost_name:
        cells.put(len(title) + 3, 0, f"beneath, faint: {picture.ghost_name}", Role.FAINT)
    column = 0
    for words in (*(f"{name} {time_ns:.1f} ns" for name, time_ns in f.times_ns), f"peak {f.peak_gb_s:.1f} GB/s"):
        if column + len(words) <= cells.width:
            cells.put(column, 1, words, Role.MEASURED)
        column += len(words) + 2
    for place, line in enumerate(wrapped(clocks_line, cells.width)[: HEAD_ROWS - 2]):
        cells.put(0, 2 + place, line, Role.FAINT)


def _ruler(cells: Cells, scale: _Scale, row: int) -> int:
    step = next((s for s in RULER_STEPS_NS if s / scale.ns_a_column >= LEAST_COLUMNS_A_TICK), RULER_STEPS_NS[-1])
    cells.put(LABEL, row, "─" * scale.room, Role.FRAME)
    at = 0
    while at <= scale.ns_a_column * scale.room:
        column = scale.column(at)
        cells.put(column, row, "┴", Role.FRAME)
        cells.put(column, row - 1, str(at), Role.FAINT)
        at += step
    cells.put(0, row - 1, "ns", Role.FAINT)
    return row + 1


def _lane(
    cells: Cells, scale: _Scale, lane: CommandLane, ghost: CommandLane | None, picture: CyclePicture, row: int
) -> int:
    """Commands, rows of timings, and the compared setpoint's commands beneath; gives the next free row."""
    cells.put(0, row, lane.name, Role.TEXT)
    _commands(cells, scale, lane.commands, row, Role.TEXT, Role.MEASURED)
    row += 1
    for stretches in lane.rows:
        for stretch in stretches:
            _stretch(cells, scale, stretch, row, stretch.name == picture.selected)
        row += 1
    if ghost is not None:
        _commands(cells, scale, ghost.commands, row, Role.FAINT, Role.FRAME, "╌")
        row += 1
    return row


def _commands(
    cells: Cells, scale: _Scale, commands: tuple[Command, ...], row: int, role: Role, data: Role, line: str = "─"
) -> None:
    first, last = scale.column(commands[0].at_ns), scale.column(max(c.until_ns or c.at_ns for c in commands))
    cells.put(first, row, line * (last - first), Role.FRAME)
    for command in commands:
        column = scale.column(command.at_ns)
        if command.until_ns is not None:
            cells.put(column, row, "▒" * max(1, scale.column(command.until_ns) - column), data)
    for command in commands:
        if command.until_ns is None:
            cells.put(scale.column(command.at_ns), row, command.letter, role)


def _stretch(cells: Cells, scale: _Scale, stretch: TimingSpan, row: int, selected: bool) -> None:
    """A measured stretch with its name and clocks inside; where its dependent minimum lies, a mark."""
    start, end = scale.column(stretch.start_ns), scale.column(stretch.end_ns)
    role = Role.LIT if selected else Role.HELD
    if stretch.remark is not None:
        role = Role.FAILED if stretch.remark.standing is not TimingFault.INERT else Role.UNKNOWN
        role = Role.LIT if selected else role
    width = max(1, end - start)
    line = "┄" if stretch.remark is not None else "━"
    cells.put(start, row, ("┝" + line * (width - 2) + "┥") if width > 1 else "┃", role)
    least = None if stretch.least_end_ns is None else scale.column(stretch.least_end_ns)
    room = (start + 1, end - 1)
    if least is not None and start < least < end - 1:
        # The name stands beside the mark, on its roomier side.
        room = max((start + 1, least), (least + 1, end - 1), key=lambda part: part[1] - part[0])
    length = f"{stretch.end_ns - stretch.start_ns:.1f} ns"
    named = f"{stretch.label} {stretch.clocks}"
    for words in (f" {named} · {length} ", f" {named} ", f" {stretch.label} ", stretch.label):
        if len(words) <= room[1] - room[0]:
            cells.put(room[0] + (room[1] - room[0] - len(words)) // 2, row, words, role)
            break
    if least is not None:
        if least > end:
            cells.put(end, row, "╌" * (least - end), Role.UNKNOWN)
        cells.put(least - 1 if least >= end else least, row, "╢" if least >= end else "╎", Role.TEXT)
    cells.put(cells.width - 1, row, "!" if stretch.remark is not None else " ", Role.FAILED)


def _refresh(cells: Cells, refresh: Refresh, ghost: Refresh | None, selected: str, row: int) -> None:
    """Refresh on a scale of its own: the whole width is one interval."""
    room = cells.width - LABEL - 1
    cells.put(0, row, "refresh", Role.LIT if selected in REFRESH_KNOBS else Role.TEXT)
    for place, one in enumerate(part for part in (refresh, ghost) if part is not None):
        busy = max(1, round(one.lost * room))
        cells.put(LABEL, row + place, "▓" * busy, Role.MEASURED if place == 0 else Role.FRAME)
        cells.put(LABEL + busy, row + place, "┄" * (room - busy), Role.FRAME)
        words = f" {one.takes_ns:.0f} ns each {one.every_ns / 1000:.2f} µs, {one.lost:.1%} of the time "
        cells.put_right(LABEL + room, row + place, words, Role.TEXT if place == 0 else Role.FAINT)
