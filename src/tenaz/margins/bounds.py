"""Exact bounds of a share: Clopper–Pearson (1934)."""

import math
from collections.abc import Callable


def share_bounds(successes: int, trials: int, confidence: float = 0.95) -> tuple[float, float]:
    """Lower and upper bound of a probability that showed itself so many times in so many trials, each side with half
    of what the confidence leaves.
    """
    tail = (1.0 - confidence) / 2
    low = 0.0 if successes == 0 else _where(lambda p: _at_least(successes, trials, p), tail)
    high = 1.0 if successes == trials else _where(lambda p: 1.0 - _at_least(successes + 1, trials, p), tail, False)
    return low, high


def _where(chance: Callable[[float], float], tail: float, rising: bool = True) -> float:
    low, high = 0.0, 1.0
    for _ in range(60):
        middle = (low + high) / 2
        below = chance(middle) < tail
        low, high = (middle, high) if below is rising else (low, middle)
    return (low + high) / 2


def _at_least(successes: int, trials: int, p: float) -> float:
    """The chance of so many successes or more."""
    if p <= 0.0:
        return float(successes <= 0)
    if p >= 1.0:
        return 1.0
    logs = [_log_term(k, trials, p) for k in range(successes, trials + 1)]
    if not logs:
        return 0.0
    most = max(logs)
    return min(1.0, math.exp(most) * sum(math.exp(one - most) for one in logs))


def _log_term(k: int, n: int, p: float) -> float:
    ways = math.lgamma(n + 1) - math.lgamma(k + 1) - math.lgamma(n - k + 1)
    return ways + k * math.log(p) + (n - k) * math.log1p(-p)
