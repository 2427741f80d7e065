"""What a step gained: measures at two setpoints against each other, and whether what was gained is more than noise.

Logarithms of the medians are fitted by a level for each of the two and, where both were measured in turn (A B B A), by
a drift along their order. A measure is off by what its repeats tell, and by what differs from one start to the next,
which repeats within one start cannot see: that part has a prior (:data:`START_NOISE`, worth :data:`PRIOR_FREEDOM`
measures) and is learnt from the residuals. Intervals are Student's with both together; several figures at once share
the chance of a false alarm (Bonferroni).
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise

from tenaz.core.base.student import student
from tenaz.core.scores.score import Figure, Measure, Score

START_NOISE = 0.003
"""How much the same setpoint differs from start to start, as a part: pages elsewhere, other training."""
UNPAIRED_NOISE = 0.006
"""The same where the two were not measured in turn: other weather, other things at work."""
OWN_NOISE = 0.01
"""Of one figure that was typed in once: nobody knows how it scatters."""
PRIOR_FREEDOM = 3.0
MOST_SHARED, MOST_SHARED_FIRST = 4.0, 1.0
"""What all other figures together say of a figure's noise is worth at most so many measures of its own; after one round
in turn, which leaves hardly anything of its own to check that by, hardly one.
"""
LEAST_GAIN = 0.005
"""A gain below half a percent is not worth a risk."""
MOST_MORE = 64
"""Nobody measures more often than that."""
CONFIDENCE = 0.95
IN_TURN = 4
"""Measures, two at each, that let a drift be told from a gain."""


class Worth(StrEnum):
    """What a gain is worth."""

    PAYS = "pays"
    DOES_NOT = "does not pay"
    TOO_NOISY = "too noisy to say"


@dataclass(frozen=True, slots=True)
class Gain:
    """Of one figure, as parts (0.03: three percent better): ``gain``, and the interval ``low`` to ``high``. ``more``
    measures, half at each, would tell where it is too noisy (None: not to be told by any number that one would take).
    """

    figure: Figure
    gain: float
    low: float
    high: float
    worth: Worth
    before: float
    after: float
    in_turn: bool
    more: int | None = None

    def show(self) -> str:
        """In percent."""
        return f"{100 * self.gain:+.1f} % ({100 * self.low:+.1f} to {100 * self.high:+.1f})"

    @property
    def verdict(self) -> str:
        """In words."""
        if self.worth is not Worth.TOO_NOISY:
            return self.worth.value
        if self.more is None:
            return f"{self.worth}, and no number of repeats that one would take would tell"
        how = "" if self.in_turn else ", in turn,"
        return f"{self.worth}, {self.more} more repeat{'s' if self.more != 1 else ''}{how} would tell"


@dataclass(frozen=True, slots=True)
class Comparison:
    """Two setpoints against each other: the gain of each figure that both have, and what it comes to."""

    gains: tuple[Gain, ...]
    before: int
    after: int

    @property
    def leading(self) -> tuple[Gain, ...]:
        """Those by which it is judged: the technician's own where there are any, else Tenaz's leading ones."""
        own = tuple(one for one in self.gains if one.figure.own)
        return own or tuple(one for one in self.gains if one.figure.leads)

    @property
    def worth(self) -> Worth:
        """Of the step as a whole: it pays when a leading figure does and none is shown to lose; it does not when no
        leading figure can gain enough, or one is lost and none gained.
        """
        leading = self.leading
        pays = any(one.worth is Worth.PAYS for one in leading)
        loses = any(one.high < -LEAST_GAIN for one in leading)
        if pays and not loses:
            return Worth.PAYS
        if leading and (loses or all(one.worth is Worth.DOES_NOT for one in leading)):
            return Worth.DOES_NOT
        return Worth.TOO_NOISY

    @property
    def more(self) -> int | None:
        """Measures that would tell, by the figure that needs the fewest."""
        return min((one.more for one in self.leading if one.more is not None), default=None)

    @property
    def verdict(self) -> str:
        """In words."""
        if not self.leading:
            return "nothing that was measured at both tells whether it pays"
        mixed = [one for one in self.leading if one.worth is Worth.PAYS]
        lost = [one for one in self.leading if one.high < -LEAST_GAIN]
        if mixed and lost:
            return f"gains {mixed[0].figure.what} and loses {lost[0].figure.what}: for you to weigh"
        if self.worth is not Worth.TOO_NOISY:
            return self.worth.value
        if self.more is None:
            return f"{self.worth}, and no number of repeats that one would take would tell"
        how = "" if all(one.in_turn for one in self.leading) else ", in turn,"
        return f"{self.worth}, {self.more} more repeat{'s' if self.more != 1 else ''}{how} would tell"


def compared(before: Sequence[Measure], after: Sequence[Measure], least: float = LEAST_GAIN) -> Comparison:
    """What ``after`` gained over ``before``; figures that only one has say nothing."""
    known = {score.figure.identity: score.figure for one in after for score in one.scores}
    figures = [figure for figure in known.values() if any(one.of(figure) for one in before)]
    own = any(figure.own for figure in figures)
    judged = sum(figure.own if own else figure.leads for figure in figures)
    fits = [_fitted(_points(figure, before, after)) for figure in figures]
    pooled = _pooled(fits)
    gains = tuple(_gain(figure, fit, pooled, max(1, judged), least) for figure, fit in zip(figures, fits, strict=True))
    told = [sum(any(one.of(figure) for figure in figures) for one in side) for side in (before, after)]
    return Comparison(gains, *told)


@dataclass(frozen=True, slots=True)
class _Point:
    """One measure's word on one figure: its logarithm, how far that may be off by its repeats, its side, its turn."""

    log: float
    error: float
    after: bool
    at: float


