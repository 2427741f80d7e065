"""Where an edge lies, from passes, failure times and failed boots.

Model: past the edge the failure rate rises exponentially with distance, ``λ(x) = λ0·exp((x − x*)/s)`` per hour,
λ0 = 1/h, x in grid steps of strain, x* the edge, s the steps over which the rate grows e-fold; from x* + w on the
rig does not boot. Failures are exponential in time, passes are right-censored, stray boot failures have a small
probability of their own. The posterior over (x*, s, w) is exact on a grid, then summed over s and w.
"""

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
    edge = np.arange(lowest - BEYOND_GRID_STEPS, highest + BEYOND_GRID_STEPS, EDGE_RESOLUTION_STEPS)
    x_star = edge[:, None, None]
    s = SHARPNESS_STEPS[None, :, None]
    wall = x_star + WALL_STEPS[None, None, :]
    log_weight = np.zeros((edge.size, SHARPNESS_STEPS.size, WALL_STEPS.size))
    for seen in sightings:
        beyond_wall = seen.strain >= wall
        if not seen.booted:
            log_weight += np.log(np.where(beyond_wall, 1.0 - FALSE_BOOT, STRAY_BOOT_FAILURE))
            continue
        log_weight += np.log(np.where(beyond_wall, FALSE_BOOT, 1.0 - STRAY_BOOT_FAILURE))
        log_rate = np.clip((seen.strain - x_star) / s, -60.0, 60.0) + np.log(EDGE_RATE_PER_H)
        log_weight += -np.exp(log_rate) * seen.hours + (log_rate if seen.failed else 0.0)
    weight: NDArray[np.float64] = np.exp(log_weight - log_weight.max()).sum(axis=(1, 2))
    weight /= weight.sum()
    cumulative = np.cumsum(weight)
    tail = (1.0 - confidence) / 2

    def quantile(part: float) -> float:
        return float(edge[min(int(np.searchsorted(cumulative, part)), edge.size - 1)])

    cell = np.floor(edge + 1e-9).astype(int)
    first = int(cell[0])
    chance = np.bincount(cell - first, weights=weight)
    return EdgeEstimate(quantile(tail), quantile(0.5), quantile(1 - tail), confidence, first, tuple(chance.tolist()))
