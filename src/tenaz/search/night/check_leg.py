"""A leg of few trials: does a setpoint hold these loads? Then it is where the night goes on."""

from collections.abc import Sequence
from typing import TYPE_CHECKING

from tenaz.core.base.outcomes import Verdict
from tenaz.core.evidence.owing import still_owed
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.searches.search import Proposal, TrialFacts
from tenaz.search.night.legs import Ended, proposed

if TYPE_CHECKING:
    from tenaz.core.loads.kinds import LoadKind


class CheckLeg:
    """Whether ``to`` holds; ``fatal``: when it does not, there is nothing to tune."""

    def __init__(
        self, name: str, base: Setpoint, to: Setpoint, loads: Sequence[LoadPlan], why: str, fatal: bool = False
    ) -> None:
        self.name, self.base = name, base
        self._to, self._loads, self._why, self._fatal = to, tuple(loads), why, fatal
        self._clean_s: dict[LoadKind, float] = {}
        self._failed, self._refused = 0, False
        self.rates: dict[LoadKind, float] = {}
        """What each load reached."""

    def belongs(self, one: TrialFacts) -> bool:
        """At that setpoint."""
        return one.setpoint == self._to

    def take(self, one: TrialFacts) -> None:
        """Count clean time by kind, and failures."""
        self._failed += one.verdict is Verdict.FAIL
        for kind in filter(one.clean_under, one.kinds):
            self._clean_s[kind] = self._clean_s.get(kind, 0.0) + one.elapsed_s
            fact = one.facts.of(kind)
            if fact is not None:
                self.rates[kind] = max(fact.rate, self.rates.get(kind, 0.0))

    def not_taken(self, asked: Setpoint, got: Setpoint) -> None:  # noqa: ARG002 - as every leg is told
        """It cannot be had."""
        self._refused = True

    def standing(self) -> Proposal | Ended:
        """The next load; the end at the first failure, or when all held."""
        if self._refused:
            return Ended(self.base, "the rig does not take it: left as it was", self._fatal)
        if self._failed:
            if self._fatal:
                return Ended(self.base, "it fails as it came: that is a fault to be found, not a rig to be tuned", True)
            return Ended(self.base, "it does not hold: left as it was")
        for load in self._loads:
            if still_owed(load.duration_s or 0.0, self._clean_s.get(load.kind, 0.0)):
                return proposed(self._to, load, self._why)
        return Ended(self._to, "it holds")