@dataclass(frozen=True, slots=True)
class _Fit:
    """Of one figure: the effect of the step, its variance for a scale of one, what is left over (in that scale), and
    its degrees of freedom.
    """

    points: Sequence[_Point]
    in_turn: bool
    effect: float
    variance: float
    squares: float
    freedom: float


def _pooled(fits: Sequence[_Fit]) -> tuple[float, float]:
    """How much noisier than the prior says all figures are together, and what that is worth for each: figures that were
    measured together share much of what differs from start to start, so it is never worth more than a few measures.
    """
    squares, freedom = sum(fit.squares for fit in fits), sum(fit.freedom for fit in fits)
    scale = (PRIOR_FREEDOM + squares) / (PRIOR_FREEDOM + freedom)
    return scale, PRIOR_FREEDOM + freedom


def _gain(figure: Figure, fit: _Fit, pooled: tuple[float, float], judged: int, least: float) -> Gain:
    usual, known = pooled
    worth_of_usual = min(MOST_SHARED if fit.freedom > 1 else MOST_SHARED_FIRST, known)
    freedom = worth_of_usual + fit.freedom
    scale = (worth_of_usual * usual + fit.squares) / freedom
    sign = 1.0 if figure.higher_is_better else -1.0
    reach = student(freedom, 1 - (1 - CONFIDENCE) / judged) * math.sqrt(scale * fit.variance)
    effect = sign * fit.effect
    worth = _worth(effect, effect - reach, effect + reach, least)
    more = _more(effect, reach, least, len(fit.points)) if worth is Worth.TOO_NOISY else None
    if worth is Worth.PAYS and not fit.in_turn:
        # A drift from the first to the last looks the same: no number of measures one after the other tells.
        worth, more = Worth.TOO_NOISY, IN_TURN
    base = [math.exp(one.log) for one in fit.points if not one.after]
    now = [math.exp(one.log) for one in fit.points if one.after]
    return Gain(
        figure,
        math.expm1(effect),
        math.expm1(effect - reach),
        math.expm1(effect + reach),
        worth,
        sum(base) / len(base),
        sum(now) / len(now),
        fit.in_turn,
        more,
    )


def _points(figure: Figure, before: Sequence[Measure], after: Sequence[Measure]) -> list[_Point]:
    """All words on a figure, in the order in which they were measured."""
    told = [
        (one.begun_utc, one.number, side, score)
        for side, measures in ((False, before), (True, after))
        for one in measures
        if (score := one.of(figure)) is not None and score.values
    ]
    told.sort(key=lambda one: one[:2])
    return [
        _Point(math.log(score.middle), _error(score), side, float(turn))
        for turn, (_, _, side, score) in enumerate(told)
    ]


def _error(score: Score) -> float:
    if score.spread is not None:
        return score.spread
    return OWN_NOISE / math.sqrt(len(score.values))


def _in_turn(sides: Sequence[bool]) -> bool:
    """Whether both were measured twice or more, and not first all of one and then all of the other."""
    if len(sides) < IN_TURN or min(sum(sides), len(sides) - sum(sides)) < IN_TURN // 2:
        return False
    return sum(one is not other for one, other in pairwise(sides)) > 1


def _fitted(points: Sequence[_Point]) -> _Fit:
    """Weighted least squares."""
    in_turn = _in_turn([one.after for one in points])
    noise = START_NOISE if in_turn else UNPAIRED_NOISE
    weights = [1.0 / (one.error**2 + noise**2) for one in points]
    middle = (len(points) - 1) / 2
    rows = [(1.0, float(one.after), *((one.at - middle,) if in_turn else ())) for one in points]
    columns = range(len(rows[0]))
    inverse = _inverse([[_sum(weights, rows, i, j) for j in columns] for i in columns])
    right = [sum(w * row[i] * one.log for w, row, one in zip(weights, rows, points, strict=True)) for i in columns]
    fit = [sum(a * b for a, b in zip(line, right, strict=True)) for line in inverse]
    fitted = [sum(a * b for a, b in zip(fit, row, strict=True)) for row in rows]
    squares = sum(w * (one.log - by) ** 2 for w, one, by in zip(weights, points, fitted, strict=True))
    return _Fit(points, in_turn, fit[1], inverse[1][1], squares, len(points) - len(fit))


def _sum(weights: Sequence[float], rows: Sequence[Sequence[float]], i: int, j: int) -> float:
    return sum(w * row[i] * row[j] for w, row in zip(weights, rows, strict=True))


def _inverse(matrix: list[list[float]]) -> list[list[float]]:
    """Of a small symmetric matrix, by Gauss and Jordan."""
    size = len(matrix)
    work = [[*row, *(float(i == j) for j in range(size))] for i, row in enumerate(matrix)]
    for i in range(size):
        pivot = max(range(i, size), key=lambda k: abs(work[k][i]))
        work[i], work[pivot] = work[pivot], work[i]
        work[i] = [x / work[i][i] for x in work[i]]
        for k in range(size):
            if k != i:
                factor = work[k][i]
                work[k] = [x - factor * y for x, y in zip(work[k], work[i], strict=True)]
    return [row[size:] for row in work]


def _worth(gain: float, low: float, high: float, least: float) -> Worth:
    if high < least:
        return Worth.DOES_NOT
    if low > 0 and gain >= least:
        return Worth.PAYS
    return Worth.TOO_NOISY


def _more(gain: float, reach: float, least: float, measures: int) -> int | None:
    """Measures to come, in rounds of four, until the interval would be narrow enough if the gain stays what it is."""
    needed = gain if gain >= least else least - gain
    if needed <= 0:
        return None
    for more in range(4, MOST_MORE + 1, 4):
        if reach * math.sqrt(measures / (measures + more)) < needed:
            return more
    return None
