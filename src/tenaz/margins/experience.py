"""What past rigs say of a knob before this one was tried: where its edge lies from what it came with, how steep it is,
how far the wall is behind it. Hierarchical: each past rig's beliefs, and what they have in common, are learnt together.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tenaz.core.knobs.knob import Knob
from tenaz.core.loads.kinds import LoadKind
from tenaz.margins.hazard import Numbers
from tenaz.margins.posterior import posterior_of
from tenaz.margins.priors import EdgePrior, Place, Slope, Wall, prior_for
from tenaz.margins.samples import samples_of
from tenaz.margins.sightings import EdgeSighting

LEAST_RIGS = 3
"""From fewer nothing is learnt: two that are alike by chance would be trusted."""
UNLIKE_OTHERS = 0.08
"""At least so much is left for a rig that is not like those seen, in its slope and in where its edge lies."""
SAMPLES, ROUNDS = 80, 10
LEAST_FOLDS, LEAST_STEPS = 0.2, 1.0
"""Rigs are never believed more alike than that: in the logarithm of the slope, and in grid steps of the edge."""
WIDE = 1.64
WALLS, WALL_WIDER = (0.03, 0.97), 1.3
FARTHER = 4.0


@dataclass(frozen=True)
class PastLine:
    """One past rig's knob, the strain that it came with, and what was seen along it under one kind of load."""

    rig: str
    knob: Knob
    came: int
    kind: LoadKind
    seen: tuple[EdgeSighting, ...]

    @property
    def telling(self) -> bool:
        """Whether something failed: else its edge may lie anywhere beyond what was tried."""
        return any(one.failed or not one.up for one in self.seen)


def unit_steps(knob: Knob) -> float:
    """How much of a knob's own unit one grid step is, on average."""
    return abs(knob.grid.last - knob.grid.first) / max(1, len(knob.grid) - 1) or 1.0


def learnt_from(lines: Sequence[PastLine], knob: Knob, came: int) -> EdgePrior | None:
    """What is believed of a knob on a rig that came with this strain; None where too few past rigs tell anything."""
    known = {line.rig: line for line in lines if line.telling}
    if len(known) < LEAST_RIGS:
        return None
    drawn = [_drawn(line) for line in known.values()]
    slopes, places, walls = (np.stack(one) for one in zip(*drawn, strict=True))
    unit = unit_steps(knob)
    weights = np.full(slopes.shape, 1.0 / SAMPLES)
    for _ in range(ROUNDS):
        slope, place = _moments(slopes, weights, LEAST_FOLDS), _moments(places, weights, LEAST_STEPS * unit)
        weights = np.exp(_log_normal(slopes, *slope) + _log_normal(places, *place))
        weights /= weights.sum(axis=1, keepdims=True)
    rigs = len(known)
    wider, unlike = 1.0 + 2.0 / rigs, max(UNLIKE_OTHERS, 1.0 / (rigs + 2))
    usual = prior_for(knob)
    per_step = usual.units_a_step(knob) if usual.unit != "steps" else 1.0
    highest = usual.slope.highest / per_step * unit
    low, high = (math.exp(slope[0] + way * WIDE * slope[1] * wider) for way in (-1, 1))
    near, far = _quantiles(walls, weights)
    return usual.model_copy(
        update={
            "name": f"{usual.name}-here"[:40],
            "learnt_from": f"{rigs} rigs of this workshop",
            "rigs": rigs,
            "families": (),
            "unit": knob.unit or "own",
            "slope": Slope(low=low, high=high, shoulder=min(0.45, unlike), highest=max(FARTHER * high, highest)),
            "wall": Wall(low=max(0.0, near / WALL_WIDER), high=far * WALL_WIDER, counted_in="slopes"),
            "place": Place(middle=came + place[0] / unit, spread=place[1] * wider / unit, unlike=unlike),
        }
    )


def _drawn(line: PastLine) -> tuple[Numbers, Numbers, Numbers]:
    """Beliefs about one past rig: the logarithm of its slope, where its edge lies from what it came with, both in the
    knob's unit, and the wall in slopes past it.
    """
    posterior = posterior_of(prior_for(line.knob), line.knob, {line.kind: line.seen}, coarse=True)
    samples = samples_of(posterior, line.kind, 0.0, SAMPLES)
    unit, width = unit_steps(line.knob), posterior.parameter_grid.width
    slope, x_star = samples.slope * width, samples.x_star * width
    return np.log(slope * unit), (x_star - line.came) * unit, (samples.wall * width - x_star) / slope


def _moments(values: Numbers, weights: Numbers, least: float) -> tuple[float, float]:
    """Mean and deviation over rigs, each of which counts once."""
    rigs = values.shape[0]
    mean = float((weights * values).sum() / rigs)
    spread = float((weights * (values - mean) ** 2).sum() / max(1, rigs - 1))
    return mean, max(least, math.sqrt(spread))


def _log_normal(values: Numbers, mean: float, deviation: float) -> Numbers:
    found: Numbers = -0.5 * ((values - mean) / deviation) ** 2
    return found


def _quantiles(values: Numbers, weights: Numbers) -> tuple[float, float]:
    order = np.argsort(values, axis=None)
    known = np.cumsum(weights.ravel()[order])
    at = np.searchsorted(known, np.array(WALLS) * known[-1])
    near, far = values.ravel()[order][np.minimum(at, known.size - 1)]
    return float(near), max(float(far), float(near) + 0.5)
