"""A line judged: where the edge of the purpose lies under each kind of load, where to stand, and what is in doubt."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from tenaz.core.evidence.edge import EdgeEstimate
from tenaz.core.knobs.knob import Knob
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.rigs.felt import asked_along
from tenaz.core.rigs.rig import Purpose
from tenaz.core.searches.search import TrialFacts
from tenaz.margins.doubts import doubts_of
from tenaz.margins.edge import edge_of, was_stray
from tenaz.margins.posterior import Posterior, posterior_of
from tenaz.margins.priors import EdgePrior, prior_for
from tenaz.margins.rates import RateEstimate, rates_along
from tenaz.margins.sightings import EdgeSighting, sighting_of, sightings_of


@dataclass(frozen=True)
class Judgement:
    """Of one knob, all others as they are, under one kind of load: its edge, and all that was seen.

    ``stand`` is the hardest strain that can be advised under ``kinds``: its own, those that failed, and those that the
    purpose asks for and that were tried harder than that; None where not even the easiest value can.
    """

    knob: Knob
    kind: LoadKind
    purpose: Purpose
    prior: EdgePrior
    posterior: Posterior
    edge: EdgeEstimate
    stand: int | None
    kinds: tuple[LoadKind, ...]
    seen: tuple[EdgeSighting, ...]
    places: tuple[int, ...] = ()
    """Of each sighting, its place among the trials that were judged; some say nothing, and have none."""

    def without(self, place: int) -> EdgeEstimate | None:
        """Where the edge would lie had one trial not been made; None where it says nothing."""
        if place not in self.places:
            return None
        rest = tuple(one for at, one in zip(self.places, self.seen, strict=True) if at != place)
        return edge_of(posterior_of(self.prior, self.knob, {self.kind: rest}), (self.kind,), self.purpose.tolerance)

    def least_sure(self, strain: int) -> tuple[float, LoadKind]:
        """How sure it is that a strain is tolerated under the worst of its kinds, and which that is."""
        return least_sure(self.posterior, self.kinds, self.purpose, strain)

    @property
    def not_tried(self) -> tuple[LoadKind, ...]:
        """Loads that the purpose asks for and that are not judged at the value to stand at."""
        return tuple(kind for kind, _ in self.purpose.hours_asked if kind not in self.kinds)

    def rates(self, strains: Sequence[int]) -> tuple[RateEstimate, ...]:
        """Failures an hour at strains, with intervals."""
        return rates_along(self.posterior, self.kind, strains) if strains else ()

    def rate(self, strain: int) -> RateEstimate:
        """Failures an hour at one strain."""
        return self.rates([strain])[0]

    @cached_property
    def doubts(self) -> tuple[str, ...]:
        """What does not fit, in words; empty where all does."""
        return doubts_of(self.posterior, self.prior, self.kind, self.seen)


def judge(
    knob: Knob,
    purpose: Purpose,
    trials: Sequence[TrialFacts],
    kind: LoadKind,
    limit: int | None = None,
    stock: int | None = None,
    prior: EdgePrior | None = None,
) -> Judgement | None:
    """Judge the trials on a line under one kind of load; None without any that says something. ``limit`` is the hardest
    strain that may be advised, ``stock`` that of what the rig came with, ``prior`` what past rigs say.
    """
    purpose = asked_along(knob, purpose)
    kinds = (kind, *sorted({k for one in trials for k in one.kinds if k is not kind}, key=str))
    seen = {k: sightings_of(knob, trials, k, purpose.least_reach(k)) for k in kinds}
    if not seen[kind]:
        return None
    prior = prior or prior_for(knob)
    posterior = posterior_of(prior, knob, seen)
    edge = edge_of(posterior, (kind,), purpose.tolerance, prior)
    least = purpose.least_reach(kind)
    places = (k for k, one in enumerate(trials) if sighting_of(knob, one, kind, least) is not None)
    kinds = judged_kinds(posterior, kind, purpose, limit, stock)
    stand = to_stand_at(posterior, edge_of(posterior, kinds, purpose.tolerance), purpose, limit, stock)
    if stand is not None and stock is not None and stand < min(stock, *(one.strain for one in seen[kind])):
        # Neither it nor anything easier was ever tried, and it did not come so: it may not even start there.
        stand = None
    return Judgement(knob, kind, purpose, prior, posterior, edge, stand, kinds, seen[kind], tuple(places))


def least_sure(
    posterior: Posterior, kinds: Sequence[LoadKind], purpose: Purpose, strain: int
) -> tuple[float, LoadKind]:
    """How sure it is that a strain is tolerated under the worst of some kinds of load, and which that is."""
    found = [(edge_of(posterior, (kind,), purpose.tolerance).tolerated(strain), kind) for kind in kinds]
    return min(found, key=lambda one: one[0])


def judged_kinds(
    posterior: Posterior, own: LoadKind, purpose: Purpose, limit: int | None = None, stock: int | None = None
) -> tuple[LoadKind, ...]:
    """The kinds of load whose edges count for where to stand: one's own, every other that failed, and those that the
    purpose asks for and that held at a harder value than these would advise. What was tried at that value alone says
    too little of it: whoever stands there is told so.
    """
    series = posterior.series
    found = (own, *(kind for kind, strand in series.items() if kind is not own and strand.failed is not None))
    held = {
        kind: at
        for kind, _ in purpose.hours_asked
        if kind in series and kind not in found and (at := series[kind].held) is not None
    }
    if not held:
        return found
    stand = to_stand_at(posterior, edge_of(posterior, found, purpose.tolerance), purpose, limit, stock)
    return found if stand is None else (*found, *(kind for kind, at in held.items() if at > stand))


def to_stand_at(
    posterior: Posterior, edge: EdgeEstimate, purpose: Purpose, limit: int | None = None, stock: int | None = None
) -> int | None:
    """The hardest strain that can be advised: tolerated with the confidence asked, within the limit, below every
    failure that was no stray one (:func:`tenaz.margins.edge.was_stray`) by the least guard band; None where not even
    the easiest value is. What the rig came with, ``stock``, is left alone unless it, or something easier, failed: who
    made it vouched for that.
    """
    knob = posterior.knob
    ends = knob.ends
    found = min(edge.hardest(purpose.tolerance.confidence), ends[1] if limit is None else limit)
    found = found if stock is None else max(found, stock)
    blamed = (strand.failed for kind, strand in posterior.series.items() if not was_stray(posterior, kind))
    for failed in (*blamed, posterior.stopped_at):
        if failed is not None:
            found = min(found, int(failed) - 1 - purpose.guard_band_steps)
    return found if found >= ends[0] else None
