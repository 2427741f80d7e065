"""Factors of a Fourier transform: computed in whole numbers, and verified by an independent way.

A factor that is wrong from the start is wrong on the way there and back alike, so the transform returns its input all
the same. The table is therefore made in whole numbers of 160 bits, each entry rounded once, which gives the same bits
on any machine; and looked over before it is used: made once more, bit for bit, and compared with what the mathematics
library says.
"""

import math

import numpy as np
from numpy.typing import NDArray

Table = NDArray[np.float64]

BITS = 160
"""Of the whole numbers that stand for 1: what 2^20 steps of recurrence lose is far below the last bit of a double."""

LIBRARY_AGREES_WITHIN = 2.0**-50
"""The mathematics library is given an angle of up to 2π that is rounded already, and rounds once more."""


def factors(points: int) -> Table:
    """The table of a transform: where a stage of radix 2 comes first, exp(−2πi·j/points) of each j of its half; then
    exp(−2πi·j·k/(4·quarter)) for k = 1, 2, 3 of each j, one stage behind the other, from the widest down to the
    narrowest that has any (quarter = 4). As pairs of doubles.
    """
    return _laid_out(points, _circle(points))


def wrong_factors(points: int, table: Table) -> list[int]:
    """Places in a table (in doubles) that are not what they must be."""
    right = factors(points)
    angles = np.arange(points) * (2 * math.pi / points)
    library = _laid_out(points, np.stack([np.cos(angles), -np.sin(angles)], axis=1))
    wrong = (table.view(np.uint64) != right.view(np.uint64)) | (np.abs(table - library) > LIBRARY_AGREES_WITHIN)
    return [int(place) for place in np.nonzero(wrong | np.isnan(table))[0]]


def _laid_out(points: int, circle: Table) -> Table:
    """The table out of exp(−2πi·m/points) for all m, as rows of cosine and sine."""
    halved = points.bit_length() % 2 == 0
    pure = points // 2 if halved else points
    parts = [circle[: points // 2]] if halved else []
    quarter = pure // 4
    while quarter > 1:
        step = points // (4 * quarter)
        turns = np.arange(quarter)[:, None] * np.array([1, 2, 3]) * step % points
        parts.append(circle[turns.ravel()])
        quarter //= 4
    return np.ascontiguousarray(np.concatenate(parts)).ravel()


def _circle(points: int) -> Table:
    """exp(−2πi·m/points) for all m: an eighth in whole numbers, the rest by symmetry, so that it is exact."""
    eighth = points // 8
    cosine, sine = _first_step(points)
    one = 1 << BITS
    c, s = one, 0
    octant = []
    for _ in range(eighth + 1):
        octant.append((c / one, s / one))
        c, s = (c * cosine - s * sine) >> BITS, (s * cosine + c * sine) >> BITS
    # At 45° both are the same number; the recurrence may leave them apart in bits that a double does not have.
    quadrant = np.array(octant + [(y, x) for x, y in reversed(octant[:-1])])
    turned = [quadrant[:-1] @ np.array(turn, dtype=float) for turn in _QUARTER_TURNS]
    return np.concatenate(turned)


_QUARTER_TURNS = (((1, 0), (0, -1)), ((0, -1), (-1, 0)), ((-1, 0), (0, 1)), ((0, 1), (1, 0)))
"""(cos x, sin x) of the first quadrant to (cos, −sin) of each quadrant in turn."""


def _first_step(points: int) -> tuple[int, int]:
    """Cosine and sine of 2π/points, in whole numbers: from 90° by halving the angle (Viète)."""
    one = 1 << BITS
    cosine, sine = 0, one
    for _ in range(points.bit_length() - 3):
        half = math.isqrt((one + cosine) * one // 2)
        cosine, sine = half, (sine << BITS) // (2 * half)
    return cosine, sine
