"""What past rigs say of a knob before this one was tried: where its edge lies from what it came with, how steep it is,
how far the wall is behind it. Hierarchical: each past rig's beliefs, and what they have in common, are learnt together,
in a unit that carries over from one rig to another.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.names import DATA_RATE
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.knobs.timings.clocks import Family
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


@dataclass(frozen=True, slots=True)
class CarriedUnit:
    """What of a knob carries over from rig to rig, and how much of that one grid step is: of a timing its time, of a
    data rate the part of what the rig came with, else the knob's own unit.
    """

    name: str
    step: float


def carried_unit(knob: Knob, base: Setpoint, stock: Setpoint, family: Family) -> CarriedUnit:
    """Of a knob of a rig, all others as at ``base``."""
    spacing, rate = knob.grid.spacing, base[DATA_RATE]
    if knob.unit == "nCK" and isinstance(rate, int):
        return CarriedUnit("ns", spacing * 1000.0 * family.transfers_a_clock / rate)
    came = stock[DATA_RATE]
    if knob.name == DATA_RATE and isinstance(came, int):
        return CarriedUnit("of what it came with", spacing / came)
    return CarriedUnit(knob.unit or "own", spacing)


@dataclass(frozen=True)
class PastLine:
    """One past rig's knob, the strain that it came with, what carries over, and what was seen along it under one kind
    of load. ``counts``: how much it says of the rig that is learnt for; nearer ones say more.
    """

    rig: str
    knob: Knob
    came: int
    kind: LoadKind
    seen: tuple[EdgeSighting, ...]
    unit: CarriedUnit
    counts: float = 1.0

    @property
    def telling(self) -> bool:
        """Whether something failed: else its edge may lie anywhere beyond what was tried."""
        return any(one.failed or not one.up for one in self.seen)


class Common(BaseModel):
    """What the rigs of a workshop have in common along a knob, in the unit that carries over; it names none of them, so
    that it can be given to another workshop. ``slope`` and ``place`` are mean and deviation over rigs: of the slope's
    logarithm, and of where x* lies past what a rig came with; ``wall`` is its range in slopes past x*.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    knob: Annotated[str, Field(pattern=r"^[a-z][a-z0-9_]{0,59}$")]
    family: Family
    unit: Annotated[str, Field(max_length=20)]
    rigs: Annotated[int, Field(ge=LEAST_RIGS, le=100_000)]
    slope: tuple[Annotated[float, Field(ge=-30, le=30)], Annotated[float, Field(gt=0, le=10)]]
    place: tuple[Annotated[float, Field(ge=-1e6, le=1e6)], Annotated[float, Field(gt=0, le=1e6)]]
    wall: tuple[Annotated[float, Field(ge=0, le=1e3)], Annotated[float, Field(gt=0, le=1e3)]]

    def on(self, knob: Knob, came: int, step: float, whose: str) -> EdgePrior:
        """What is believed of a knob on a rig that came with this strain, whose grid step is so much of the unit."""
        wider, unlike = 1.0 + 2.0 / self.rigs, max(UNLIKE_OTHERS, 1.0 / (self.rigs + 2))
        usual, (mean, deviation) = prior_for(knob), self.slope
        low, high = (math.exp(mean + way * WIDE * max(LEAST_FOLDS, deviation) * wider) / step for way in (-1, 1))
        highest = usual.slope.highest / usual.units_a_step(knob)
        spread = max(LEAST_STEPS, self.place[1] / step) * wider
        return usual.model_copy(
            update={
                "name": f"{usual.name}-here"[:40],
                "learnt_from": f"{self.rigs} rigs of {whose}",
                "rigs": self.rigs,
                "families": (),
                "unit": "steps",
                "slope": Slope(low=low, high=high, shoulder=min(0.45, unlike), highest=max(FARTHER * high, highest)),
                "wall": Wall(low=self.wall[0] / WALL_WIDER, high=self.wall[1] * WALL_WIDER, counted_in="slopes"),
                "place": Place(middle=came + self.place[0] / step, spread=spread, unlike=unlike),
            }
        )


def common_of(lines: Sequence[PastLine], family: Family = Family.UNKNOWN) -> Common | None:
    """What past rigs have in common along one knob; None where too few of them tell anything. One line of each counts,
    and only those in the unit that most have.
    """
    telling = [line for line in lines if line.telling]
    units = [line.unit.name for line in telling]
    unit = max(units, key=units.count, default="")
    known = list({line.rig: line for line in telling if line.unit.name == unit}.values())
    if len(known) < LEAST_RIGS:
        return None
    slopes, places, walls = (np.stack(one) for one in zip(*map(_drawn, known), strict=True))
    counts = np.array([[line.counts] for line in known])
    least = LEAST_STEPS * min(line.unit.step for line in known)
    weights = np.full(slopes.shape, 1.0 / SAMPLES)
    for _ in range(ROUNDS):
        slope, place = _moments(slopes, weights, counts, LEAST_FOLDS), _moments(places, weights, counts, least)
        weights = np.exp(_log_normal(slopes, *slope) + _log_normal(places, *place))
        weights /= weights.sum(axis=1, keepdims=True)
    near, far = _quantiles(walls, weights * counts)
    name = known[0].knob.name
    return Common(
        knob=name, family=family, unit=unit, rigs=len(known), slope=slope, place=place, wall=(max(0.0, near), far)
    )


def _drawn(line: PastLine) -> tuple[Numbers, Numbers, Numbers]:
    """Beliefs about one past rig: the logarithm of its slope, where its edge lies from what it came with, both in what
    carries over, and the wall in slopes past it.
    """
    posterior = posterior_of(prior_for(line.knob), line.knob, {line.kind: line.seen}, coarse=True)
    samples = samples_of(posterior, line.kind, 0.0, SAMPLES)
    step, width = line.unit.step, posterior.parameter_grid.width
    slope, x_star = samples.slope * width, samples.x_star * width
    return np.log(slope * step), (x_star - line.came) * step, (samples.wall * width - x_star) / slope


def _moments(values: Numbers, weights: Numbers, counts: Numbers, least: float) -> tuple[float, float]:
    """Mean and deviation over rigs, each of which counts once, or as much as it is near."""
    whole = float(counts.sum())
    mean = float((counts * weights * values).sum() / whole)
    spread = float((counts * weights * (values - mean) ** 2).sum() / max(counts.max(), whole - counts.max()))
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
