"""The Night picture in terminal cells: a spine with the legs down it, to its left what each cost, to its right what it
gained.
"""

from tenaz.core.base.outcomes import Verdict
from tenaz.pictures.drawing.blank import draw_blank
from tenaz.pictures.drawing.cells import Cells, clipped, wrapped
from tenaz.pictures.drawing.marks import NEXT, Role, mark_of
from tenaz.pictures.night.model import LegDrawn, NightPicture, morning

NOTHING_YET = (
    "No night was begun on this rig. A night tunes the whole of it alone: processor, data rate, timings, refresh, "
    "voltages down, hours where they pay, and at the end the proof that its purpose asks for."
)
KEY = "a›n   begin one, from stock"
LEAST_WIDTH = 60
NAMES, COSTS = 16, 22
COST, GAIN, HALF_GAIN, LOSS, SPINE = "▒", "█", "▌", "░", "│"
HOURS_A_CELL, GAIN_A_CELL = 0.5, 0.01
MOST_GAIN = 16
HALF, LEAST_TOLD = 0.5, 0.0005
TAIL = 8
"""Rows under the route: what the morning asks, and where it stands."""


def draw_night(picture: NightPicture | None, width: int, height: int) -> Cells:
    """Draw it; why legs ended is told where there is room."""
    cells = Cells(width, height)
    if picture is None:
        return draw_blank(cells, NOTHING_YET, KEY)
    if width < LEAST_WIDTH:
        return draw_blank(cells, "too little room for the night")
    state = "proven" if picture.proven else "over, not proven" if picture.over else "under way"
    head = f"{picture.rig} · {state} · {picture.hours:.1f} h · {picture.expected} expected · {picture.purpose}"
    cells.put(0, 0, clipped(head, width), Role.LIT)
    what = "heat" if picture.quiet else "score"
    key = f"{COST} half an hour   {GAIN} a percent of the {what}   {LOSS} given up for what comes"
    cells.put(0, 1, clipped(key, width), Role.FAINT)
    rows = height - 3 - TAIL
    every = 2 if rows >= 2 * len(picture.legs) + 1 else 1
    row = 3
    for leg in picture.legs[-max(1, rows // every) :]:
        _leg(cells, row, leg, every > 1)
        row += every
    spine = NAMES + COSTS
    if picture.to_come:
        cells.put(spine, row, "┆", Role.FAINT)
        cells.put(
            spine + 2, row, clipped(f"to come: {', '.join(picture.to_come)}, proof", width - spine - 2), Role.FAINT
        )
        row += 1
    _morning(cells, picture, row + 1)
    return cells


def _leg(cells: Cells, row: int, leg: LegDrawn, told: bool) -> None:
    spine, width = NAMES + COSTS, cells.width
    cells.put(0, row, clipped(leg.name, NAMES - 1), Role.LIT if leg.now else Role.TEXT)
    room = COSTS - 8
    bar = min(room, round(leg.hours / HOURS_A_CELL)) if leg.hours < room * HOURS_A_CELL else room
    cells.put_right(spine - 1, row, COST * max(bar, 1 if leg.hours else 0), Role.GUARD)
    cells.put_right(spine - 1 - room - 1, row, f"{leg.hours:.1f} h", Role.FAINT)
    cells.put(spine, row, NEXT.sign if leg.now else SPINE, Role.LIT if leg.now else Role.FRAME)
    gains = _bar(leg.gained)
    cells.put(spine + 2, row, gains, Role.HELD if leg.gained > 0 else Role.FAINT)
    at = spine + 2 + len(gains) + (1 if gains else 0)
    gained = f"{leg.gained:+.1%} " if abs(leg.gained) >= LEAST_TOLD else ""
    moved = ", ".join(leg.moved) or ("goes on" if leg.now else "stays" if told else leg.why)
    cells.put(at, row, clipped(gained + moved, width - at), Role.TEXT if leg.moved or leg.now else Role.FAINT)
    if not told:
        return
    cells.put(spine, row + 1, SPINE, Role.FRAME)
    held = sum(outcome.verdict is Verdict.PASS for _, outcome in leg.trials)
    marks = "".join(mark_of(outcome).sign for _, outcome in leg.trials)
    tally = f"{held} held, {leg.failed} failed"
    left = clipped(marks, spine - 2)
    for at, sign in enumerate(left):
        role = next((mark_of(o).role for _, o in leg.trials[at : at + 1]), Role.FAINT)
        cells.put(at, row + 1, sign, role)
    cells.put(spine + 2, row + 1, clipped(f"{tally}; {leg.why}" if leg.why else tally, width - spine - 2), Role.FAINT)


def _bar(gained: float) -> str:
    """A cell a percent; the last may be half."""
    whole, rest = divmod(abs(gained) / GAIN_A_CELL, 1)
    if gained < 0:
        return LOSS * min(MOST_GAIN, round(abs(gained) / GAIN_A_CELL))
    return GAIN * min(MOST_GAIN, int(whole)) + (HALF_GAIN if rest >= HALF and whole < MOST_GAIN else "")


def _morning(cells: Cells, picture: NightPicture, row: int) -> None:
    for word, line in morning(picture):
        cells.put(0, row, word, Role.LIT)
        for text in wrapped(line, cells.width - 9)[:3]:
            cells.put(9, row, text, Role.TEXT)
            row += 1
    if not picture.over:
        for text in wrapped(picture.words, cells.width)[:2]:
            cells.put(0, row, text, Role.MEASURED)
            row += 1
