"""What all trials at a setpoint add up to: by kind of load, and by what each load really got at."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.evidence.owing import still_owed
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.setpoint import Auto, Setpoint
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.loads.reach import ANY_REACH, Reach
from tenaz.core.rigs.rig import Purpose, Rig
from tenaz.core.trials.facts import planned_fact
from tenaz.core.trials.index import TrialIndex
from tenaz.core.trials.trial import Trial


@dataclass(frozen=True, slots=True)
class ReachEvidence:
    """Clean hours of one kind at one reach, and why they do not count (empty: they do)."""

    reach: Reach
    hours: float
    short_of: str = ""


@dataclass(frozen=True, slots=True)
class KindEvidence:
    """One kind of load: trials that passed and failed, clean hours at the reach that the purpose asks for, and how many
    it asks for.

    ``by_reach`` are all clean hours by what was reached; those short of what is asked are not among ``hours``.
    ``exposed_hours`` is time under this load here at that reach, up to failures too; ``harder_hours`` and
    ``harder_failed`` are time and failures at harder values on the same lines, which speak for this setpoint and are no
    evidence at it. ``told_hours``, of ``hours``, are a person's word, or a program's own: no result of them was checked
    by Tenaz.
    """

    kind: LoadKind
    passed: int
    failed: int
    hours: float
    hours_asked: float
    by_reach: tuple[ReachEvidence, ...] = ()
    exposed_hours: float = 0.0
    harder_hours: float = 0.0
    harder_failed: int = 0
    told_hours: float = 0.0
    least_reach: Reach = ANY_REACH

    @property
    def partial(self) -> tuple[ReachEvidence, ...]:
        """What was shown with less than the reach that is asked."""
        return tuple(one for one in self.by_reach if one.short_of)

    @property
    def hours_owed(self) -> float:
        """What is still to be shown."""
        return still_owed(self.hours_asked, self.hours)

    @property
    def owed(self) -> LoadPlan:
        """The load that would show what is owed, at the reach that is asked."""
        least = self.least_reach
        plan = LoadPlan(self.kind, duration_s=self.hours_owed * 3600)
        share, mode = max(plan.share, least.share or 0.0), least.mode or plan.mode
        return LoadPlan(self.kind, plan.duration_s, share=share, mode=mode, level=least.level or plan.level)

    def hazard_bound_per_h(self, confidence: float = 0.95) -> float | None:
        """Upper bound of the failure rate after n failures in T hours: χ²(confidence; 2n + 2) / 2T, the exact one-sided
        limit for a Poisson process; without a failure −ln(1 − confidence)/T. Nothing easier fails more often, so that
        hours and failures at harder values, all of both, bound this one too: the better of the two bounds holds, each
        at half the doubt. None where nothing ran.
        """
        if self.exposed_hours <= 0:
            return None
        return 1.0 / self.shown_h(confidence=confidence)

    def shown_h(self, more_h: float = 0.0, confidence: float = 0.95) -> float:
        """At least so many hours between failures are shown directly, or would be after some more clean ones."""
        here_h = self.exposed_hours + more_h
        if not self.harder_hours:
            return here_h / poisson_limit(self.failed, confidence)
        each = 1 - (1 - confidence) / 2
        together = poisson_limit(self.failed + self.harder_failed, each)
        return max(here_h / poisson_limit(self.failed, each), (here_h + self.harder_hours) / together)


def poisson_limit(events: int, confidence: float = 0.95) -> float:
    """The largest mean of a Poisson distribution under which so few events still have the chance 1 − confidence:
    half the χ² quantile of 2·events + 2 degrees (Garwood 1936).
    """

    def log_chance(mean: float) -> float:
        # Summed from the largest term down, so that nothing underflows.
        terms = [k * math.log(mean) - math.lgamma(k + 1) for k in range(events + 1)]
        most = max(terms)
        return most + math.log(sum(math.exp(term - most) for term in terms)) - mean

    low, high = 1e-9, 4.0 * (events + 1) + 20.0
    for _ in range(200):
        middle = (low + high) / 2
        low, high = (middle, high) if log_chance(middle) > math.log(1 - confidence) else (low, middle)
    return high


@dataclass(frozen=True, slots=True)
class Evidence:
    """Everything shown at one setpoint; ``voids`` are trials that say nothing, ``failed`` those that failed, each once
    whatever ran beside. ``before`` are trials here on other parts or under another firmware: they are not counted.
    ``unwatched_hours`` of clean time went by without anybody watching the processor's temperature.
    """

    setpoint: Setpoint
    kinds: tuple[KindEvidence, ...]
    voids: int
    failed: int = 0
    before: int = 0
    unwatched_hours: float = 0.0

    @property
    def shown(self) -> bool:
        """Whether all that the purpose asks for has been shown, and nothing failed."""
        return not self.failed and all(kind.hours_owed == 0 for kind in self.kinds)

    @property
    def owed(self) -> tuple[LoadPlan, ...]:
        """The loads that would show what is owed, one of each kind; empty where nothing is."""
        return tuple(kind.owed for kind in self.kinds if kind.hours_owed)


def evidence_at(setpoint: Setpoint, trials: TrialIndex, rig: Rig) -> Evidence:
    """Add up the closed trials that were in force at exactly this setpoint, on the parts of now."""
    here = [trial for trial in trials.at(setpoint) if trial.outcome is not None]
    harder = list(_harder(setpoint, trials, rig.knobs))
    asked = dict(rig.purpose.hours_asked)
    kinds = []
    for kind in LoadKind:
        # A program that counts as other loads is told under those.
        of_kind = [
            trial
            for trial in here
            if kind in trial.plan.kinds and not (kind is LoadKind.PROGRAM and trial.plan.counts_as)
        ]
        if of_kind or kind in asked:
            beyond = [trial for trial in harder if kind in trial.plan.kinds]
            kinds.append(_of_kind(kind, of_kind, beyond, asked.get(kind, 0.0), rig.purpose))
    failed = sum(trial.verdict is Verdict.FAIL for trial in here)
    voids = sum(trial.verdict is Verdict.VOID and not _ran_clean(trial) for trial in here)
    before = sum(trial.setpoint == setpoint and trial.outcome is not None for trial in trials.before)
    unwatched_h = sum(trial.elapsed_s for trial in here if trial.facts.unwatched and _ran_clean(trial)) / 3600
    return Evidence(setpoint, tuple(kinds), voids, failed, before, unwatched_h)


def _harder(setpoint: Setpoint, trials: TrialIndex, knobs: Sequence[Knob]) -> Iterable[Trial]:
    """Trials at harder values of one knob, all others as here."""
    for knob in knobs:
        value = setpoint[knob.name]
        if not isinstance(value, Auto):
            strain = knob.strain(value)
            for trial in trials.along(setpoint, knob.name):
                tried = trial.setpoint[knob.name]
                if not isinstance(tried, Auto) and knob.strain(tried) > strain:
                    yield trial


def _ran_clean(trial: Trial, kind: LoadKind | None = None) -> bool:
    """Whether it ended without a failure, after some time that somebody watched: held, or ended before its time; under
    a ``kind`` of load, also whether that verified anything.
    """
    clean = trial.outcome is not None and trial.outcome.ran_clean and trial.elapsed_s > 0
    return clean and (kind is None or trial.facts.shows(kind))


def _of_kind(
    kind: LoadKind, trials: list[Trial], harder: list[Trial], hours_asked: float, purpose: Purpose
) -> KindEvidence:
    failed = [trial for trial in trials if trial.verdict is Verdict.FAIL]
    least = purpose.least_reach(kind)
    hours: dict[Reach, float] = {}
    told_h = 0.0
    for trial in trials:
        if _ran_clean(trial, kind):
            reach, ran_h = _reach(trial, kind), trial.elapsed_s / 3600
            hours[reach] = hours.get(reach, 0.0) + ran_h
            if _told(trial, kind) and not reach.short_of(least):
                told_h += ran_h
    by_reach = tuple(ReachEvidence(reach, ran, reach.short_of(least)) for reach, ran in hours.items())
    asked_h = sum(one.hours for one in by_reach if not one.short_of)
    return KindEvidence(
        kind,
        passed=sum(trial.verdict is Verdict.PASS for trial in trials),
        failed=len(failed),
        hours=asked_h,
        hours_asked=hours_asked,
        by_reach=by_reach,
        exposed_hours=asked_h + sum(trial.clean_s for trial in failed) / 3600,
        told_hours=told_h,
        harder_hours=sum(_exposed_s(trial, kind, least) for trial in harder) / 3600,
        harder_failed=sum(trial.verdict is Verdict.FAIL and trial.outcome is not Outcome.NO_BOOT for trial in harder),
        least_reach=least,
    )


def _told(trial: Trial, kind: LoadKind) -> bool:
    """Whether how it went under a kind of load is somebody's word."""
    fact = trial.facts.of(kind)
    return kind is LoadKind.PROGRAM or (fact is not None and fact.by_hand)


def _exposed_s(trial: Trial, kind: LoadKind, least: Reach) -> float:
    """Time under a kind of load, up to its failure where there was one; clean time counts at the reach asked."""
    if trial.verdict is Verdict.FAIL:
        return trial.clean_s
    return trial.elapsed_s if _ran_clean(trial, kind) and not _reach(trial, kind).short_of(least) else 0.0


def _reach(trial: Trial, kind: LoadKind) -> Reach:
    """What a kind of load of a trial got at; of older ones only the plan is known."""
    fact = trial.facts.of(kind)
    if fact is None:
        plan = next((one for one in (trial.plan, *trial.plan.beside) if one.kind is kind), None)
        return ANY_REACH if plan is None else planned_fact(plan, trial.elapsed_s).reach
    return fact.reach
