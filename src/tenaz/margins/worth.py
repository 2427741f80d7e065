"""What another hour buys at a value: in what is shown directly, and in the chance of being right about it."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tenaz.core.base.tolerance import Tolerance
from tenaz.core.evidence.shown import KindEvidence
from tenaz.core.loads.kinds import LoadKind
from tenaz.margins.hazard import log_tolerated
from tenaz.margins.posterior import Posterior
from tenaz.margins.samples import samples_of

SAMPLES = 2000
SURER = 0.002
"""A chance of being right that rises by less than this has not risen."""
LIKELIER_NOT = 0.5


@dataclass(frozen=True, slots=True)
class Hour:
    """One more hour of one kind of load at a value: hours between failures that are shown before and after it, should
    it hold; how sure it is that the value's rate is tolerated, before and after; the chance that it fails.
    """

    kind: LoadKind
    shown_h: float
    shown_after_h: float
    sure: float
    sure_after: float
    fails: float
    owed_h: float = 0.0

    @property
    def buys(self) -> float:
        """By how much the chance of being right rises, held or not: what an hour that fails saves counts as well."""
        return max(0.0, self.sure_after - self.sure) + self.fails * self.sure


def next_hour(
    posterior: Posterior, kind: LoadKind, strain: int, tolerance: Tolerance, evidence: KindEvidence | None
) -> Hour:
    """What the next hour of a kind of load would buy at a strain."""
    samples = samples_of(posterior, kind, log_tolerated(tolerance.failures, tolerance.hours), SAMPLES)
    rates = samples.rates(np.array([strain / posterior.parameter_grid.width]))[:, 0]
    tolerated, holds = rates <= tolerance.rate_per_h, np.exp(-rates)
    shown = evidence or KindEvidence(kind, passed=0, failed=0, hours=0.0, hours_asked=0.0)
    return Hour(
        kind,
        shown.shown_h(),
        shown.shown_h(more_h=1.0),
        float(tolerated.mean()),
        float((tolerated * holds).sum() / holds.sum()),
        float(1.0 - holds.mean()),
        shown.hours_owed,
    )


def advice(hours: Sequence[Hour]) -> str:
    """In words: where the next hour is best spent, or that it buys nothing."""
    if not hours:
        return "nothing was tried on this line yet"
    best = max(hours, key=lambda one: (round(one.buys, 3), one.owed_h))
    if min(one.sure for one in hours) < LIKELIER_NOT:
        worst = min(hours, key=lambda one: one.sure)
        return f"only {worst.sure:.0%} sure under {worst.kind}: no hour here makes that right, an easier value does"
    if best.buys < SURER:
        owed = [one for one in hours if one.owed_h > 0]
        if owed:
            return (
                f"another hour makes nothing surer; what the purpose asks for is still to run "
                f"({', '.join(f'{one.kind} {one.owed_h:.1f} h' for one in owed)})"
            )
        return "another hour here buys nothing: stop testing this value"
    return (
        f"an hour of {best.kind} buys most: {best.sure:.1%} sure becomes {best.sure_after:.1%} if it holds, and "
        f"{best.fails:.1%} is the chance that it fails"
    )
