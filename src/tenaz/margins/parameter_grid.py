"""The grid on which beliefs about an edge live: x*, slope, and the manner of the tail; beside it the wall."""

from dataclasses import dataclass, field
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from tenaz.core.knobs.knob import Knob
from tenaz.margins.hazard import Numbers, TailShape
from tenaz.margins.priors import EdgePrior

MOST_STEPS = 150
"""A knob with more grid steps is looked at in coarser ones: an edge is no sharper than a hundredth of its range."""

FINEST_STEPS = 0.25
EDGE_CELLS_A_STEP = 8
SLOPES, SHOULDERS = 36, 8
COARSER = 2
ALL = slice(None)
BELOW_STEPS = 6.0
"""How far before the grid's first value x* may lie, so that its end attracts nothing."""


@dataclass(frozen=True)
class ParameterGrid:
    """Made for one prior and one stretch of strains, ``lowest`` to ``highest`` in grid steps.

    All lengths inside are in cells of ``width`` grid steps. ``x_star`` (X), ``slope`` (S), ``tails`` and
    ``warmth_per_k`` (M); ``log_prior`` (X, S, M), or (1, S, M) where it is uniform
    over x*; ``wall`` is where cells begin in which the wall may stand (V).
    """

    lowest: int
    highest: int
    width: int
    x_star: Numbers
    slope: Numbers
    tails: tuple[TailShape, ...]
    warmth_per_k: Numbers
    log_prior: Numbers
    wall: Numbers
    wall_low: float
    wall_high: float
    wall_in_slopes: bool
    stray_start: float
    lucky_start: float
    _edges: dict[float, NDArray[np.intp]] = field(default_factory=dict, compare=False)

    @property
    def shape(self) -> tuple[int, int, int]:
        """Of beliefs: (X, S, M)."""
        return self.x_star.size, self.slope.size, len(self.tails)

    @cached_property
    def shapes(self) -> tuple[tuple[TailShape, ...], NDArray[np.intp]]:
        """The shapes that differ, and which of them each manner has: each is worked out once."""
        kinds = tuple(dict.fromkeys(self.tails))
        return kinds, np.array([kinds.index(one) for one in self.tails])

    def log_rates(self, strain: float, warmer_k: float = 0.0) -> Numbers:
        """Natural logarithm of failures an hour at a strain under every belief: (X, S, M)."""
        folds = (strain / self.width - self.x_star[:, None]) / self.slope
        kinds, which = self.shapes
        found: Numbers = np.stack([kind.log_rate(folds) for kind in kinds], axis=2)[:, :, which]
        return found + self.warmth_per_k * warmer_k if warmer_k else found

    def edges(self, log_tolerated: float) -> Numbers:
        """Under every belief the strain at which the rate is what is tolerated, in cells: (X, S, M)."""
        kinds, which = self.shapes
        below = np.array([kind.folds_below(log_tolerated) for kind in kinds])[which]
        found: Numbers = self.x_star[:, None, None] - self.slope[None, :, None] * below
        return found

    def edge_cells(self, log_tolerated: float) -> tuple[int, NDArray[np.intp]]:
        """Each belief's edge as a fine cell, counted from the first: that first one, and the places, flat."""
        if log_tolerated not in self._edges:
            fine = np.floor(self.edges(log_tolerated).ravel() * EDGE_CELLS_A_STEP + 1e-9).astype(np.intp)
            self._edges[log_tolerated] = fine
        fine = self._edges[log_tolerated]
        first = int(fine.min())
        return first, fine - first

    def to_wall(self, log_wall: Numbers, some: slice = ALL) -> Numbers:
        """What is known of the wall's place, carried to x* (all, or ``some``) and slope: (X, S), or (X, 1)."""
        most = float(log_wall.max())
        known = np.concatenate([[0.0], np.cumsum(np.exp(log_wall - most))])
        spread = self.slope if self.wall_in_slopes else np.ones(1)
        reach = [self.x_star[some, None] + end * spread for end in (self.wall_low, self.wall_high)]
        begin, end = (np.interp((at - self.wall[0]) / self.wall_step, np.arange(known.size), known) for at in reach)
        share = np.maximum(end - begin, 1e-300) * self.wall_step / ((self.wall_high - self.wall_low) * spread)
        carried: Numbers = np.log(share) + most
        return carried

    @property
    def wall_middles(self) -> Numbers:
        """The middle of each cell in which the wall may stand: no grid value lies there."""
        return self.wall + self.wall_step / 2

    @property
    def wall_step(self) -> float:
        """How far apart places of the wall are, in cells."""
        return float(self.wall[1] - self.wall[0])

    def from_x_star(self, weight: Numbers) -> Numbers:
        """What beliefs about x* and slope, (X, S), say of the wall's place: its logarithm (V)."""
        found = np.zeros(self.wall.size + 1)
        for place, slope in enumerate(self.slope if self.wall_in_slopes else np.ones(1)):
            mass = weight[:, place] if self.wall_in_slopes else weight.sum(axis=1)
            spread = (self.wall_high - self.wall_low) * slope
            for way, end in ((1.0, self.wall_low), (-1.0, self.wall_high)):
                at = np.clip((self.x_star + end * slope - self.wall[0]) / self.wall_step, 0, self.wall.size)
                below = np.floor(at).astype(int)
                np.add.at(found, np.minimum(below, self.wall.size), way * mass / spread)
        carried: Numbers = np.log(np.maximum(np.cumsum(found)[:-1], 1e-300))
        return carried

    def sampled_walls(self, log_wall: Numbers, x_star: Numbers, slope: Numbers, at: Numbers) -> Numbers:
        """For beliefs about x* and slope each one place of the wall: the ``at``-th part, 0 to 1, of what is left."""
        known = np.concatenate([[0.0], np.cumsum(np.exp(log_wall - log_wall.max()))])
        places, spread = np.arange(known.size), slope if self.wall_in_slopes else np.ones_like(slope)
        ends = [(x_star + end * spread - self.wall[0]) / self.wall_step for end in (self.wall_low, self.wall_high)]
        begin, end = (np.interp(one, places, known) for one in ends)
        found = np.interp(begin + at * (end - begin), known + 1e-12 * places, places)
        sampled: Numbers = self.wall[0] + self.wall_step * np.clip(found, *np.sort(ends, axis=0))
        return sampled


