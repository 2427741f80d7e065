"""Whether an edge has moved between two times of a rig, by how much, and how much of that is the weather.

Each time is judged by itself, at the temperature that it was measured at. A rig that is warmer by ΔK fails as if the
edge lay slope × warmth × ΔK steps lower (the rate rises by *warmth* e-folds a kelvin, and by one e-fold every *slope*
steps): that much is weather, with the spread of both as its own uncertainty. Two stories of what is left are weighed
against each other: the edge is where it was, or it moved by some steps (normal, :data:`USUAL_MOVE_STEPS`). What the
new trials say of each place is their posterior over the prior; so where they say nothing, neither story gains by it.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np

from tenaz.core.base.tolerance import Tolerance
from tenaz.core.knobs.knob import Knob
from tenaz.core.loads.kinds import LoadKind
from tenaz.margins.edge import edge_chances
from tenaz.margins.hazard import Numbers
from tenaz.margins.parameter_grid import EDGE_CELLS_A_STEP, ParameterGrid, lattice_for
from tenaz.margins.posterior import Posterior, prior_only
from tenaz.margins.priors import EdgePrior

if TYPE_CHECKING:
    from numpy.typing import NDArray

DIFFERS_STEPS = 0.5
"""Less than half a grid step is nothing that anybody could set."""
USUAL_MOVE_STEPS = 3.0
MOVED_BEFORE = 0.5
"""The chance that it moved, before the new trials were seen."""
INTERVAL = 0.95


@dataclass(frozen=True, slots=True)
class Moved:
    """How far an edge has moved in grid steps if it moved (negative: towards easier values), the interval of that at
    95 %, and the chances that it lies lower or higher by half a step or more. ``weather_steps`` is what a temperature
    that differs by ``warmer_k`` makes of it (None: not measured both times), which is taken out of all others.
    """

    steps: float
    low: float
    high: float
    lower: float
    higher: float
    weather_steps: float
    warmer_k: float | None
    could_tell: float | None = None
    """The smallest move towards easier values that these trials would have told with :data:`TOLD` sureness, in steps;
    None: none of those looked at.
    """

    @property
    def differs(self) -> float:
        """Chance that it moved at all."""
        return self.lower + self.higher


def moved_between(then: Posterior, now: Posterior, kind: LoadKind, tolerance: Tolerance, prior: EdgePrior) -> Moved:
    """The move of the edge under one kind of load from one time to another."""
    cell = then.parameter_grid.width / EDGE_CELLS_A_STEP
    warmer_k = None if then.usual_c is None or now.usual_c is None else now.usual_c - then.usual_c
    weather, spread = _weather(then, kind, prior, warmer_k or 0.0)
    told = [edge_chances(one, kind, tolerance, usual_tail=True) for one in (then, now, prior_only(prior, then.knob))]
    was, says = _aligned(told)
    was = _blurred(_shifted(was, weather / cell), spread / cell)
    reach = int(4 * USUAL_MOVE_STEPS / cell)
    moves = np.arange(-reach, reach + 1) * cell
    usual: Numbers = np.exp(-0.5 * (moves / USUAL_MOVE_STEPS) ** 2)
    # How well each move goes with both times: the old distribution moved by so much, against what the new trials say.
    fits = np.array([float(_shifted(was, move / cell) @ says) for move in moves])
    same = (1 - MOVED_BEFORE) * fits[reach]
    chances: Numbers = MOVED_BEFORE * usual / usual.sum() * fits
    whole = max(same + float(chances.sum()), 1e-300)
    known = np.cumsum(chances) / max(float(chances.sum()), 1e-300)
    low, middle, high = (float(np.interp(at, known, moves)) for at in ((1 - INTERVAL) / 2, 0.5, (1 + INTERVAL) / 2))
    lower, higher = chances[moves <= -DIFFERS_STEPS].sum(), chances[moves >= DIFFERS_STEPS].sum()
    sharp = cell * math.hypot(*(_sharpness(chances) for _, chances in told[:2]))
    could = _could_tell(max(sharp, cell), moves, usual)
    return Moved(middle, low, high, float(lower / whole), float(higher / whole), weather, warmer_k, could)


def _could_tell(sharp_steps: float, moves: "NDArray[np.floating[Any]]", usual: Numbers) -> float | None:
    """The smallest move towards easier values that would be told, where both times together leave it so sharp (one
    standard deviation), were it seen just there.
    """
    still = moves.size // 2
    for steps in LOOKED_FOR:
        fits = np.exp(-0.5 * ((moves + steps) / sharp_steps) ** 2)
        moved = MOVED_BEFORE * usual / usual.sum() * fits
        whole = (1 - MOVED_BEFORE) * float(fits[still]) + float(moved.sum())
        if float(moved[moves <= -DIFFERS_STEPS].sum()) >= TOLD * max(whole, 1e-300):
            return steps
    return None


def _sharpness(chances: Numbers) -> float:
    """Standard deviation of a distribution over cells."""
    places = np.arange(chances.size)
    weights = chances / chances.sum()
    return float(np.sqrt(max(0.0, weights @ places**2 - (weights @ places) ** 2)))


LOOKED_FOR, TOLD = (1.0, 2.0, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0), 0.9
"""Moves that are asked for, in steps, and how sure one must be to tell of one."""


def _aligned(told: Sequence[tuple[int, Numbers]]) -> tuple[Numbers, Numbers]:
    """On one row of cells: where the edge was, and what the new trials say of each place; out of the chances then, now
    and before anything was seen.
    """
    first, end = min(start for start, _ in told), max(start + chances.size for start, chances in told)
    rows = np.zeros((len(told), end - first))
    for row, (start, chances) in zip(rows, told, strict=True):
        row[start - first : start - first + chances.size] = chances
    was, here, usual = rows
    says = np.where(usual > LEAST_USUAL, here / np.maximum(usual, LEAST_USUAL), 0.0)
    return was, says


LEAST_USUAL = 1e-9
"""Where the prior holds an edge for less likely than that, no trial speaks of it."""


def _shifted(chances: Numbers, cells: float) -> Numbers:
    """Moved along the row; what would leave it is lost."""
    whole = round(cells)
    found = np.zeros_like(chances)
    if abs(whole) >= chances.size:
        return found
    if whole >= 0:
        found[whole:] = chances[: chances.size - whole]
    else:
        found[:whole] = chances[-whole:]
    return found


def _weather(then: Posterior, kind: LoadKind, prior: EdgePrior, warmer_k: float) -> tuple[float, float]:
    """Steps by which warmth moves an edge, and their standard deviation."""
    if not warmer_k:
        return 0.0, 0.0
    weights, parameter_grid = then.weights(kind), then.parameter_grid
    slope = parameter_grid.slope * parameter_grid.width
    by_slope = weights.sum(axis=(0, 2))
    mean, square = float(by_slope @ slope), float(by_slope @ slope**2)
    warmth, warmth_square = _warmth(then.knob, prior, parameter_grid, weights)
    product = -mean * warmth * warmer_k
    return product, float(np.sqrt(max(0.0, square * warmth_square - (mean * warmth) ** 2))) * abs(warmer_k)


def _warmth(knob: Knob, prior: EdgePrior, parameter_grid: ParameterGrid, weights: Numbers) -> tuple[float, float]:
    """E-folds a kelvin, and their mean square: as learnt, where it was measured over a span; else as is usual."""
    if len(set(parameter_grid.warmth_per_k.tolist())) < 2:
        whole = lattice_for(prior, knob, measured_warmth=True)
        usual = np.exp(whole.log_prior).sum(axis=0)
        usual = usual / usual.sum()
        return float(usual @ whole.warmth_per_k), float(usual @ whole.warmth_per_k**2)
    share = weights.sum(axis=(0, 1))
    return float(share @ parameter_grid.warmth_per_k), float(share @ parameter_grid.warmth_per_k**2)


def _blurred(chances: Numbers, cells: float) -> Numbers:
    """Convolved with a normal distribution of so many cells."""
    if cells < DIFFERS_STEPS:
        return chances
    reach = int(4 * cells) + 1
    kernel = np.exp(-0.5 * (np.arange(-reach, reach + 1) / cells) ** 2)
    whole: Numbers = np.convolve(chances, kernel / kernel.sum())
    return whole[reach : reach + chances.size]
