"""A few hundred beliefs that stand for all, evenly through the posterior; the same ones for the same evidence."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from tenaz.core.loads.kinds import LoadKind
from tenaz.margins.hazard import Numbers, TailShape
from tenaz.margins.posterior import Posterior

GOLDEN = 0.6180339887498949
"""Steps of this part of one lie evenly, however many."""
MOST_FOLDS = 50.0


@dataclass(frozen=True)
class Samples:
    """Each of the same weight; lengths in cells of the parameter grid; ``tail`` says which of the ``tails`` it has."""

    x_star: Numbers
    slope: Numbers
    tails: tuple[TailShape, ...]
    tail: NDArray[np.intp]
    warmth_per_k: Numbers
    wall: Numbers
    edge: Numbers

    def log_rates(self, at: Numbers) -> Numbers:
        """Natural logarithm of failures an hour at places in cells: (samples, places)."""
        folds = (at[None, :] - self.x_star[:, None]) / self.slope[:, None]
        found = np.empty_like(folds)
        for which, shape in enumerate(self.tails):
            mine = self.tail == which
            found[mine] = shape.log_rate(folds[mine])
        return found

    def rates(self, at: Numbers) -> Numbers:
        """Failures an hour at places in cells: (samples, places); what fails at once is cut off, never infinite."""
        rates: Numbers = np.exp(np.minimum(self.log_rates(at), MOST_FOLDS))
        return rates


def samples_of(posterior: Posterior, kind: LoadKind, log_tolerated: float, count: int) -> Samples:
    """So many beliefs about one kind of load, spread evenly over the posterior; drawn once for each."""
    known = posterior.drawn.get((kind, count))
    if known is None or not isinstance(known, Samples):
        known = posterior.drawn[kind, count] = _drawn(posterior, kind, count)
    below = np.array([shape.folds_below(log_tolerated) for shape in known.tails])
    return replace(known, edge=known.x_star - known.slope * below[known.tail])


def _drawn(posterior: Posterior, kind: LoadKind, count: int) -> Samples:
    """Without their edges, which depend on what is tolerated."""
    parameter_grid = posterior.parameter_grid
    known = np.cumsum(posterior.weights(kind).ravel())
    at = np.searchsorted(known, (np.arange(count) + 0.5) / count * known[-1])
    x, s, m = np.unravel_index(np.minimum(at, known.size - 1), parameter_grid.shape)
    x_star, slope = parameter_grid.x_star[x], parameter_grid.slope[s]
    parts: Numbers = (np.arange(count, dtype=np.float64) * GOLDEN) % 1.0
    walls = parameter_grid.sampled_walls(posterior.log_wall_for(kind), x_star, slope, parts)
    tails, which = parameter_grid.shapes
    return Samples(x_star, slope, tails, which[m], parameter_grid.warmth_per_k[m], walls, x_star)
