"""The Load picture in terminal cells: lanes above, strip charts below, one time axis."""

from collections import Counter
from itertools import pairwise

from tenaz.core.loads.plan import WorkerProgress, show_clock
from tenaz.core.sensors.series import Span, merged
from tenaz.core.sensors.telemetry import SensorKind
from tenaz.pictures.drawing.cells import Cells, clipped, wrapped
from tenaz.pictures.drawing.marks import ALARM_MARKS, Role
from tenaz.pictures.load.last_seconds import draw_last_seconds
from tenaz.pictures.load.model import CURSOR_STEPS, Curve, Event, LoadPicture

LABEL = 28
SCALE = 6
"""Columns of the label that the ends of a curve's scale take."""
FINE_BELOW = 10.0
"""A scale that spans less than that has figures behind the point."""
LEAST_MARGIN = {SensorKind.VOLTAGE: 0.01}
"""Room above and below a curve that hardly moves, in its unit; half of one where nothing else is said."""
WIDE_LANE = 56
STRIP_ROWS = (3, 7)
"""A strip's height: at least, and at most where there is room."""

LEVELS = " ▁▂▃▄▅▆▇█"
MANNER_ROWS, TALL_ENOUGH = 4, 24
"""How the load works is said in so many lines, where the page has at least so many."""
LANE_ROWS_MOST = 16
LEAST_HELD = 3
"""Columns: where readings come about as often as columns, one that falls between them is no gap."""
MORE_SENSORS = 21
"""Columns that tell of sensors for which there is no room."""


