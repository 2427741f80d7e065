"""Whether an edge has moved between two times of a rig, by how much, and how much of that is the weather.

Both times are of one rig: they share its slope, its tail and how far its wall is behind, and differ in where the edge
lies. A rig that is warmer by ΔK fails as if the edge lay slope × warmth × ΔK steps lower (the rate rises by *warmth*
e-folds a kelvin, and by one e-fold every *slope* steps): that much is weather, taken out belief by belief. Two stories
of what is left are weighed against each other: the edge is where it was, or it moved by some steps (normal,
:data:`USUAL_MOVE_STEPS`).
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np

from tenaz.core.loads.kinds import LoadKind
from tenaz.margins.hazard import Numbers
from tenaz.margins.posterior import Posterior
from tenaz.margins.priors import EdgePrior

if TYPE_CHECKING:
    from numpy.typing import NDArray

DIFFERS_STEPS = 0.5
"""Less than half a grid step is nothing that anybody could set."""
USUAL_MOVE_STEPS = 3.0
MOVED_BEFORE = 0.5
"""The chance that it moved, before the new trials were seen."""
INTERVAL = 0.95
HARDLY = 1e-9
MOVES_APART_STEPS = 0.25
WALL_ALONG = 0.5
"""The chance that the wall moved as far as the edge did; else it lies anywhere behind it anew: a wall that stands where
it stood is no proof that the edge does.
"""


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

    @property
    def told(self) -> bool:
        """Whether it is told that it moved, or that it did not."""
        return self.differs >= TOLD or self.differs <= 1 - TOLD


def moved_between(then: Posterior, now: Posterior, kind: LoadKind, prior: EdgePrior) -> Moved:
    """The move of the edge under one kind of load from one time to another."""
    grid = then.parameter_grid
    cell = float(grid.x_star[1] - grid.x_star[0]) * grid.width
    warmer_k = None if then.usual_c is None or now.usual_c is None else now.usual_c - then.usual_c
    weather = _weather(then, kind, prior, warmer_k or 0.0)
    stride = max(1, round(MOVES_APART_STEPS / cell))
    cell *= stride
    reach = int(4 * USUAL_MOVE_STEPS / cell)
    moves = np.arange(-reach, reach + 1) * cell
    usual: Numbers = np.exp(-0.5 * (moves / USUAL_MOVE_STEPS) ** 2)
    fits = _fits(then, now, kind, _warmths(prior), warmer_k or 0.0, reach, stride)
    same = (1 - MOVED_BEFORE) * fits[reach]
    chances: Numbers = MOVED_BEFORE * usual / usual.sum() * fits
    whole = max(same + float(chances.sum()), 1e-300)
    known = np.cumsum(chances) / max(float(chances.sum()), 1e-300)
    low, middle, high = (float(np.interp(at, known, moves)) for at in ((1 - INTERVAL) / 2, 0.5, (1 + INTERVAL) / 2))
    lower, higher = chances[moves <= -DIFFERS_STEPS].sum(), chances[moves >= DIFFERS_STEPS].sum()
    could = _could_tell(max(cell * _sharpness(fits), cell), moves, usual)
    return Moved(middle, low, high, float(lower / whole), float(higher / whole), weather, warmer_k, could)


def _fits(
    then: Posterior,
    now: Posterior,
    kind: LoadKind,
    warmths: Sequence[tuple[float, float]],
    warmer_k: float,
    reach: int,
    stride: int,
) -> Numbers:
    """How well each move, by ``stride`` cells each, goes with both times: over all beliefs that they share, the
    wall's distance among them, so that a start that fails where it used to come up tells of a move too.
    """
    grid = then.parameter_grid
    was, here = then.series[kind].log_likelihood, now.series[kind].log_likelihood
    before = np.exp(grid.log_prior + was - (grid.log_prior + was).max())
    after = np.exp(here - here.max())
    if before.shape != after.shape and min(before.shape[2], after.shape[2]) > 1:
        # Warmth was measured at one of the two only: what that told of each belief is summed up.
        before, after = (one.sum(axis=2, keepdims=True) for one in (before, after))
    step = float(grid.x_star[1] - grid.x_star[0])
    before = np.broadcast_to(before, (grid.x_star.size, grid.slope.size, before.shape[2]))
    after = np.broadcast_to(after, (grid.x_star.size, grid.slope.size, after.shape[2]))
    walls = then.log_wall_for(kind), now.log_wall_for(kind)
    # Where then hardly anything is believed of x* nothing can come from.
    known = np.flatnonzero(before.max(axis=(1, 2)) > HARDLY * before.max())
    first, last = int(known[0]), int(known[-1]) + 1
    apart = (1 - WALL_ALONG) * np.exp(grid.to_wall(walls[0]))
    anew = np.exp(grid.to_wall(walls[1]))
    by_slope = np.zeros((2 * reach + 1, grid.slope.size))
    for place in range(-reach, reach + 1):
        cells = place * stride
        here_from, here_to = max(0, first + cells), min(grid.x_star.size, last + cells)
        if here_from >= here_to:
            continue
        was_at, is_at = slice(here_from - cells, here_to - cells), slice(here_from, here_to)
        along = walls[0] + _moved_by(walls[1], cells * step / grid.wall_step)
        wall = WALL_ALONG * np.exp(grid.to_wall(along, was_at)) + apart[was_at] * anew[is_at]
        by_slope[place + reach] = (np.einsum("xsm,xsm->xs", before[was_at], after[is_at]) * wall).sum(axis=0)
    found = np.zeros(2 * reach + 1)
    for s in range(grid.slope.size):
        for per_k, weight in warmths:
            found += weight * _shifted(by_slope[:, s], grid.slope[s] * per_k * warmer_k / (step * stride))
    return found


def _moved_by(log_wall: Numbers, cells: float) -> Numbers:
    """What is said of the wall's place, were it so many cells lower; beyond the row as at its end."""
    places = np.clip(np.arange(log_wall.size) + round(cells), 0, log_wall.size - 1)
    found: Numbers = log_wall[places]
    return found


def _warmths(prior: EdgePrior) -> tuple[tuple[float, float], ...]:
    """E-folds a kelvin and how likely each is, as is usual."""
    whole = sum(one.weight for one in prior.warmths)
    return tuple((one.per_k, one.weight / whole) for one in prior.warmths)


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


def _weather(then: Posterior, kind: LoadKind, prior: EdgePrior, warmer_k: float) -> float:
    """Steps by which warmth moves an edge."""
    if not warmer_k:
        return 0.0
    grid = then.parameter_grid
    slope = float(then.weights(kind).sum(axis=(0, 2)) @ grid.slope) * grid.width
    return -slope * sum(per_k * weight for per_k, weight in _warmths(prior)) * warmer_k
