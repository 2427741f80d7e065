"""The Scores picture in terminal cells: dots with intervals on one scale of percent, and two curves."""

import math
from collections.abc import Sequence
from typing import TypeVar

from tenaz.core.base.amounts import show_bytes
from tenaz.core.scores.gains import LEAST_GAIN, Comparison, Gain, Worth
from tenaz.core.scores.score import Score, show_value
from tenaz.pictures.drawing.cells import Cells, clipped, wrapped
from tenaz.pictures.drawing.marks import Role
from tenaz.pictures.scores.model import Curve, MeasuredStep, ScoresPicture

Shown = TypeVar("Shown")

LABEL, PAPER_LABEL = 26, 40
WORDS = 30
LEAST_WIDTH = 70
LEAST_REACH = 0.02
"""A scale of percent reaches at least so far to both sides."""
CURVE_ROWS = 7
MOST_TOLD = 3
ROLES = {Worth.PAYS: Role.HELD, Worth.DOES_NOT: Role.FAINT, Worth.TOO_NOISY: Role.UNKNOWN}
NOTHING_YET = (
    "Nothing was measured yet. A score says what a step gains; it is told in percent against another setpoint, "
    "with its noise, so both must be measured."
)
KEYS = (
    "m›m   measure what is set now (a minute), in turn with stock, or type a figure of your own",
    "m›a   tell scores against another setpoint than stock",
)


def draw_scores(picture: ScoresPicture | None, width: int, height: int, skip: int = 0) -> Cells:
    """What is in force against another setpoint; ``skip`` lines of figures are scrolled away."""
    cells = Cells(width, height)
    if picture is None:
        cells.put(0, 0, "looking it up …", Role.UNKNOWN)
        return cells
    if width < LEAST_WIDTH:
        cells.put(0, 0, "too little room for the scores", Role.UNKNOWN)
        return cells
    return _drawn(cells, picture, skip, LABEL)


def draw_scores_on_paper(picture: ScoresPicture, width: int) -> Cells:
    """All figures, nothing cut, and no keys."""
    count = len(picture.comparison.gains if picture.comparison is not None else picture.newest)
    cells = Cells(width, 4 * CURVE_ROWS + count + len(picture.steps) + len(picture.alone) + len(picture.limits))
    return _drawn(cells, picture, 0, PAPER_LABEL, on_paper=True)


def _drawn(cells: Cells, picture: ScoresPicture, skip: int, label: int, on_paper: bool = False) -> Cells:
    width = cells.width
    row = 0 if on_paper and picture.comparison is None else _head(cells, picture, on_paper)
    if picture.comparison is not None:
        row = _gains(cells, picture.comparison.gains, row, skip, label)
    elif picture.newest:
        row = _plain(cells, picture.newest, row, skip)
    row = _curves(cells, picture.curves, row)
    row = _steps(cells, [one for one in picture.steps if not one.now], row, picture.before)
    for text, role in _lines(picture):
        for line in wrapped(text, width):
            cells.put(0, row, line, role)
            row += 1
    return cells


def _head(cells: Cells, picture: ScoresPicture, on_paper: bool) -> int:
    comparison = picture.comparison
    if comparison is None:
        lines = [NOTHING_YET] if not picture.newest and not picture.steps else [_owed(picture)]
        row = 0
        for text in (*lines, "", *KEYS):
            for line in wrapped(text, cells.width) or [""]:
                cells.put(0, row, line, Role.TEXT if text in KEYS else Role.FAINT)
                row += 1
        return row + 1
    title = f"{picture.rig}: set now against {picture.before} ({picture.changed})"
    cells.put(0, 0, clipped(title, cells.width), Role.TEXT)
    cells.put(0, 1, clipped(_verdict(comparison), cells.width), ROLES[comparison.worth])
    turned = all(one.in_turn for one in comparison.leading)
    told = "" if on_paper else ": m›m does that, and tells a drift from a gain"
    how = "in turn" if turned else f"not in turn{told}"
    noise = f"{comparison.before} measures before, {comparison.after} now, {how}"
    cells.put(0, 2, clipped(f"{noise} · ├ ┤ 95 % all together · ┊ the least that pays", cells.width), Role.FAINT)
    return 4


