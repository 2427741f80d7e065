"""The Field picture in terminal cells: the second knob upwards, the first to the right, harder is further out."""

from tenaz.pictures.drawing.blank import draw_blank
from tenaz.pictures.drawing.cells import Cells, clipped, wrapped
from tenaz.pictures.drawing.marks import NEXT, Role, mark_of
from tenaz.pictures.field.model import SURE, FieldPicture
from tenaz.search.extending import Least, less_life, more_heat

NOTHING_YET = (
    "No field was begun on this rig. A field says of two knobs together which pairs of values hold: about twenty "
    "trials for 144 pairs."
)
KEY = "a›f   begin one over the knob in hand and another"
LEAST_WIDTH = 40
INFERRED, TOLERATED, OPEN, FAILS = "░", "▓", "?", "·"
AREAS = (INFERRED, TOLERATED)
LIKELY = 0.5
CONTOUR = 0.02
"""Contours of the score are so far apart."""


def draw_field(picture: FieldPicture | None, width: int, height: int, dialled: tuple[int, int] | None = None) -> Cells:
    """Draw it; ``dialled`` is the cell of the dialled values."""
    cells = Cells(width, height)
    if picture is None:
        return draw_blank(cells, NOTHING_YET, KEY)
    if width < LEAST_WIDTH:
        return draw_blank(cells, "too little room for the field")
    first, second = picture.knobs
    cells.put(0, 0, clipped(f"{first.label} to the right, {second.label} upwards · {picture.load}", width), Role.TEXT)
    follows = f"{INFERRED} follows: holds  {TOLERATED} safe  {OPEN} open  {FAILS} fails"
    legend = f"● held ✗ failed  {follows}  {NEXT.sign} next"
    cells.put(0, 1, clipped(legend, width), Role.FAINT)
    label = 2 + max(len(str(value)) for value in picture.values[1])
    pitch = max(2, min(6, (width - label - 2) // len(picture.values[0])))
    rows, best = len(picture.values[1]), picture.fastest_safe
    top = 3
    for row in range(rows):
        at = top + rows - 1 - row
        cells.put_right(label, at, str(picture.values[1][row]), Role.FAINT)
        for column in range(len(picture.values[0])):
            sign, role = _sign(picture, (column, row))
            if (column, row) == best:
                role = Role.LIT
            left = label + 2 + column * pitch
            # What follows is an area, what was tried a sign in it.
            cells.put(left, at, sign * (pitch - 1) if sign in AREAS else sign, role)
            contour = _contour(picture, (column, row))
            if contour is not None and sign in AREAS and len(contour) < pitch:
                cells.put(left, at, contour, Role.MEASURED)
            cells.aim(left - 1, at, pitch, ("cell", column * rows + row))
            if (column, row) == dialled:
                cells.put(left - 1, at, "[", Role.LIT)
                cells.put(left + 1, at, "]", Role.LIT)
    _columns(cells, picture, label, pitch, top + rows)
    _words(cells, picture, top + rows + 2, dialled)
    return cells


def _sign(picture: FieldPicture, cell: tuple[int, int]) -> tuple[str, Role]:
    if cell == picture.following:
        return NEXT.sign, NEXT.role
    tried = picture.tried.get(cell)
    if tried is not None:
        mark = mark_of(tried.newest)
        return mark.sign, mark.role
    holds = picture.holds[cell[0]][cell[1]]
    if cell in picture.tolerated:
        return TOLERATED, Role.HELD
    if holds >= SURE:
        return INFERRED, Role.HELD
    return (FAILS, Role.FAILED) if holds <= 1 - SURE else (OPEN, Role.LIT)


def _contour(picture: FieldPicture, cell: tuple[int, int]) -> str | None:
    """The percent that a contour stands for, in the first cell of each row beyond it; None elsewhere."""
    if not picture.faster:
        return None
    column, row = cell
    here, before = (int(picture.faster[at][row] / CONTOUR) for at in (column, max(0, column - 1)))
    return f"+{round(100 * CONTOUR * here)}" if here > before or (column == 0 and here > 0) else None


def _columns(cells: Cells, picture: FieldPicture, label: int, pitch: int, row: int) -> None:
    """Values of the first knob under their columns, as many as have room."""
    free = 0
    for column, value in enumerate(picture.values[0]):
        text, left = str(value), label + 2 + column * pitch
        if left >= free:
            cells.put(left, row, text, Role.FAINT)
            free = left + len(text) + 1


def _words(cells: Cells, picture: FieldPicture, row: int, dialled: tuple[int, int] | None) -> None:
    lines = [(picture.words, Role.LIT)]
    best = picture.fastest_safe
    if best is not None:
        measured = best in picture.scores or bool(picture.faster)
        what = "fastest that is sure" if measured else "hardest that is sure"
        score = f", {picture.scores[best]:.4g} {picture.score_unit}" if best in picture.scores else ""
        if not score and picture.faster:
            score = f", about {picture.faster[best[0]][best[1]]:+.0%}"
        lines.append((f"{what}: {_named(picture, best)}{score}", Role.HELD))
    if picture.faster:
        lines.append((f"+2, +4 …: percent faster than at the easiest cell, {picture.score_unit} fitted", Role.FAINT))
    if picture.following is not None:
        passes = f"a cell right beyond the boundary passes {picture.false_pass:.0%} of trials"
        lines.append((f"{picture.sure:.0%} sure that 95 % of the cells are right; {passes}", Role.FAINT))
    lines += [(text, Role.MEASURED) for text in least_words(picture)]
    if dialled is not None:
        tried = picture.tried.get(dialled)
        told = ", ".join(f"trial {n} {mark_of(outcome).word}" for n, outcome in tried.trials) if tried else "not tried"
        score = f"; {picture.scores[dialled]:.4g} {picture.score_unit}" if dialled in picture.scores else ""
        chance = picture.holds[dialled[0]][dialled[1]]
        here = f"[ ] {_named(picture, dialled)}: {told}; {chance:.0%} holds{score}"
        lines.append((f"{here} · t tries it, a›p queues it", Role.TEXT))
    for text, role in lines:
        for line in wrapped(text, cells.width):
            cells.put(0, row, line, role)
            row += 1


def least_words(picture: FieldPicture) -> tuple[str, ...]:
    """The least voltage at the hardest that was tried, and one step further, with what that costs."""
    if not picture.least:
        return ()
    (first, second), known = picture.knobs, [one for one in picture.least if not one.extended]

    def told(one: Least) -> str:
        return f"{second.label} {one.middle:.0f} {second.unit} ({one.low:.0f} to {one.high:.0f})"

    lines = [f"least at {first.show(known[-1].at)}: {told(known[-1])}"] if known else []
    for one in picture.least:
        if one.extended and known:
            heat = more_heat(known[-1].middle, one.middle, known[-1].at, one.at)
            life = less_life(known[-1].middle, one.middle)
            step = f"one step further, {first.show(one.at)}, the curve asks for about {told(one)}"
            costs = f"{100 * heat:+.0f} % heat in what it feeds, about {100 * life:.0f} % less life of it"
            lines.append(f"{step}; {costs}{_limited(picture, one)}")
    return tuple(lines)


def _limited(picture: FieldPicture, one: Least) -> str:
    """What else limits there, where it was looked."""
    values = picture.values[0]
    if one.at in values and picture.holds[values.index(one.at)][0] < LIKELY:
        second = picture.knobs[1]
        return f"; but nothing held there up to {second.show(picture.values[1][0])}: something else limits"
    return ""


def _named(picture: FieldPicture, cell: tuple[int, int]) -> str:
    return ", ".join(
        f"{knob.label} {knob.show(values[at])}"
        for knob, values, at in zip(picture.knobs, picture.values, cell, strict=True)
    )
