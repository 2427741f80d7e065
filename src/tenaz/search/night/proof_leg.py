"""The end of a night: what the purpose asks for, shown at the last setpoint; when that fails, a step back, and again.

A failure after hours has no culprit that could be found before the morning, so each failure takes all of its domain
back: first everything that was tuned by a step, then further, then as it came.
"""

from collections.abc import Callable, Sequence

from tenaz.core.base.outcomes import Verdict
from tenaz.core.evidence.owing import still_owed
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.kinds import LoadKind, Strains
from tenaz.core.loads.plan import show_duration
from tenaz.core.rigs.rig import Purpose
from tenaz.core.searches.search import Proposal, TrialFacts
from tenaz.search.night.legs import Ended, proposed
from tenaz.search.owing import counts, planned

StepBack = Callable[[Setpoint, Strains, int], Setpoint | None]
"""From a setpoint that failed under what strains that part, for the so-many-th time; None: there is nothing easier."""


class ProofLeg:
    """Shows what is asked, at the first setpoint that can show it."""

    name = "proof"

    def __init__(self, base: Setpoint, purpose: Purpose, back: StepBack, before: Sequence[TrialFacts]) -> None:
        self.base, self._purpose, self._back = base, purpose, back
        self._at, self._backs = base, dict[Strains, int]()
        self._lost = ""
        self._seen: list[TrialFacts] = []
        for one in before:
            self.take(one)

    @property
    def proving(self) -> Setpoint:
        """What is being proven now."""
        return self._at

    def belongs(self, one: TrialFacts) -> bool:
        """At the setpoint that is being proven now."""
        return one.setpoint == self._at

    def take(self, one: TrialFacts) -> None:
        """Count it; after a failure everything begins anew, further back."""
        self._seen.append(one)
        if one.setpoint != self._at or one.verdict is not Verdict.FAIL:
            return
        strains = next((kind.strains for kind in one.kinds), Strains.MEMORY)
        if not one.booted:
            strains = Strains.MEMORY
        self._backs[strains] = self._backs.get(strains, 0) + 1
        easier = self._back(self._at, strains, self._backs[strains])
        if easier is None:
            self._lost = f"it failed under {', '.join(one.kinds)}, and there is nothing easier to go back to"
        else:
            self._at = easier
            known = next((s for s in self._seen if s.setpoint == easier and s.verdict is Verdict.FAIL), None)
            if known is not None:
                self.take(known)

    def not_taken(self, asked: Setpoint, got: Setpoint) -> None:  # noqa: ARG002 - as every leg is told
        """Every value of it was taken before; should one not be, what is in force is what is proven."""
        if not self._lost:
            self._at = got

    def hours(self, kind: LoadKind) -> float:
        """Clean hours at the setpoint, at the reach that is asked."""
        here = (one for one in self._seen if one.setpoint == self._at and one.clean_under(kind))
        return sum(one.elapsed_s for one in here if counts(one, kind, self._purpose)) / 3600

    @property
    def backs(self) -> int:
        """How often it went back."""
        return sum(self._backs.values())

    def standing(self) -> Proposal | Ended:
        """What is owed, the shortest load first: what fails, fails sooner."""
        if self._lost:
            return Ended(self._at, self._lost, lost=True)
        for kind, asked_h in sorted(self._purpose.hours_asked, key=lambda one: one[1]):
            if left_h := still_owed(asked_h, self.hours(kind)):
                plan = planned(self._purpose, kind, left_h)
                words = f"{kind} {show_duration(plan.duration_s or 0.0)}, as the purpose asks"
                again = f"; after {self.backs} step{'s' if self.backs != 1 else ''} back" if self.backs else ""
                return proposed(self._at, plan, f"proof: {words}{again}")
        return Ended(self._at, "all that the purpose asks for was run")
