"""What all trials at a setpoint add up to, by kind of load."""

import math
from collections.abc import Iterable
from dataclasses import dataclass

from tenaz.core.loading import LoadKind
from tenaz.core.outcomes import Verdict
from tenaz.core.rigs import Purpose
from tenaz.core.setpoints import Setpoint
from tenaz.core.trials import Trial


@dataclass(frozen=True, slots=True)
class KindEvidence:
    """One kind of load: trials that passed and failed, clean hours, and the hours that the purpose asks for.

    ``partial_hours`` are those of trials that passed and did not once go over what the kind goes over: they show what
    they reached, and are not among ``hours``. ``exposed_hours`` is all time under this load, up to failures too.
    """

    kind: LoadKind
    passed: int
    failed: int
    hours: float
    hours_asked: float
    partial_hours: float = 0.0
    exposed_hours: float = 0.0

    @property
    def hours_owed(self) -> float:
        """What is still to be shown."""
        return max(0.0, self.hours_asked - self.hours)

    def hazard_bound_per_h(self, confidence: float = 0.95) -> float | None:
        """Upper bound of the failure rate after n failures in T hours: χ²(confidence; 2n + 2) / 2T, the exact one-sided
        limit for a Poisson process; without a failure −ln(1 − confidence)/T. None where nothing ran.
        """
        if self.exposed_hours <= 0:
            return None
        return poisson_limit(self.failed, confidence) / self.exposed_hours


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
    whatever ran beside.
    """

    setpoint: Setpoint
    kinds: tuple[KindEvidence, ...]
    voids: int
    failed: int = 0

    @property
    def shown(self) -> bool:
        """Whether all that the purpose asks for has been shown, and nothing failed."""
        return not self.failed and all(kind.hours_owed == 0 for kind in self.kinds)


def evidence_at(setpoint: Setpoint, trials: Iterable[Trial], purpose: Purpose) -> Evidence:
    """Add up the closed trials that ran at exactly this setpoint."""
    here = [trial for trial in trials if trial.setpoint == setpoint and trial.outcome is not None]
    asked = dict(purpose.hours_asked)
    kinds = []
    for kind in LoadKind:
        of_kind = [trial for trial in here if kind in trial.plan.kinds]
        if of_kind or kind in asked:
            kinds.append(_of_kind(kind, of_kind, asked.get(kind, 0.0)))
    failed = sum(trial.verdict is Verdict.FAIL for trial in here)
    return Evidence(setpoint, tuple(kinds), sum(trial.verdict is Verdict.VOID for trial in here), failed)


def _of_kind(kind: LoadKind, trials: list[Trial], hours_asked: float) -> KindEvidence:
    passed = [trial for trial in trials if trial.verdict is Verdict.PASS]
    failed = [trial for trial in trials if trial.verdict is Verdict.FAIL]
    whole = sum(trial.elapsed_s for trial in passed if trial.covered_by(kind) >= 1) / 3600
    clean = sum(trial.elapsed_s for trial in passed) / 3600
    until_failed = sum(trial.elapsed_s if trial.failed_after_s is None else trial.failed_after_s for trial in failed)
    return KindEvidence(kind, len(passed), len(failed), whole, hours_asked, clean - whole, clean + until_failed / 3600)
