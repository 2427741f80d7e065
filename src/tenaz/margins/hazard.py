"""How fast a value fails: the failure rate past and before the edge, and where a given rate is reached.

Model: ``log λ(x) = u`` per hour with ``u = (x − x*)/s``: x in grid steps of strain, x* where one failure an hour is
met, s the *slope*: steps over which the rate grows e-fold. Before x* the tail may bend: ``u·(1 + |u|/5)^c`` with a
*curvature* c, negative where failures die out more slowly than they came. Or it has a *shape* of its own: a second
weakness that dies out more slowly than the first, or a plateau on which failures grow no rarer for a while.
"""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Numbers = NDArray[np.float64]

BENDS_AT_FOLDS = 5.0
"""Over so many e-folds below the edge a curved tail shows its curvature."""


def log_rate(folds: Numbers, curvature: Numbers) -> Numbers:
    """Natural logarithm of failures an hour, so many slopes past x* (negative: before it)."""
    bent: Numbers = np.where(folds < 0, folds * (1.0 + np.abs(folds) / BENDS_AT_FOLDS) ** curvature, folds)
    return bent


def folds_below(log_rate_per_h: float, curvature: float) -> float:
    """How many slopes before x* (negative: past it) the rate is what is asked; the opposite of :func:`log_rate`."""
    if log_rate_per_h >= 0:
        return -log_rate_per_h
    low, high = 0.0, -log_rate_per_h * 20.0
    for _ in range(100):
        middle = (low + high) / 2
        reached = middle * (1.0 + middle / BENDS_AT_FOLDS) ** curvature
        low, high = (middle, high) if reached < -log_rate_per_h else (low, middle)
    return high


@dataclass(frozen=True, slots=True)
class TailShape:
    """How failures die out. ``second_folds``: the log rate of a second weakness at x*, which is ``flatter`` times as
    flat as the first (1: there is none). From ``level_folds`` on the rate stands still over ``level_long`` slopes (0:
    it does not).
    """

    curvature: float = 0.0
    second_folds: float = 0.0
    flatter: float = 1.0
    level_folds: float = 0.0
    level_long: float = 0.0

    def log_rate(self, folds: Numbers) -> Numbers:
        """Natural logarithm of failures an hour, so many slopes past x*."""
        if self.level_long:
            below = np.minimum(self.level_folds, folds + self.level_long)
            folds = np.where(folds > self.level_folds, folds, below)
        found = log_rate(folds, np.asarray(self.curvature))
        if self.flatter > 1.0:
            found = np.logaddexp(found, self.second_folds + folds / self.flatter)
        return found

    def folds_below(self, log_rate_per_h: float) -> float:
        """How many slopes before x* (negative: past it) the rate is what is asked."""
        if self.flatter <= 1.0 and not self.level_long:
            return folds_below(log_rate_per_h, self.curvature)
        low, high = -50.0, -20.0 * min(-1.0, log_rate_per_h) * max(1.0, self.flatter) + self.level_long
        for _ in range(100):
            middle = (low + high) / 2
            tolerated = float(self.log_rate(np.asarray(-middle))) <= log_rate_per_h
            low, high = (low, middle) if tolerated else (middle, high)
        return high


def log_tolerated(failures: float, hours: float) -> float:
    """Natural logarithm of a tolerated rate per hour."""
    return math.log(failures / hours)