def draw_load(picture: LoadPicture, width: int, height: int) -> Cells:
    """Draw it; as many lanes and strips as there is room for, what is left out is counted."""
    cells = Cells(width, height)
    hidden = len(picture.curves) > (height - 8) // STRIP_ROWS[0]
    cells.put(0, 0, clipped(picture.title, width - (MORE_SENSORS if hidden else 0)), Role.TEXT)
    row = 2
    for line in wrapped(picture.manner, width)[:MANNER_ROWS] if height >= TALL_ENOUGH else ():
        cells.put(0, row - 1, line, Role.FAINT)
        row += 1
    if picture.last is not None:
        row = draw_last_seconds(cells, picture.last, row, height - row - STRIP_ROWS[0] - 3, picture.rate_unit)
    else:
        row = _lanes(cells, picture, row, height)
    room, top = max(0, height - row - 2), row
    shown = min(len(picture.curves), room // STRIP_ROWS[0])
    tall = min(STRIP_ROWS[1], room // shown) if shown else STRIP_ROWS[0]
    for curve in picture.curves[:shown]:
        _strip(cells, curve, picture, row, tall - 1)
        row += tall
    if picture.curves:
        _event_lines(cells, picture, top, row)
        _axis(cells, picture, row, width)
    else:
        none = f"no sensor's name holds {picture.chosen!r}" if picture.chosen else "no sensors were watched"
        cells.put(0, row, none, Role.FAINT)
    if len(picture.curves) > shown:
        cells.put_right(width, 0, f"and {len(picture.curves) - shown} more sensors", Role.FAINT)
    return cells


def _lanes(cells: Cells, picture: LoadPicture, row: int, height: int) -> int:
    """As many workers as there is room for; gives the row beneath."""
    width = cells.width
    columns = 1 if len(picture.lanes) <= 6 or width < 80 else 2
    rows = min(LANE_ROWS_MOST, (len(picture.lanes) + columns - 1) // columns, max(0, (height - 8) // 2))
    for place, lane in enumerate(picture.lanes[: rows * columns]):
        _lane(cells, lane, place // rows * (width // columns), row + place % rows, width // columns - 2, picture)
    if len(picture.lanes) > rows * columns:
        cells.put_right(width, row + rows, f"and {len(picture.lanes) - rows * columns} more workers", Role.FAINT)
    return row + rows + 1


def _lane(cells: Cells, lane: WorkerProgress, left: int, row: int, width: int, picture: LoadPicture) -> None:
    """Core, a bar of the lap under way, rate, clock, when it last verified or its errors; less on a narrow lane."""
    wide = width >= WIDE_LANE
    cells.put(left, row, f"{lane.on:<8}", Role.TEXT)
    bar = max(4, min(24, width - 46)) if wide else 5
    done = round((lane.laps % 1) * bar)
    cells.put(left + 9, row, "━" * done, Role.MEASURED)
    cells.put(left + 9 + done, row, "┄" * (bar - done), Role.FRAME)
    figures = f"{lane.rate:6.1f}" + (f" {lane.kind.rate_unit if lane.kind else picture.rate_unit}" if wide else "")
    if lane.clock_mhz:
        figures += f"  {lane.clock_mhz:5.0f} MHz"
    column = left + 10 + bar
    cells.put(column, row, figures, Role.FAINT)
    verdict = f"ok {show_clock(lane.verified_at_s)}" if wide else "ok"
    if lane.errors:
        verdict = f"{lane.errors} ERROR{'S' if lane.errors != 1 else ''}"
    cells.put(column + len(figures) + 2, row, verdict, Role.FAILED if lane.errors else Role.HELD)


def _strip(cells: Cells, curve: Curve, picture: LoadPicture, top: int, rows: int) -> None:
    """Label and figures at the left, the curve as filled columns, its ceiling as a line where it is in reach."""
    room = max(1, cells.width - LABEL - 1)
    spans = _held(curve.series.buckets(picture.start_s, picture.end_s, room))
    whole = merged(spans)
    unit = curve.sensor.kind.unit
    cells.put(0, top, (curve.name or curve.sensor.label)[: LABEL - SCALE - 1], Role.TEXT)
    if whole is None:
        cells.put(0, top + 1, "nothing read", Role.UNKNOWN)
        return
    reading = _at_cursor(picture, spans) or curve.last
    if reading is not None:
        fine = 3 if curve.sensor.kind is SensorKind.VOLTAGE else 0
        words = f"{reading:.{fine}f} {unit}  ({whole[0]:.{fine}f} to {whole[1]:.{fine}f})"
        cells.put(0, top + 1, words[: LABEL - (SCALE if rows == STRIP_ROWS[0] - 1 else 0) - 1], Role.MEASURED)
    low, high = whole
    stop = curve.ceiling.stop if curve.ceiling else None
    if stop is not None and stop - high < 3 * (high - low + 5):
        high = max(high, stop)
    margin = max(0.05 * (high - low), abs(high) * 0.002, LEAST_MARGIN.get(curve.sensor.kind, 0.5))
    low, high = low - margin, high + margin
    fine = 0 if high - low >= FINE_BELOW else 1 if high - low >= FINE_BELOW / 10 else 2
    for at, row in ((high, top), (low, top + rows - 1)):
        cells.put_right(LABEL, row, f" {at:.{fine}f}┤", Role.FAINT)
    if whole[0] == whole[1]:
        _level_line(cells, spans, top + rows // 2)
        spans = []
    for place, span in enumerate(spans):
        if span is not None:
            over = curve.ceiling is not None and span[1] >= curve.ceiling.warning
            share = (span[1] - low) / (high - low)
            _column(cells, LABEL + place, top, rows, share, Role.FAILED if over else Role.MEASURED)
    if stop is not None and stop <= high:
        row = top + int((1 - (stop - low) / (high - low)) * rows)
        for place in range(room):
            if cells.empty_at(LABEL + place, row):
                cells.put(LABEL + place, row, "╌", Role.UNKNOWN)
        cells.put_right(cells.width, row, f" stop {stop:.0f} ", Role.UNKNOWN)


def _level_line(cells: Cells, spans: "list[Span | None]", row: int) -> None:
    """What never moved is a line."""
    for place, span in enumerate(spans):
        if span is not None:
            cells.put(LABEL + place, row, "─", Role.MEASURED)


def _event_lines(cells: Cells, picture: LoadPicture, top: int, bottom: int) -> None:
    """A thin line through all strips at each event, where no curve is in the way."""
    for column, event in _by_column(picture, max(1, cells.width - LABEL - 1)).items():
        if event.mark.role is not Role.UNKNOWN:
            for row in range(top, bottom):
                if cells.empty_at(LABEL + column, row):
                    cells.put(LABEL + column, row, "┊", event.mark.role)


def _held(spans: "list[Span | None]") -> "list[Span | None]":
    """Readings rarer than columns are each held until the next is due; a longer silence stays a gap."""
    known = [place for place, span in enumerate(spans) if span is not None]
    pitches = sorted(later - earlier for earlier, later in pairwise(known))
    hold = max(LEAST_HELD, 2 * pitches[len(pitches) // 2] if pitches else 1)
    held, since = list(spans), hold
    for place, span in enumerate(spans):
        since = 0 if span is not None else since + 1
        if span is None and since < hold and place > 0:
            held[place] = held[place - 1]
    return held


def _column(cells: Cells, column: int, top: int, rows: int, share: float, role: Role) -> None:
    """A filled column over a share of the strip's rows."""
    eighths = max(1, round(share * rows * 8))
    for level in range(rows):
        part = min(8, eighths - 8 * level)
        if part > 0:
            cells.put(column, top + rows - 1 - level, LEVELS[part], role)


def _at_cursor(picture: LoadPicture, spans: "list[Span | None]") -> float | None:
    if picture.cursor_s is None or picture.end_s <= picture.start_s:
        return None
    place = int((picture.cursor_s - picture.start_s) / (picture.end_s - picture.start_s) * len(spans))
    span = spans[place] if 0 <= place < len(spans) else None
    return None if span is None else span[1]


def _axis(cells: Cells, picture: LoadPicture, row: int, width: int) -> None:
    """Times at both ends, events where they happened with their signs explained, the cursor and what is there."""
    room = max(1, width - LABEL - 1)
    cells.put(LABEL, row, "─" * room, Role.FRAME)
    start, end = show_clock(picture.start_s), show_clock(picture.end_s)
    cells.put(LABEL, row + 1, start, Role.FAINT)
    cells.put_right(LABEL + room, row + 1, end, Role.FAINT)
    for column, event in _by_column(picture, room).items():
        cells.put(LABEL + column, row, event.mark.sign, event.mark.role)
    words, space = _words(picture), room - len(start) - len(end) - 4
    if space > 0:
        cells.put(LABEL + len(start) + 2, row + 1, clipped(words, space), Role.TEXT)
    if picture.cursor_s is not None:
        cells.put(LABEL + _column_of(picture, picture.cursor_s, room), row, "▴", Role.LIT)
        cells.put(0, row, f"at {show_clock(picture.cursor_s)}", Role.LIT)


def _words(picture: LoadPicture) -> str:
    """What happened at the cursor; without a cursor, what the signs in the window mean."""
    seen = [event for event in picture.events if picture.start_s <= event.at_s <= picture.end_s]
    cursor_s = picture.cursor_s
    if cursor_s is not None:
        near = (picture.end_s - picture.start_s) / CURSOR_STEPS
        close = [event for event in seen if abs(event.at_s - cursor_s) <= near]
        nearest = min(close, key=lambda event: abs(event.at_s - cursor_s), default=None)
        return f"{nearest.mark.sign} {show_clock(nearest.at_s)} {nearest.text}" if nearest else ""
    counted = Counter(event.mark for event in seen)
    return "   ".join(
        f"{mark.sign} {mark.word}" + (f" ×{count}" if count > 1 else "") for mark, count in counted.items()
    )


def _by_column(picture: LoadPicture, room: int) -> dict[int, Event]:
    """The gravest event of each column of the window."""
    gravity = {mark.sign: place for place, mark in enumerate(ALARM_MARKS.values())}
    drawn: dict[int, Event] = {}
    for event in picture.events:
        if picture.start_s <= event.at_s <= picture.end_s:
            column = _column_of(picture, event.at_s, room)
            if column not in drawn or gravity.get(event.mark.sign, -1) < gravity.get(drawn[column].mark.sign, -1):
                drawn[column] = event
    return drawn


def _column_of(picture: LoadPicture, at_s: float, room: int) -> int:
    return int((at_s - picture.start_s) / max(1e-9, picture.end_s - picture.start_s) * (room - 1))
