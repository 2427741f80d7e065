"""Where the edge of a rig lies of which nothing is known but what rigs of a kind have in common."""

from collections.abc import Sequence
from dataclasses import dataclass

from tenaz.core.base.tolerance import Tolerance
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.loads.kinds import LoadKind
from tenaz.margins.edge import edge_of
from tenaz.margins.experience import CarriedUnit, PastLine, common_of
from tenaz.margins.posterior import posterior_of

FOUR_IN_FIVE = 0.8
"""The chance that the stretch holds the edge of one more rig. Of few rigs some chance is always left that the next is
unlike them all: a stretch that held that too would be nearly the whole grid, and tell nothing.
"""


@dataclass(frozen=True, slots=True)
class Usual:
    """By how many rigs, and the strains between which the edge lies with a chance of ``confidence``."""

    rigs: int
    low: float
    median: float
    high: float
    confidence: float


def usual_of(
    lines: Sequence[PastLine], knob: Knob, came: int, unit: CarriedUnit, family: Family, kind: LoadKind,
    tolerance: Tolerance,
) -> Usual | None:  # fmt: skip
    """What past rigs say of a knob of one that came with a strain; None where too few tell anything, or in another unit
    than carries over here.
    """
    common = common_of(lines, family)
    if common is None or common.unit != unit.name:
        return None
    prior = common.on(knob, came, unit.step, "this workshop")
    posterior = posterior_of(prior, knob, {kind: ()}, coarse=True)
    edge = edge_of(posterior, (kind,), tolerance, confidence=FOUR_IN_FIVE)
    return Usual(common.rigs, edge.low, edge.median, edge.high, edge.confidence)
