"""All knobs, one under the other by the pages of the firmware, one of them in hand with its whole track."""

from collections.abc import Sequence

from tenaz.core.knobs.knob import show_steps
from tenaz.pictures.drawing.cells import Cells, clipped
from tenaz.pictures.drawing.marks import Role
from tenaz.pictures.sheet.track import Track, draw_track, places

VALUE_END, SMALL_TRACK = 28, 30
"""Columns of a line: where the value ends, where the small track begins."""

LINES_IN_HAND = 4
"""The knob in hand takes so many lines: name and value, its track, what is dialled, what is to be said."""


def draw_tracks(tracks: Sequence[Track], selected: int, width: int, height: int, said: str = "") -> Cells:
    """A line a knob with a small track; the knob in hand with its whole track, its margin, and what is said."""
    cells = Cells(width, height)
    cells.put(0, 0, "knobs", Role.FAINT)
    lines: list[tuple[str, int | None]] = []
    group = ""
    for place, track in enumerate(tracks):
        if track.knob.group != group:
            group = track.knob.group
            lines.append((group, None))
        lines += [("", place)] * (LINES_IN_HAND + bool(said) if place == selected else 1)
    room = max(1, height - 2)
    at = next((number for number, (_, place) in enumerate(lines) if place == selected), 0)
    first = max(0, min(at - room // 2, len(lines) - room))
    drawn: int | None = None
    for row, (heading, which) in enumerate(lines[first : first + room], start=2):
        if which is None:
            cells.put(0, row, heading, Role.FAINT)
        elif which != selected:
            _line(cells, tracks[which], row, width)
            cells.aim(0, row, width, ("knob", which))
        elif drawn != which:
            _in_hand(cells, tracks[which], row, width)
            cells.put(2, row + LINES_IN_HAND, said[: width - 2], Role.MEASURED)
        drawn = which
    if first + room < len(lines):
        cells.put_right(width, height - 1, " more below ▾", Role.FAINT)
    return cells


def _value(track: Track, with_unit: bool) -> str:
    value = track.knob.show(track.dialled) if with_unit else str(track.dialled)
    return f"{track.in_force} → {value}" if track.changed else value


def label_role(track: Track) -> Role:
    """What must not be moved looks it."""
    return Role.UNKNOWN if track.knob.locked else Role.TEXT


def _line(cells: Cells, track: Track, row: int, width: int) -> None:
    role = Role.LIT if track.changed else Role.TEXT
    value = f" {_value(track, with_unit=False)}"
    cells.put(2, row, clipped(track.knob.label, VALUE_END - 2 - len(value)), label_role(track))
    cells.put_right(VALUE_END, row, value, role)
    if track.knob.locked:
        cells.put(SMALL_TRACK, row, "locked", Role.UNKNOWN)
        return
    for run, column in _columns(draw_track(track, max(0, width - SMALL_TRACK)), 0):
        cells.put(SMALL_TRACK + column, row, run.text, run.role)


def _in_hand(cells: Cells, track: Track, top: int, width: int) -> None:
    knob = track.knob
    cells.put(0, top, "▸", Role.LIT)
    cells.put(2, top, knob.label, Role.LIT)
    cells.put_right(width, top, f" {_value(track, with_unit=True)}", Role.LIT if track.changed else Role.TEXT)
    for column, value in places(track.knob, width - 2):
        cells.aim(2 + column, top + 1, 1, ("value", value), height=2)
    drawing = draw_track(track, width - 2)
    for line in (0, 1):
        for run, column in _columns(drawing, line):
            cells.put(2 + column, top + 1 + line, run.text, run.role)
    cells.put(2, top + 3, clipped(_words(track), width - 2), Role.FAINT)


def _words(track: Track) -> str:
    """The margin, where there is one; else where the knob can go, or why it must not."""
    knob, margin = track.knob, track.margin_steps()
    if knob.locked:
        return f"locked: {knob.locked}"
    if margin is not None and track.failed is not None and isinstance(track.in_force, int):
        apart = f"{show_steps(abs(margin))}, {abs(track.failed - track.in_force)} {knob.unit}"
        if margin > 0:
            return f"margin to failure {apart}"
        return f"stands {apart} beyond a failure" if margin else "stands where it failed"
    spelled = f" · {knob.standard_label}" if knob.standard_label else ""
    return f"{knob.grid.first} to {knob.grid.last} · harder {'▸' if knob.harder.sign > 0 else '◂'}{spelled}"


def _columns(cells: Cells, row: int):  # type: ignore[no-untyped-def] # runs with their columns
    column = 0
    for run in cells.rows()[row] if row < cells.height else []:
        yield run, column
        column += len(run.text)
