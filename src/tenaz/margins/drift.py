"""Whether an edge has moved between two times of a rig, by how much, and how much of that is the weather.

Each time is judged by itself, at the temperature that it was measured at; the difference of two independent edges is
the convolution of their distributions. A rig that is warmer by ΔK fails as if the edge lay slope × warmth × ΔK steps
lower (the rate rises by *warmth* e-folds a kelvin, and by one e-fold every *slope* steps): that much is weather, with
the spread of both as its own uncertainty. What is left is drift.
"""

from dataclasses import dataclass

import numpy as np

from tenaz.core.knobs import Knob
from tenaz.core.load_kinds import LoadKind
from tenaz.core.tolerance import Tolerance
from tenaz.margins.edge import edge_chances
from tenaz.margins.hazard import Numbers
from tenaz.margins.lattice import EDGE_CELLS_A_STEP, Lattice, lattice_for
from tenaz.margins.posterior import Posterior
from tenaz.margins.priors import EdgePrior

DIFFERS_STEPS = 0.5
"""Less than half a grid step is nothing that anybody could set."""
INTERVAL = 0.95


@dataclass(frozen=True, slots=True)
class Moved:
    """How far an edge has moved in grid steps (negative: towards easier values), the interval of that at 95 %, and the
    chances that it lies lower or higher by half a step or more. ``weather_steps`` is what a temperature that differs by
    ``warmer_k`` makes of it (None: not measured both times), which is taken out of all others.
    """

    steps: float
    low: float
    high: float
    lower: float
    higher: float
    weather_steps: float
    warmer_k: float | None

    @property
    def differs(self) -> float:
        """Chance that it moved at all."""
        return self.lower + self.higher


def moved_between(then: Posterior, now: Posterior, kind: LoadKind, tolerance: Tolerance, prior: EdgePrior) -> Moved:
    """The move of the edge under one kind of load from one time to another."""
    width = then.lattice.width
    first_then, was = edge_chances(then, kind, tolerance, usual_tail=True)
    first_now, here = edge_chances(now, kind, tolerance, usual_tail=True)
    chances: Numbers = np.convolve(here, was[::-1])
    steps = (first_now - first_then - (was.size - 1) + np.arange(chances.size)) * width / EDGE_CELLS_A_STEP
    warmer_k = None if then.usual_c is None or now.usual_c is None else now.usual_c - then.usual_c
    weather, spread = _weather(then, kind, prior, warmer_k or 0.0)
    steps = steps - weather
    if spread > 0:
        chances = _blurred(chances, spread * EDGE_CELLS_A_STEP / width)
    known = np.cumsum(chances / chances.sum())
    low, middle, high = (float(np.interp(at, known, steps)) for at in ((1 - INTERVAL) / 2, 0.5, (1 + INTERVAL) / 2))
    lower, higher = chances[steps <= -DIFFERS_STEPS].sum(), chances[steps >= DIFFERS_STEPS].sum()
    return Moved(middle, low, high, float(lower / chances.sum()), float(higher / chances.sum()), weather, warmer_k)


def _weather(then: Posterior, kind: LoadKind, prior: EdgePrior, warmer_k: float) -> tuple[float, float]:
    """Steps by which warmth moves an edge, and their standard deviation."""
    if not warmer_k:
        return 0.0, 0.0
    weights, lattice = then.weights(kind), then.lattice
    slope = lattice.slope * lattice.width
    by_slope = weights.sum(axis=(0, 2))
    mean, square = float(by_slope @ slope), float(by_slope @ slope**2)
    warmth, warmth_square = _warmth(then.knob, prior, lattice, weights)
    product = -mean * warmth * warmer_k
    return product, float(np.sqrt(max(0.0, square * warmth_square - (mean * warmth) ** 2))) * abs(warmer_k)


def _warmth(knob: Knob, prior: EdgePrior, lattice: Lattice, weights: Numbers) -> tuple[float, float]:
    """E-folds a kelvin, and their mean square: as learnt, where it was measured over a span; else as is usual."""
    if len(set(lattice.warmth_per_k.tolist())) < 2:
        whole = lattice_for(prior, knob, measured_warmth=True)
        usual = np.exp(whole.log_prior).sum(axis=0)
        usual = usual / usual.sum()
        return float(usual @ whole.warmth_per_k), float(usual @ whole.warmth_per_k**2)
    share = weights.sum(axis=(0, 1))
    return float(share @ lattice.warmth_per_k), float(share @ lattice.warmth_per_k**2)


def _blurred(chances: Numbers, cells: float) -> Numbers:
    """Convolved with a normal distribution, its ends kept."""
    reach = max(1, int(4 * cells))
    kernel = np.exp(-0.5 * (np.arange(-reach, reach + 1) / max(cells, 1e-6)) ** 2)
    found: Numbers = np.convolve(chances, kernel / kernel.sum(), mode="same") if chances.size > kernel.size else chances
    return found
