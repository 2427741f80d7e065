"""The Margins picture in terminal cells: a way a knob, each on its own scale, and under it what it comes to."""

from tenaz.core.base.amounts import show_sure
from tenaz.core.knobs.knob import show_steps
from tenaz.margins.safety import Safety
from tenaz.margins.worth import LIKELIER_NOT
from tenaz.pictures.drawing.cells import Cells, clipped, wrapped
from tenaz.pictures.drawing.marks import Role
from tenaz.pictures.margins.model import MOST_RESERVE_K, MarginRow, MarginsPicture, figure_h, show_hours_between
from tenaz.pictures.margins.old_edges import moves_words, old_edge_words

LABEL, PAPER_LABEL = 16, 30
LINES = 5
HEAD_AND_FOOT = 9
LEAST_WIDTH = 48
BEFORE_LINES = 6
"""Kept free under the knobs for edges of before."""
LEGEND = "│ in use   ▾ advised   ━ edge lies here, 95 %   ● held   ✗ failed"
NOTHING_YET = (
    "No knob was moved from what is in use yet. A margin is the way from the value in use to the edge: at least two "
    "values of a knob must have been tried, all others as they are now."
)


def draw_margins(picture: MarginsPicture | None, width: int, height: int, in_hand: str = "", skip: int = 0) -> Cells:
    """Draw it; ``in_hand`` names the knob that is selected, ``skip`` how many knobs are scrolled away."""
    cells = Cells(width, height)
    if picture is None or not picture.rows:
        row = _nothing(cells)
        if picture is not None:
            cells.put(0, row, clipped(picture.safety.words, width), safety_role(picture.safety))
            _before(cells, picture, row + 2)
        return cells
    if width < LEAST_WIDTH:
        cells.put(0, 0, "too little room for the margins", Role.UNKNOWN)
        return cells
    cells.put(0, 0, clipped(f"from what is in use to the edge for {picture.tolerance.in_use()}", width), Role.TEXT)
    cells.put(0, 1, clipped(LEGEND, width), Role.FAINT)
    cells.put(0, 2, clipped(picture.safety.brief, width), safety_role(picture.safety))
    row = 3
    for words in picture.safety.not_shown:
        cells.put(0, row, clipped(f"not shown: {words}", width), Role.FAINT)
        row += 1
    row += 1
    kept = min(BEFORE_LINES, _rows_before(picture))
    room = max(1, (height - row - 3 - kept) // LINES)
    first = max(0, min(skip, len(picture.rows) - room))
    for one in picture.rows[first : first + room]:
        _draw_row(cells, one, row, one.knob.name == in_hand, LABEL)
        row += LINES
    hidden = len(picture.rows) - min(len(picture.rows), room)
    if hidden:
        cells.put_right(width, 1, f" {hidden} more: ↓", Role.LIT)
    for line in wrapped(f"next hour: {picture.worth}", width):
        cells.put(0, row, line, Role.LIT)
        row += 1
    row = _before(cells, picture, row)
    if picture.still:
        words = f"not moved from here: {', '.join(picture.still)}"
        cells.put(0, row, clipped(words, width), Role.FAINT)
    return cells


def draw_margins_on_paper(picture: MarginsPicture, width: int) -> Cells:
    """All knobs, nothing cut, and nothing of what one might do next."""
    cells = Cells(width, rows_for(picture) + len(picture.still))
    cells.put(0, 0, f"from what is in use to the edge for {picture.tolerance.in_use()}")
    cells.put(0, 1, LEGEND, Role.FAINT)
    told = [picture.safety.brief, *(f"not shown: {words}" for words in picture.safety.not_shown)]
    for row, words in enumerate(told, 2):
        cells.put(0, row, words, safety_role(picture.safety) if row == 2 else Role.FAINT)
    row = 3 + len(told)
    for one in picture.rows:
        _draw_row(cells, one, row, False, PAPER_LABEL)
        row += LINES
    row = _before(cells, picture, row)
    if picture.still:
        for line in wrapped(f"not moved from here: {', '.join(picture.still)}", width):
            cells.put(0, row, line, Role.FAINT)
            row += 1
    return cells


def rows_for(picture: MarginsPicture) -> int:
    """Rows in which all of it is shown."""
    return HEAD_AND_FOOT + len(picture.safety.not_shown) + LINES * len(picture.rows) + _rows_before(picture)


def _rows_before(picture: MarginsPicture) -> int:
    return 2 * len(picture.old) + len(picture.moves) + 2 if picture.old or picture.moves else 0


def _nothing(cells: Cells) -> int:
    row = 0
    for text, role in ((NOTHING_YET, Role.FAINT), ("c   climb along the selected knob", Role.TEXT)):
        for line in wrapped(text, max(1, cells.width)):
            cells.put(0, row, line, role)
            row += 1
        row += 1
    return row


def _before(cells: Cells, picture: MarginsPicture, row: int) -> int:
    """Edges that were found while other values stood, and what moves with what."""
    if picture.old or picture.moves:
        cells.put(0, row + 1, "found while other values stood", Role.TEXT)
        row += 2
    for old in picture.old:
        role = Role.LIT if old.check is not None else Role.FAINT
        for line in wrapped(old_edge_words(picture.rig, old), cells.width):
            cells.put(0, row, line, role)
            row += 1
    for pair in picture.moves:
        cells.put(0, row, clipped(moves_words(pair), cells.width), Role.MEASURED if pair.seen else Role.FAINT)
        row += 1
    return row + 1 if picture.old or picture.moves else row


def _draw_row(cells: Cells, one: MarginRow, top: int, in_hand: bool, label: int) -> None:
    cells.aim(0, top, cells.width, ("named", one.knob.name), height=LINES - 1)
    cells.put(0, top, "▸" if in_hand else " ", Role.LIT)
    cells.put(2, top, clipped(one.knob.label, label - 3), Role.LIT if in_hand else Role.TEXT)
    cells.put(2, top + 1, clipped(one.knob.show(one.in_use), label - 3), Role.TEXT)
    cells.put(2, top + 2, clipped(f"under {one.kind}", label - 3), Role.FAINT)
    _way(cells, one, top, label)
    words = margin_words(one)
    for line, (text, role) in enumerate(zip(words, (Role.TEXT, Role.MEASURED, Role.FAINT), strict=True), 1):
        cells.put(label, top + line, clipped(text, cells.width - label), role)


def _way(cells: Cells, one: MarginRow, row: int, left: int) -> None:
    """The way itself, easy at the left, to its own scale."""
    knob, edge = one.knob, one.judged.edge
    known = [float(one.strain), edge.low, edge.high]
    marks = {one.bracket.held: ("●", Role.HELD), one.bracket.failed: ("✗", Role.FAILED), one.stand: ("▾", Role.LIT)}
    places = [(knob.strain(value), sign, role) for value, (sign, role) in marks.items() if value is not None]
    known += [float(strain) for strain, _, _ in places]
    low, high = min(known) - 0.5, max(known) + 0.5
    room = cells.width - left - 1

    def column(strain: float) -> int:
        return left + round((strain - low) / max(high - low, 1e-9) * room)

    cells.put(left, row, "─" * (room + 1), Role.FRAME)
    cells.put(column(edge.low), row, "━" * (column(edge.high) - column(edge.low) + 1), Role.MEASURED)
    for strain, sign, role in places:
        cells.put(column(strain), row, sign, role)
    cells.put(column(one.strain), row, "│", _in_use_role(one))


def _in_use_role(one: MarginRow) -> Role:
    if one.sure is None:
        return Role.UNKNOWN
    return Role.HELD if one.sure >= one.judged.edge.tolerance.confidence else Role.FAILED


def safety_role(safety: Safety) -> Role:
    """How the verdict on a setpoint looks: safe, falling short, more likely wrong than right, not known."""
    if safety.sure is None:
        return Role.UNKNOWN
    return Role.HELD if safety.as_asked else Role.FAILED if safety.sure < LIKELIER_NOT else Role.LIT


def warmth_words(reserve_k: float) -> str:
    """How much warmer it may get."""
    most = "over " if abs(reserve_k) >= MOST_RESERVE_K else ""
    return f"{most}{abs(reserve_k):.0f} °C {'left' if reserve_k >= 0 else 'too warm'}"


def margin_words(one: MarginRow) -> tuple[str, str, str]:
    """A margin in three lines: how far, what that means in hours, and what lies between."""
    low, middle, high = one.steps
    unit = f" {one.knob.unit}".rstrip()
    percent = "" if one.percent is None else f", {one.percent:+.1f} %"
    way = f"{middle:+.1f} steps ({low:+.1f} to {high:+.1f}), {one.in_units:+.0f}{unit}{percent}"
    sure = "never tried here" if one.sure is None else f"by this knob {show_sure(one.sure)}"
    failed = one.bracket.failed
    guard = (
        "nothing failed yet" if failed is None else f"{show_steps(one.guard_steps or 0)} before {failed}{unit} failed"
    )
    warm = "warmth not measured" if one.reserve_k is None else warmth_words(one.reserve_k)
    if one.nearer_by_10_k is not None:
        warm += f", 10 K warmer is {one.nearer_by_10_k:.1f} steps nearer"
    shown = f"tested ≥ {figure_h(one.shown_h)}" if one.shown_h else "nothing tested here"
    hours = f"hours between errors: {shown}, model {show_hours_between(one.rate)}"
    stand = "" if one.stand is None else f" · advised {one.knob.show(one.stand)}"
    return f"{way} · {sure}", hours, f"{warm}{stand} · {guard}"
