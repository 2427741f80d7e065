"""A strategy played against one hidden rig, from its first proposal to its advice."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.rigs.rig import Purpose
from tenaz.core.searches.search import Advice, Proposal, SearchGround, TrialFacts, search_limit
from tenaz.core.trials.facts import LoadFacts, planned_fact
from tenaz.margins.all_tails import for_all_tails
from tenaz.margins.background import Background
from tenaz.margins.experience import CarriedUnit, PastLine, carried_unit, common_of
from tenaz.margins.hazard import log_tolerated
from tenaz.margins.judging import judge
from tenaz.margins.priors import EdgePrior, prior_text
from tenaz.margins.sightings import EdgeSighting, sightings_of
from tenaz.search.believing import Belief
from tenaz.search.registry import strategy_of
from tenaz.study.hidden import COSTS, Hidden, Tried, try_there

MOST_TRIALS = 400


@dataclass(frozen=True, slots=True)
class Played:
    """What came of it: hours in all and under proof, trials; the strain that was advised (None: none), the true edge,
    the slope, and the interval that was told.
    """

    hours: float
    proof_h: float
    trials: int
    advised: int | None
    edge: float
    slope: float
    low: float
    high: float
    called_safe: bool = False
    """Whether the verdict on what was advised is *safe*, in all three parts."""

    @property
    def safe(self) -> bool:
        """Whether what was advised is truly tolerated; no advice does no harm."""
        return self.advised is None or self.advised <= self.edge

    @property
    def short_steps(self) -> float:
        """How many steps short of the best value the advice is."""
        return self.edge // 1 - (self.advised if self.advised is not None else 0)

    @property
    def covered(self) -> bool:
        """Whether the interval holds the edge."""
        return self.low <= self.edge <= self.high


def ground_of(rig: Hidden, purpose: Purpose, hours: float = 1.0, experience: str = "") -> SearchGround:
    """What a strategy works on."""
    limit = search_limit(rig.knob, "a study")
    load = LoadPlan(rig.load, hours * 3600.0)
    return SearchGround((rig.knob,), (limit,), rig.base, load, COSTS, purpose, experience=experience)


def facts_of_try(proposal: Proposal, tried: Tried) -> TrialFacts:
    """As the book would tell it."""
    verdict = Verdict.FAIL if tried.failed else Verdict.PASS
    outcome = Outcome.NO_BOOT if not tried.started else Outcome.ERRED if tried.failed else Outcome.HELD
    seconds = tried.hours * 3600
    fact = planned_fact(proposal.plan, seconds, 8, 2**35)
    return TrialFacts(
        proposal.setpoint,
        proposal.plan,
        verdict,
        elapsed_s=seconds,
        failed_after_s=seconds if tried.failed and tried.started else None,
        booted=tried.started,
        facts=LoadFacts((fact,)),
        outcome=outcome,
    )


@dataclass(frozen=True, slots=True)
class _Searched:
    """What was tried, as it went and as the book would tell it, and the advice (None: the trials ran out)."""

    tried: list[Tried]
    seen: list[TrialFacts]
    advice: Advice | None


def _searched(rig: Hidden, ground: SearchGround, strategy: str, parameters: Mapping[str, object]) -> _Searched:
    """A strategy's proposals, each tried on the rig, until it advises."""
    running = strategy_of(strategy).begin(ground, parameters)
    stands, hours = next(running), 0.0
    tried: list[Tried] = []
    seen: list[TrialFacts] = []
    while isinstance(stands, Proposal) and len(seen) < MOST_TRIALS:
        strain = rig.knob.strain(stands.setpoint.number(rig.knob.name))
        tried.append(try_there(rig, strain, (stands.plan.duration_s or 0.0) / 3600, hours))
        hours += tried[-1].cost_h
        seen.append(facts_of_try(stands, tried[-1]))
        stands = running.send(seen[-1:])
    return _Searched(tried, seen, stands if isinstance(stands, Advice) else None)


def play(
    rig: Hidden,
    strategy: str,
    parameters: Mapping[str, object],
    purpose: Purpose,
    alike_h: float = 0.0,
    past: Sequence[PastLine] = (),
) -> Played:
    """Until advice; ``alike_h`` are clean hours of the workshop's rigs like it, ``past`` what was seen of them."""
    came = rig.knob.strain(rig.base.number(rig.knob.name))
    known = common_of(past) if past else None
    learnt = None if known is None else known.on(rig.knob, came, _unit(rig).step, "the study")
    ground = ground_of(rig, purpose, experience=prior_text(learnt) if learnt is not None else "")
    longest = max((h for _, h in purpose.hours_asked), default=8.0)
    searched = _searched(rig, ground, strategy, parameters)
    seen, advice = searched.seen, searched.advice
    hours = sum(one.cost_h for one in searched.tried)
    asked = [(one.plan.duration_s or 0.0) / 3600 for one in seen]
    proof_h = sum(one.cost_h for one, h in zip(searched.tried, asked, strict=True) if h >= longest / 2)
    belief = Belief(ground)
    belief.take(seen)
    edge = belief.edge()
    advised = None
    if advice is not None and advice.setpoint is not None:
        advised = rig.knob.strain(advice.setpoint.number(rig.knob.name))
    true = rig.edge(log_tolerated(purpose.tolerance.failures, purpose.tolerance.hours))
    called = advised is not None and called_safe(rig, purpose, seen, advised, alike_h, learnt)
    return Played(hours, proof_h, len(seen), advised, true, rig.slope, edge.low, edge.high, called)


def searched_sightings(rig: Hidden, purpose: Purpose) -> tuple[EdgeSighting, ...]:
    """What was seen of a rig that was climbed as one climbs without experience."""
    seen = _searched(rig, ground_of(rig, purpose), "adapt", {}).seen
    return tuple(sightings_of(rig.knob, seen, rig.load, purpose.least_reach(rig.load)))


def past_line(rig: Hidden, name: str, purpose: Purpose) -> PastLine:
    """A rig of before, as a workshop remembers it."""
    came = rig.knob.strain(rig.base.number(rig.knob.name))
    return PastLine(name, rig.knob, came, rig.load, searched_sightings(rig, purpose), _unit(rig))


def _unit(rig: Hidden) -> CarriedUnit:
    return carried_unit(rig.knob, rig.base, rig.base, Family.UNKNOWN)


def called_safe(
    rig: Hidden,
    purpose: Purpose,
    seen: list[TrialFacts],
    advised: int,
    alike_h: float,
    prior: EdgePrior | None = None,
) -> bool:
    """The verdict on it, in three parts; ``alike_h`` are the clean hours of rigs like it."""
    judged = judge(rig.knob, purpose, seen, rig.load, prior=prior)
    confidence = purpose.tolerance.confidence
    if judged is None or judged.edge.tolerated(advised) < confidence:
        return False
    clean_h = sum(one.elapsed_s for one in seen) / 3600
    at_start = sum(one.verdict is Verdict.FAIL and one.setpoint == rig.base for one in seen)
    nothing_else = Background(clean_h, at_start + rig.alike_failures(alike_h), alike_h=alike_h).shows(purpose.tolerance)
    return nothing_else and for_all_tails(judged, advised).sure >= confidence