def _verdict(comparison: Comparison) -> str:
    """What it comes to, and by which figures above all."""
    told = [one for one in comparison.leading if one.worth is Worth.PAYS or one.high < 0]
    telling = told or comparison.leading
    most = sorted(telling, key=lambda one: -abs(one.gain))[:MOST_TOLD]
    figures = " · ".join(f"{one.figure.what} {100 * one.gain:+.1f} %" for one in most)
    return f"{comparison.verdict.upper()}  {figures}"


def _owed(picture: ScoresPicture) -> str:
    if not picture.newest:
        return f"What is set now was not measured yet; {len(picture.steps)} other setpoints were."
    if picture.changed == "nothing differs":
        return f"What is set now is {picture.before}: here is how fast it is. Set something else to see what it gains."
    return f"{picture.before} was not measured yet: nothing to compare with. m›m measures both in turn."


def _gains(cells: Cells, gains: Sequence[Gain], row: int, skip: int, name: int) -> int:
    ordered = sorted(gains, key=lambda one: (not one.figure.own, not one.figure.leads))
    shown = _in_sight(ordered, max(3, cells.height - row - CURVE_ROWS - 9), skip)
    reach = max(LEAST_REACH, *(abs(side) for one in ordered for side in (one.low, one.high)))
    reach = _round_up(min(reach, 1.0))
    room = cells.width - name - WORDS

    def column(part: float) -> int:
        return name + round((max(-reach, min(reach, part)) + reach) / (2 * reach) * (room - 1))

    for one in shown:
        judged = one.figure.leads or one.figure.own
        cells.put(0, row, clipped(_label(one), name - 1), Role.TEXT if judged else Role.FAINT)
        cells.put(column(0.0), row, "│", Role.FRAME)
        cells.put(column(LEAST_GAIN), row, "┊", Role.GUARD)
        role = Role.FAILED if one.high < 0 else ROLES[one.worth]
        left, right = column(one.low), column(one.high)
        cells.put(left, row, "─" * (right - left + 1), role)
        cells.put(left, row, "├" if one.low >= -reach else "<", role)
        cells.put(right, row, "┤" if one.high <= reach else ">", role)
        cells.put(column(one.gain), row, "●", role)
        values = f"{show_value(one.before)} → {show_value(one.after)} {one.figure.unit}"
        cells.put_right(cells.width, row, values, Role.FAINT)
        cells.put(name + room + 1, row, f"{100 * one.gain:+.1f} %", role)
        row += 1
    hidden = len(ordered) - len(shown)
    for part in (-reach, 0.0, reach):
        text = f"{100 * part:+g} %" if part else "0"
        cells.put(max(0, column(part) - len(text) // 2), row, text, Role.FAINT)
    if hidden:
        cells.put_right(cells.width, row, f"{hidden} more: ↓", Role.LIT)
    return row + 2


def _label(one: Gain) -> str:
    figure = one.figure
    size = f" {show_bytes(figure.size_bytes)}" if figure.size_bytes else ""
    return f"{figure.what}{size}{f' {figure.cores.value[:3]}' if figure.cores else ''}"


def _round_up(part: float) -> float:
    """To a percentage that reads well."""
    return next(one for one in (0.02, 0.05, 0.1, 0.2, 0.5, 1.0) if part <= one + 1e-9)


def _in_sight(rows: list[Shown], room: int, skip: int) -> list[Shown]:
    first = max(0, min(skip, len(rows) - room))
    return rows[first : first + room]


def _plain(cells: Cells, scores: Sequence[Score], row: int, skip: int) -> int:
    ordered = sorted(scores, key=lambda one: (not one.figure.own, not one.figure.leads))
    shown = _in_sight(ordered, max(3, cells.height - row - CURVE_ROWS - 7), skip)
    for one in shown:
        role = Role.TEXT if one.figure.leads or one.figure.own else Role.FAINT
        cells.put(0, row, clipped(one.figure.name, LABEL + 12), role)
        cells.put(LABEL + 14, row, one.show(), role)
        if one.of_possible is not None:
            cells.put(LABEL + 38, row, f"{100 * one.of_possible:.0f} % of the bus", Role.FAINT)
        row += 1
    hidden = len(ordered) - len(shown)
    if hidden:
        cells.put_right(cells.width, row, f"{hidden} more: ↓", Role.LIT)
    return row + 1


def _curves(cells: Cells, curves: Sequence[Curve], row: int) -> int:
    if not curves or row + CURVE_ROWS + 2 > cells.height:
        return row
    each = cells.width // len(curves)
    for number, curve in enumerate(curves):
        _curve(cells, curve, number * each, row, each - 3)
    return row + CURVE_ROWS + 2


def _curve(cells: Cells, curve: Curve, left: int, top: int, width: int) -> None:
    """One figure against block size: the value upwards by its logarithm, a column a size."""
    values = [v for one in curve.points for v in (one.before, one.now) if v]
    low, high = math.log(min(values)), math.log(max(values))
    step = width // len(curve.points)

    def line(value: float) -> int:
        part = (math.log(value) - low) / (high - low) if high > low else 0.5
        return top + CURVE_ROWS - 1 - round(part * (CURVE_ROWS - 2))

    cells.put(left, top, f"{curve.title}, {curve.unit}, one core   ○ before  ● now", Role.FAINT)
    for number, one in enumerate(curve.points):
        at = left + number * step + 2
        for value, sign, role in ((one.before, "○", Role.UNKNOWN), (one.now, "●", Role.LIT)):
            if value:
                cells.put(at, line(value), sign, role)
        value = one.now or one.before
        if value:
            cells.put(at + 2, line(value), show_value(value), Role.TEXT)
        cells.put(at - 2, top + CURVE_ROWS, show_bytes(one.size_bytes), Role.FAINT)


def _steps(cells: Cells, steps: Sequence[MeasuredStep], row: int, before: str) -> int:
    if not steps or row + 2 > cells.height:
        return row
    cells.put(0, row, f"other setpoints against {before}", Role.FAINT)
    row += 1
    for one in steps:
        worth = one.comparison.worth
        lead = one.comparison.leading
        best = max(lead, key=lambda gain: abs(gain.gain), default=None)
        told = f" ({best.figure.what} {best.show()})" if best is not None else ""
        drop = ": drop it" if worth is Worth.DOES_NOT and not one.failed else ""
        failed = ", and it failed" if one.failed else ""
        text = f"{one.words}: {one.comparison.verdict}{told}{drop}{failed}"
        cells.put(0, row, clipped(text, cells.width), Role.FAILED if one.failed else ROLES[worth])
        row += 1
    return row + 1


def _lines(picture: ScoresPicture) -> list[tuple[str, Role]]:
    known = {one.figure.identity for one in picture.comparison.gains} if picture.comparison is not None else set()
    alone = [one for one in picture.newest if one.figure.own and one.figure.identity not in known]
    lines = [(f"yours: {one.figure.name} {one.show()}; not known at {picture.before}", Role.TEXT) for one in alone]
    for step in picture.alone:
        drop = ": drop it" if step.to_drop else ""
        lines.append((f"alone: {step.words} {step.comparison.verdict}{drop}", ROLES[step.comparison.worth]))
    lines += [(f"held by {text}", Role.TEXT) for text in picture.limits]
    if picture.per_watt:
        lines.append((f"watts: {' · '.join(picture.per_watt)}", Role.TEXT))
    lines += [(text, Role.UNKNOWN) for text in picture.unfinished[-2:]]
    return lines
