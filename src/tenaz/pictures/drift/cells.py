"""The Drift picture in terminal cells: then above now, a way a knob, each on its own scale."""

from tenaz.core.evidence.edge import EdgeEstimate
from tenaz.pictures.drawing.cells import Cells, clipped, wrapped
from tenaz.pictures.drawing.marks import Role
from tenaz.pictures.drift.model import SURE, DriftPicture, DriftRow

LABEL = 24
LINES = 6


def draw_drift(picture: DriftPicture, width: int, height: int) -> Cells:
    """Draw it."""
    cells = Cells(width, height)
    cells.put(0, 0, clipped(f"{picture.rig}: the same edges, then and now", width), Role.TEXT)
    cells.put(0, 1, "━ edge lies here, 95 %   ┃ its middle   │ in use   easy at the left", Role.FAINT)
    row = 3
    for one in picture.rows:
        _draw_row(cells, one, row)
        row += LINES
    for line in wrapped(picture.words, width):
        cells.put(0, row, line, Role.UNKNOWN)
        row += 1
    return cells


def _draw_row(cells: Cells, one: DriftRow, top: int) -> None:
    lows = [edge.low for edge in (one.edge_then, one.edge_now)]
    highs = [edge.high for edge in (one.edge_then, one.edge_now)]
    known = [] if one.in_use is None else [float(one.knob.strain(one.in_use))]
    low, high = min(*lows, *highs, *known) - 0.5, max(*lows, *highs, *known) + 0.5
    room = cells.width - LABEL - 1

    def column(strain: float) -> int:
        return LABEL + round((strain - low) / max(high - low, 1e-9) * room)

    cells.put(0, top, clipped(f"{one.knob.label} under {one.kind}", cells.width), Role.TEXT)
    for line, (label, edge) in enumerate(((one.then, one.edge_then), (one.now, one.edge_now)), 1):
        cells.put(2, top + line, clipped(label, LABEL - 3), Role.FAINT)
        cells.put(LABEL, top + line, "─" * (room + 1), Role.FRAME)
        left, right = column(edge.low), column(edge.high)
        cells.put(left, top + line, "━" * (right - left + 1), Role.MEASURED)
        cells.put(column(edge.median), top + line, "┃", Role.LIT)
        if known:
            cells.put(column(known[0]), top + line, "│", Role.TEXT)
        cells.put_right(cells.width, top + line, f" {_words(one, edge)}", Role.FAINT)
    role = Role.UNKNOWN
    if one.moved.differs >= SURE:
        role = Role.FAILED if one.moved.lower > one.moved.higher else Role.HELD
    cells.put(2, top + 3, clipped(one.verdict, cells.width - 2), role)
    told = f"{one.weather} · trials {_span(one.trials_then)} and {_span(one.trials_now)}"
    cells.put(2, top + 4, clipped(told, cells.width - 2), Role.FAINT)


def _words(one: DriftRow, edge: EdgeEstimate) -> str:
    return f"{one.knob.between(edge.low):.0f} to {one.knob.between(edge.high):.0f}"


def _span(numbers: tuple[int, ...]) -> str:
    return f"{numbers[0]} to {numbers[-1]}" if len(numbers) > 1 else str(numbers[0])
