"""What was shown on a line, value by value, and what a purpose still asks for at one of them."""

from collections.abc import Sequence
from dataclasses import replace

from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.evidence.owing import still_owed
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.rigs.rig import Purpose
from tenaz.core.searches.search import SearchGround, TrialFacts
from tenaz.core.trials.facts import planned_fact
from tenaz.margins.safety import A_WHILE_H

CHECK_H = A_WHILE_H
"""How long a load that is asked for too runs at the hardest value that held: what its own edge is."""


class ShownOnLine:
    """Clean hours by kind of load and strain, and where anything failed."""

    def __init__(self, ground: SearchGround) -> None:
        self._ground = ground
        self._hours: dict[tuple[LoadKind, int], float] = {}
        self.failed: int | None = None
        """The easiest strain that failed, under whatever load."""
        self.held: set[int] = set()

    def take(self, seen: Sequence[TrialFacts]) -> None:
        """Count more trials."""
        knob, purpose = self._ground.knob, self._ground.purpose
        for one in seen:
            strain = knob.strain(one.setpoint.number(knob.name))
            if one.verdict is Verdict.FAIL and one.outcome is not Outcome.TOO_HOT:
                self.failed = strain if self.failed is None else min(self.failed, strain)
            for kind in filter(one.clean_under, one.kinds):
                self.held.add(strain)
                if counts(one, kind, purpose):
                    self._hours[kind, strain] = self._hours.get((kind, strain), 0.0) + one.elapsed_s / 3600

    def hours(self, kind: LoadKind, strain: int) -> float:
        """Clean hours there, at the reach that is asked."""
        return self._hours.get((kind, strain), 0.0)

    def owed(self, strain: int) -> tuple[LoadPlan, ...]:
        """The loads that the purpose still asks for at a strain; the search's own first."""
        own = self._ground.load.kind
        asked = sorted(self._ground.purpose.hours_asked, key=lambda one: one[0] is not own)
        owing = []
        for kind, hours in asked:
            if left := still_owed(hours, self.hours(kind, strain)):
                owing.append(planned(self._ground.purpose, kind, left, self._ground.load))
        return tuple(owing)


def counts(one: TrialFacts, kind: LoadKind, purpose: Purpose) -> bool:
    """Whether its time under a kind of load is at the reach that is asked."""
    plans = (one.plan, *one.plan.beside)
    fact = one.facts.of(kind) or next((planned_fact(p, one.elapsed_s) for p in plans if p.kind is kind), None)
    return fact is None or not fact.reach.short_of(purpose.least_reach(kind))


def planned(purpose: Purpose, kind: LoadKind, hours: float, own: LoadPlan | None = None) -> LoadPlan:
    """A load of a kind for so many hours, at the reach at which its hours count; like ``own`` if that is the kind."""
    least = purpose.least_reach(kind)
    plan = own if own is not None and own.kind is kind else LoadPlan(kind)
    share = max(plan.share, least.share or 0.0)
    reached = replace(plan, share=share, mode=least.mode or plan.mode, level=least.level or plan.level)
    return lasting(reached, hours)


def lasting(plan: LoadPlan, hours: float) -> LoadPlan:
    """A load as it is, for so many hours."""
    return replace(plan, duration_s=hours * 3600.0, laps=None)
