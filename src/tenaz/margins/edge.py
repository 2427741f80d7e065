"""Where an edge lies, from passes, failure times and failed boots.

Model: past the edge the failure rate rises exponentially with distance, ``λ(x) = λ0·exp((x − x*)/s)`` per hour,
λ0 = 1/h, x in grid steps of strain, x* the edge, s the steps over which the rate grows e-fold; from x* + w on the
rig does not boot. Failures are exponential in time, passes are right-censored, stray boot failures have a small
probability of their own. The posterior over (x*, s, w) is exact on a grid, then summed over s and w: given x*, rates
tell of s alone and boots of w alone, so the two sums are apart. A knob with very many values is looked at in coarser
steps, in which s and w are then counted too.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tenaz.core.edge import EdgeEstimate

EDGE_RATE_PER_H = 1.0
"""λ0: the failure rate that is called the edge."""

STRAY_BOOT_FAILURE = 0.02
FALSE_BOOT = 0.05
"""Chances that the model is wrong about one boot: down below the wall, up beyond it (training is a lottery)."""

LEAST_SEEN_H = 1.0 / 60.0
"""A failure earlier than that is only known to have come within it: a crash at once leaves no better time behind."""

MOST_STEPS = 128
"""A knob with more grid steps is looked at in coarser ones: an edge is no sharper than a hundredth of its range."""

EDGE_RESOLUTION_STEPS = 0.1
SHARPNESS_STEPS = np.geomspace(0.15, 1.5, 20)
WALL_STEPS = np.arange(0.5, 8.01, 0.5)
BEYOND_GRID_STEPS = 6.0
"""How far past the grid's ends the edge may lie, so that the ends themselves attract nothing."""


@dataclass(frozen=True, slots=True)
class Sighting:
    """One trial along the knob: strain in grid steps, hours under load, and what happened.

    ``failed`` is True when it failed after ``hours``; ``booted`` False when it never came up.
    """

    strain: float
    hours: float
    failed: bool
    booted: bool = True


def estimate_edge(
    sightings: Sequence[Sighting], lowest: int, highest: int, confidence: float = 0.9
) -> EdgeEstimate | None:
    """Estimate the edge of a knob whose strains run from ``lowest`` to ``highest``; None without any sighting."""
    if not sightings:
        return None
    width = max(1, math.ceil((highest - lowest) / MOST_STEPS))
    first = lowest / width
    edge = first + np.arange(-BEYOND_GRID_STEPS, (highest - lowest) / width + BEYOND_GRID_STEPS, EDGE_RESOLUTION_STEPS)
    x_star = edge[:, None]
    by_rate = np.zeros((edge.size, SHARPNESS_STEPS.size))
    by_boot = np.zeros((edge.size, WALL_STEPS.size))
    for strain, alike in _by_strain(sightings).items():
        at = strain / width
        beyond_wall = at >= x_star + WALL_STEPS
        down = sum(not seen.booted for seen in alike)
        by_boot += down * np.log(np.where(beyond_wall, 1.0 - FALSE_BOOT, STRAY_BOOT_FAILURE))
        by_boot += (len(alike) - down) * np.log(np.where(beyond_wall, FALSE_BOOT, 1.0 - STRAY_BOOT_FAILURE))
        loaded = [seen for seen in alike if seen.booted and (seen.hours > 0 or seen.failed)]
        early = sum(seen.failed and seen.hours < LEAST_SEEN_H for seen in loaded)
        timed = [seen for seen in loaded if not (seen.failed and seen.hours < LEAST_SEEN_H)]
        log_rate = np.clip((at - x_star) / SHARPNESS_STEPS, -60.0, 60.0) + np.log(EDGE_RATE_PER_H)
        rate = np.exp(log_rate)
        by_rate += sum(seen.failed for seen in timed) * log_rate - rate * sum(seen.hours for seen in timed)
        by_rate += early * np.log(-np.expm1(-rate * LEAST_SEEN_H))
    log_weight = _log_sum(by_rate) + _log_sum(by_boot)
    weight: NDArray[np.float64] = np.exp(log_weight - log_weight.max())
    weight /= weight.sum()
    cumulative = np.cumsum(weight)
    tail = (1.0 - confidence) / 2

    def quantile(part: float) -> float:
        return float(edge[min(int(np.searchsorted(cumulative, part)), edge.size - 1)]) * width

    cell = np.floor(edge - first + 1e-9).astype(int)
    chance = np.bincount(cell - int(cell[0]), weights=weight)
    begins = lowest + int(cell[0]) * width
    return EdgeEstimate(
        quantile(tail), quantile(0.5), quantile(1 - tail), confidence, begins, tuple(chance.tolist()), width
    )


def _by_strain(sightings: Sequence[Sighting]) -> dict[float, list[Sighting]]:
    alike: dict[float, list[Sighting]] = {}
    for seen in sightings:
        alike.setdefault(seen.strain, []).append(seen)
    return alike


def _log_sum(log_weight: NDArray[np.float64]) -> NDArray[np.float64]:
    """The logarithm of the sum over the second axis."""
    most = log_weight.max(axis=1)
    summed: NDArray[np.float64] = most + np.log(np.exp(log_weight - most[:, None]).sum(axis=1))
    return summed
