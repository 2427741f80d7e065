"""Whether a value is tolerated however failures die out: with a second weakness, on a plateau, in all the ways that few
rigs have and that no trial of some hours tells apart.
"""

from dataclasses import dataclass

import numpy as np

from tenaz.margins.hazard import Numbers, log_tolerated
from tenaz.margins.judging import Judgement
from tenaz.margins.posterior import posterior_of

MOST_H = 1e6


@dataclass(frozen=True, slots=True)
class AllTails:
    """How sure it is with all of them, and how many clean hours more at the value would make it as sure as asked."""

    sure: float
    owed_h: float


def for_all_tails(judged: Judgement, strain: int) -> AllTails:
    """Of one value under one kind of load."""
    tolerance, kind = judged.purpose.tolerance, judged.kind
    posterior = posterior_of(judged.prior.with_rare(), judged.knob, {kind: judged.seen}, coarse=True)
    grid = posterior.parameter_grid
    weights = posterior.weights(kind)
    edges = grid.edges(log_tolerated(tolerance.failures, tolerance.hours))
    tolerated = np.broadcast_to(edges >= strain / grid.width, weights.shape)
    rates = np.exp(np.minimum(grid.log_rates(strain), 50.0))
    sure = float(weights[tolerated].sum())
    return AllTails(sure, _owed_h(weights, rates, tolerated, tolerance.confidence))


def _owed_h(weights: Numbers, rates: Numbers, tolerated: np.ndarray, confidence: float) -> float:
    """Hours after which what is not tolerated would have shown itself, had it been so."""

    def sure_after(hours: float) -> float:
        left = weights * np.exp(-rates * hours)
        whole = left.sum()
        return float(left[tolerated].sum() / whole) if whole > 0 else 1.0

    if sure_after(0.0) >= confidence:
        return 0.0
    low, high = 0.0, 1.0
    while sure_after(high) < confidence and high < MOST_H:
        low, high = high, 2 * high
    for _ in range(20):
        middle = (low + high) / 2
        low, high = (low, middle) if sure_after(middle) >= confidence else (middle, high)
    return high
