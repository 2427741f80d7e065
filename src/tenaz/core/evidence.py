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
    """One kind of load: trials that passed and failed, clean hours, and the hours that the purpose asks for."""

    kind: LoadKind
    passed: int
    failed: int
    hours: float
    hours_asked: float

    @property
    def hours_owed(self) -> float:
        """What is still to be shown."""
        return max(0.0, self.hours_asked - self.hours)

    def hazard_bound_per_h(self, confidence: float = 0.95) -> float | None:
        """Upper bound of the failure rate after clean hours only: −ln(1 − confidence)/T; None when there is none.

        The exact one-sided limit for no event in a Poisson process observed for T (the "rule of three" at 95 %).
        """
        if self.failed or self.hours <= 0:
            return None
        return -math.log(1.0 - confidence) / self.hours


@dataclass(frozen=True, slots=True)
class Evidence:
    """Everything shown at one setpoint; ``voids`` are trials that say nothing."""

    setpoint: Setpoint
    kinds: tuple[KindEvidence, ...]
    voids: int

    @property
    def failed(self) -> int:
        """Failures of any kind."""
        return sum(kind.failed for kind in self.kinds)


def evidence_at(setpoint: Setpoint, trials: Iterable[Trial], purpose: Purpose) -> Evidence:
    """Add up the closed trials that ran at exactly this setpoint."""
    here = [trial for trial in trials if trial.setpoint == setpoint and trial.outcome is not None]
    asked = dict(purpose.hours_asked)
    kinds = []
    for kind in LoadKind:
        of_kind = [trial for trial in here if kind in trial.plan.kinds]
        if not of_kind and kind not in asked:
            continue
        kinds.append(
            KindEvidence(
                kind,
                passed=sum(trial.verdict is Verdict.PASS for trial in of_kind),
                failed=sum(trial.verdict is Verdict.FAIL for trial in of_kind),
                hours=sum(t.elapsed_s for t in of_kind if t.verdict is Verdict.PASS) / 3600,
                hours_asked=asked.get(kind, 0.0),
            )
        )
    return Evidence(setpoint, tuple(kinds), sum(trial.verdict is Verdict.VOID for trial in here))