@lru_cache(maxsize=32)
def _lattice(prior: EdgePrior, units_a_step: float, lowest: int, highest: int, coarse: bool) -> ParameterGrid:
    width = max(1, -(-(highest - lowest) // MOST_STEPS))
    cell = units_a_step * width
    low, high, highest_slope = (one / cell for one in (prior.slope.low, prior.slope.high, prior.slope.highest))
    slope, mass = _slopes(low, high, highest_slope, prior.slope.shoulder, COARSER if coarse else 1)
    wall_in_slopes = prior.wall.counted_in == "slopes"
    wall_low, wall_high = (end if wall_in_slopes else end / cell for end in (prior.wall.low, prior.wall.high))
    farthest_wall = wall_high * (highest_slope if wall_in_slopes else 1.0)
    step = min(FINEST_STEPS, max(low / 2, FINEST_STEPS / 2)) * (COARSER if coarse else 1)
    # Beyond the last value x* may lie as far as its edge could still be within.
    last = highest / width + min(7.0 * high, 30.0) + BELOW_STEPS
    x_star = np.arange(lowest / width - BELOW_STEPS, last, step, dtype=np.float64)
    manners = [(tail, warmth) for tail in prior.tails for warmth in prior.warmths]
    weight = np.array([tail.weight * warmth.weight for tail, warmth in manners])
    return ParameterGrid(
        lowest, highest, width, x_star, slope,
        tuple(tail.shape for tail, _ in manners),
        np.array([warmth.per_k for _, warmth in manners]),
        np.log(mass)[:, None] + np.log(weight / weight.sum()) + _log_place(prior, x_star, width)[:, None, None],
        np.arange(x_star[0], x_star[-1] + farthest_wall + step, step),
        wall_low, wall_high, wall_in_slopes, prior.stray_start, prior.lucky_start,
    )  # fmt: skip


def _log_place(prior: EdgePrior, x_star: Numbers, width: int) -> Numbers:
    """The logarithm of how likely each place of x* is: all alike, or as past rigs say."""
    place = prior.place
    if place is None:
        return np.zeros(1)
    away = (x_star * width - place.middle) / place.spread
    near = np.exp(-0.5 * away * away)
    total = near.sum()
    alike = near / total if total > 0 else np.full(x_star.size, 1.0 / x_star.size)
    found: Numbers = np.log((1.0 - place.unlike) * alike + place.unlike / x_star.size)
    return found


def _slopes(low: float, high: float, highest: float, shoulder: float, coarser: int = 1) -> tuple[Numbers, Numbers]:
    """Slopes, evenly spaced in their logarithm, and how likely each is."""

    def middles(begin: float, end: float, count: int) -> Numbers:
        found: Numbers = np.exp(np.linspace(np.log(begin), np.log(end), 2 * count + 1)[1::2])
        return found

    body = middles(low, high, SLOPES // coarser)
    parts = [(body, np.full(body.size, (1 - shoulder) / body.size))]
    if shoulder and highest > high:
        count = SHOULDERS // coarser
        above, below = middles(high, highest, count), middles(low * high / highest, low, count)
        parts.append((above, np.full(count, 0.9 * shoulder / count)))
        parts.insert(0, (below, np.full(count, 0.1 * shoulder / count)))
    mass = np.concatenate([weight for _, weight in parts])
    return np.concatenate([slopes for slopes, _ in parts]), mass / mass.sum()


def lattice_for(prior: EdgePrior, knob: Knob, measured_warmth: bool = False, coarse: bool = False) -> ParameterGrid:
    """The grid for a knob. Where nobody measured how warm it was, how the rate rises with warmth is left out.
    ``coarse``: fewer places and slopes, for many tails.
    """
    if not measured_warmth:
        prior = prior.model_copy(update={"warmths": prior.warmths[:1]})
    ends = knob.ends
    return _lattice(prior, prior.units_a_step(knob), ends[0], ends[1], coarse)
