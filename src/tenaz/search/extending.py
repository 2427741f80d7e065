"""The least voltage at each rate or clock, fitted and taken one step further than anybody tried.

What it takes rises with the rate, and faster than linearly (alpha-power law: delay ∝ V / (V − Vth)^α; Sakurai and
Newton 1990). So of every boundary that is believed possible the least voltages get a curve that rises and does not
flatten: least squares of a parabola, held to a slope and a bend that are not negative.
"""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Numbers = NDArray[np.float64]

LEAST_COLUMNS = 3
"""Fewer say nothing of how it rises."""
INTERVAL = 0.95


@dataclass(frozen=True, slots=True)
class Least:
    """The least that holds at one value of the first knob, in the second's unit: middle and interval at 95 %;
    ``extended``: nobody has looked there.
    """

    at: int
    low: float
    middle: float
    high: float
    extended: bool = False


def least_voltages(
    held: NDArray[np.bool_], rates: tuple[int, ...], voltages: tuple[int, ...], following: int | None
) -> tuple[Least, ...]:
    """Of every rate at which something holds, and of the ``following`` one. ``held`` are possible boundaries: (samples,
    rates, voltages), voltages from easy (high) to hard (low).
    """
    hardest = held.shape[2] - 1 - held[:, :, ::-1].argmax(axis=2)
    least = np.where(held.any(axis=2), np.array(voltages, float)[hardest], np.nan)
    found = [_least(rates[k], least[:, k]) for k in range(len(rates)) if not np.isnan(least[:, k]).any()]
    if following is not None and len(found) >= LEAST_COLUMNS:
        known = np.array([one.at for one in found], float)
        samples = least[:, [rates.index(one.at) for one in found]]
        found.append(_least(following, np.array([_beyond(known, row, following) for row in samples]), True))
    return tuple(found)


def _least(at: int, values: Numbers, extended: bool = False) -> Least:
    tail = (1 - INTERVAL) / 2
    low, middle, high = (float(one) for one in np.quantile(values, (tail, 0.5, 1 - tail)))
    return Least(at, low, middle, high, extended)


def _beyond(rates: Numbers, least: Numbers, at: float) -> float:
    """A curve that rises and bends upwards, at a rate beyond; never below what the last one took."""
    scale = float(rates[-1] - rates[0])
    x, there = (rates - rates[0]) / scale, (at - rates[0]) / scale
    bend, slope = np.polyfit(x, least, 2)[:2]
    if bend < 0:
        bend, slope = 0.0, np.polyfit(x, least, 1)[0]
    rise = bend * (there**2 - 1) + slope * (there - 1)
    return float(least[-1] + max(0.0, rise))


def more_heat(before_mv: float, after_mv: float, before: float, after: float) -> float:
    """How much more heat what is fed makes, as a part: switching power goes with voltage squared and with the clock."""
    return (after_mv / before_mv) ** 2 * (after / before) - 1.0


LIFE_PER_V = 5.0
"""Of the exponential voltage model (JEDEC JEP122: life ∝ exp(−γ·V)): γ in 1/V. An order of magnitude, in the middle of
what is published for gate oxides; the standard leaves it to be measured of each process.
"""


def less_life(before_mv: float, after_mv: float) -> float:
    """About how much of its life what is fed loses to a higher voltage, as a part; warmth comes on top."""
    return 1.0 - math.exp(-LIFE_PER_V * (after_mv - before_mv) / 1000.0)
