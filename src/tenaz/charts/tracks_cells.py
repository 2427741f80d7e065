"""All knob tracks, one under the other, one of them in hand."""

from collections.abc import Sequence

from tenaz.charts.cells import Cells
from tenaz.charts.marks import Role
from tenaz.charts.track import Track, draw_track
from tenaz.core.knobs import show_steps

ROWS_A_KNOB = 5


def draw_tracks(tracks: Sequence[Track], selected: int, width: int, height: int) -> Cells:
    """Name and value, the track, what is dialled under it, and the margin in words."""
    cells = Cells(width, height)
    cells.put(0, 0, "knobs", Role.FAINT)
    room = cells.width
    visible = max(1, (height - 2) // ROWS_A_KNOB)
    first = max(0, min(selected - visible + 1, len(tracks) - visible))
    for place, track in enumerate(tracks[first : first + visible]):
        top = 2 + place * ROWS_A_KNOB
        _draw_knob(cells, track, top, room, first + place == selected)
    if first + visible < len(tracks):
        cells.put_right(room, height - 1, "more below ▾", Role.FAINT)
    return cells


def _draw_knob(cells: Cells, track: Track, top: int, room: int, selected: bool) -> None:
    knob = track.knob
    cells.put(0, top, "▸" if selected else " ", Role.LIT)
    cells.put(2, top, knob.label, Role.LIT if selected else Role.TEXT)
    value = knob.show(track.dialled)
    if track.changed:
        value = f"{track.in_force} → {value}"
    cells.put_right(room, top, value, Role.LIT if track.changed else Role.TEXT)
    for row, runs in enumerate(draw_track(track, room - 2).rows()):
        column = 2
        for run in runs:
            cells.put(column, top + 1 + row, run.text, run.role)
            column += len(run.text)
    margin = track.margin_steps()
    if margin is None:
        words = f"{knob.grid.first} to {knob.grid.last} · harder {'▸' if knob.harder.sign > 0 else '◂'}"
        cells.put(2, top + 3, words, Role.FAINT)
    else:
        assert track.failed is not None
        assert isinstance(track.in_force, int)
        units = abs(track.failed - track.in_force)
        cells.put(2, top + 3, f"margin to failure {show_steps(margin)}, {units} {knob.unit}", Role.FAINT)
