"""How fast a value fails: the failure rate past and before the edge, and where a given rate is reached.

Model: ``log λ(x) = u`` per hour with ``u = (x − x*)/s``: x in grid steps of strain, x* where one failure an hour is
met, s the *slope*: steps over which the rate grows e-fold. Before x* the tail may bend: ``u·(1 + |u|/5)^c`` with a
*curvature* c, negative where failures die out more slowly than they came.
"""

import math

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


def log_tolerated(failures: float, hours: float) -> float:
    """Natural logarithm of a tolerated rate per hour."""
    return math.log(failures / hours)
