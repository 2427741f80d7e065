"""What the judgement of an edge sees of a trial."""

from collections.abc import Iterable
from dataclasses import dataclass, replace

from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.setpoint import Auto
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.loads.reach import Reach
from tenaz.core.searches.search import TrialFacts
from tenaz.core.sensors.part import part_c
from tenaz.core.sensors.telemetry import SensorKind, guards
from tenaz.core.trials.facts import LoadFacts

SOONEST_H = 2.0 / 3600.0
"""A failure earlier than that is only known to have come within it."""

BY_HAND_FROM = 0.5
"""A time that somebody read off a clock: the failure came between this part of it and the whole."""


@dataclass(frozen=True, slots=True)
class EdgeSighting:
    """One trial along a knob: its strain in grid steps, and what happened there under one kind of load.

    ``clean_h`` are hours without a failure; ``failed_by_h`` is when it had failed (None: it did not), equal to
    ``clean_h`` where the time is known exactly. ``up`` and ``down`` count starts that came up and that did not;
    ``retrained`` says that it came up on a second training only, as near the wall. ``warm_c`` is how warm it was on
    average, where that was measured.
    """

    strain: float
    clean_h: float = 0.0
    failed_by_h: float | None = None
    up: int = 1
    down: int = 0
    warm_c: float | None = None
    retrained: bool = False

    @property
    def failed(self) -> bool:
        """Whether it failed: under load, or without having come up."""
        return self.failed_by_h is not None or not self.up


def failed_at(strain: float, after_h: float, warm_c: float | None = None) -> EdgeSighting:
    """A failure at a time."""
    return EdgeSighting(strain, after_h, max(after_h, SOONEST_H), warm_c=warm_c)


def no_start(strain: float) -> EdgeSighting:
    """It did not come up."""
    return EdgeSighting(strain, up=0, down=1)


def sighting_of(knob: Knob, seen: TrialFacts, kind: LoadKind, least: Reach | None = None) -> EdgeSighting | None:
    """A trial under one kind of load; None where it says nothing. Of a trial under other loads only its starts count:
    those do not depend on what was to be run. Clean time at less than the ``least`` reach counts in proportion.
    """
    value = seen.setpoint[knob.name]
    if isinstance(value, Auto) or (seen.verdict is Verdict.VOID and not seen.clean):
        return None
    down, retrained = max(0, seen.boots - seen.booted), seen.retrained and seen.booted
    starts = EdgeSighting(knob.strain(value), up=int(seen.booted), down=down, retrained=retrained)
    if not seen.booted or kind not in seen.kinds or not (seen.verdict is Verdict.FAIL or seen.facts.shows(kind)):
        return starts
    fact, warm_c = seen.facts.of(kind), warmth_of(seen.facts, kind)
    clean_h = (seen.elapsed_s if seen.failed_after_s is None else seen.failed_after_s) / 3600.0
    if seen.verdict is not Verdict.FAIL or seen.outcome is Outcome.TOO_HOT:
        reached = _part(fact.reach, least) if fact is not None and least is not None else 1.0
        return replace(starts, clean_h=clean_h * reached, warm_c=warm_c)
    began = clean_h * (BY_HAND_FROM if fact is not None and fact.by_hand else 1.0)
    return replace(starts, clean_h=began, failed_by_h=max(clean_h, SOONEST_H), warm_c=warm_c)


def sightings_of(
    knob: Knob, trials: Iterable[TrialFacts], kind: LoadKind, least: Reach | None = None
) -> tuple[EdgeSighting, ...]:
    """All that trials say of the edge under one kind of load."""
    found = (sighting_of(knob, seen, kind, least) for seen in trials)
    return tuple(one for one in found if one is not None)


def _part(reach: Reach, least: Reach) -> float:
    """How much of what is asked was got at."""
    parts = [got / asked for got, asked in ((reach.share, least.share), (reach.cores, least.cores)) if got and asked]
    return min([1.0, *parts])


def warmth_of(facts: LoadFacts, kind: LoadKind) -> float | None:
    """How warm the part was on average that a kind of load strains; None where that was not measured."""
    warm = ((guards(one), one.mean) for one in facts.sensors if one.kind is SensorKind.TEMPERATURE)
    return part_c(warm, kind.strains)
