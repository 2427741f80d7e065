"""Factors of a Fourier transform: computed in whole numbers, and verified by an independent way.

A factor that is wrong from the start is wrong on the way there and back alike, so the transform returns its input all
the same. The table is therefore made in whole numbers of 160 bits, each entry rounded once, which gives the same bits
on any machine; and looked over before it is used: made once more, bit for bit, and compared with what the mathematics
library says.
"""

import array
import math

Table = array.array
"""Of doubles, in the order in which the stages use them."""

BITS = 160
"""Of the whole numbers that stand for 1: what 2^20 steps of recurrence lose is far below the last bit of a double."""

LIBRARY_AGREES_WITHIN = 2.0**-50
"""The mathematics library is given an angle of up to 2π that is rounded already, and rounds once more."""

Pair = tuple[float, float]


def pure_points(points: int) -> int:
    """What is left for the stages of radix 4: a length that is twice a power of four begins with one of radix 2."""
    return points // 2 if points.bit_length() % 2 == 0 else points


def factors(points: int) -> "Table[float]":
    """The table of a transform: where a stage of radix 2 comes first, exp(−2πi·j/points) of each j of its half; then
    exp(−2πi·j·k/(4·quarter)) for k = 1, 2, 3 of each j, one stage behind the other, from the widest down to the
    narrowest that has any (quarter = 4). As pairs of doubles.
    """
    circle = _circle(points)
    return array.array("d", [part for turn in _turns(points) for part in circle[turn]])


def wrong_factors(points: int, table: "Table[float]") -> list[int]:
    """Places in a table (in doubles) that are not what they must be."""
    import numpy as np  # noqa: PLC0415 - a worker is ready without it; this is looked at under load

    right, found = np.frombuffer(factors(points), np.uint64), np.frombuffer(table, np.float64)
    angles = np.fromiter(_turns(points), np.int64) * (2 * math.pi / points)
    library = np.stack([np.cos(angles), -np.sin(angles)], axis=1).ravel()
    with np.errstate(invalid="ignore"):
        agrees = np.abs(found - library) <= LIBRARY_AGREES_WITHIN
    return [int(place) for place in np.nonzero((found.view(np.uint64) != right) | ~agrees)[0]]


def _turns(points: int) -> "array.array[int]":
    """Which turns of the circle (in parts of ``points``) the table holds, in order."""
    pure = pure_points(points)
    turns = array.array("q", range(points - pure))
    quarter = pure // 4
    while quarter > 1:
        step = points // (4 * quarter)
        turns.extend([j * k * step % points for j in range(quarter) for k in (1, 2, 3)])
        quarter //= 4
    return turns


def _circle(points: int) -> list[Pair]:
    """exp(−2πi·m/points) for all m: an eighth in whole numbers, the rest by symmetry, so that it is exact."""
    cosine, sine = _first_step(points)
    one = 1 << BITS
    c, s = one, 0
    octant: list[Pair] = []
    for _ in range(points // 8 + 1):
        octant.append((c / one, s / one))
        c, s = (c * cosine - s * sine) >> BITS, (s * cosine + c * sine) >> BITS
    # At 45° both are the same number; what the recurrence leaves between them is below a double's last bit.
    first = [*octant, *((y, x) for x, y in reversed(octant[:-1]))][:-1]
    return [
        *((x, -y) for x, y in first),
        *((-y, -x) for x, y in first),
        *((-x, y) for x, y in first),
        *((y, x) for x, y in first),
    ]


def _first_step(points: int) -> tuple[int, int]:
    """Cosine and sine of 2π/points, in whole numbers: from 90° by halving the angle (Viète)."""
    one = 1 << BITS
    cosine, sine = 0, one
    for _ in range(points.bit_length() - 3):
        half = math.isqrt((one + cosine) * one // 2)
        cosine, sine = half, (sine << BITS) // (2 * half)
    return cosine, sine
