"""Quantiles of Student's distribution, without a library: they are needed where nothing heavy may be loaded."""

import math
from statistics import NormalDist


def student(freedom: float, confidence: float) -> float:
    """The value that Student's t stays within on both sides with this confidence.

    Exact for one and two degrees of freedom; beyond, the expansion of Abramowitz and Stegun (26.7.5) around the normal
    quantile, which is right to a part in 100 from three degrees on, and to a part in 1000 from five.
    """
    upper = (1 + confidence) / 2
    if freedom < 1.5:
        return math.tan(math.pi * (upper - 0.5))
    if freedom < 2.5:
        part = 2 * upper - 1
        return part * math.sqrt(2 / (1 - part * part))
    x = NormalDist().inv_cdf(upper)
    terms = (
        (x**3 + x) / 4,
        (5 * x**5 + 16 * x**3 + 3 * x) / 96,
        (3 * x**7 + 19 * x**5 + 17 * x**3 - 15 * x) / 384,
        (79 * x**9 + 776 * x**7 + 1482 * x**5 - 1920 * x**3 - 945 * x) / 92160,
    )
    return x + sum(term / freedom**power for power, term in enumerate(terms, 1))
