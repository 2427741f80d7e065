"""The cores once more, after the memory's legs: rate and voltages that moved since may have weakened them.

Where they were searched a failure within minutes was steps away. Whether it still is, is asked so many steps harder
than where they stand: if that holds, what was found of them stands; if it fails, they go back by half of these and are
asked again; and where they cannot, the rest gives way: the ratio, then the data rate.
"""

from collections.abc import Callable
from dataclasses import dataclass

from tenaz.core.base.outcomes import Verdict
from tenaz.core.evidence.owing import still_owed
from tenaz.core.knobs.knob import Knob, show_steps
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.searches.search import Proposal, TrialFacts
from tenaz.search.night.legs import Ended, proposed

BACK = 0.5
"""Of the steps that it failed harder at it goes back so many: then it is asked as many harder than there."""


@dataclass(frozen=True, slots=True)
class AgainPlan:
    """The knob of the cores that has the finest steps, where it stands, how many harder it is asked at, how easy it may
    become, and under which load; ``gives_way`` makes of a setpoint one that asks less of the cores (None: there is
    none).
    """

    knob: Knob
    base: Setpoint
    steps: int
    easiest: int
    load: LoadPlan
    gives_way: Callable[[Setpoint], Setpoint | None]


class AgainLeg:
    """Asks a few steps harder; goes back as far as it must."""

    name = "cores again"

    def __init__(self, plan: AgainPlan) -> None:
        self._plan, self.base = plan, plan.base
        self._at, self._refused = plan.base, False
        self._clean_s: dict[Setpoint, float] = {}
        self._failed: set[Setpoint] = set()
        self._mine = {self._asked()}

    def _asked(self) -> Setpoint | None:
        """So many steps harder than where it stands; None past the grid."""
        value = self._plan.knob.harder_by(self._at.number(self._plan.knob.name), self._plan.steps)
        return None if value is None else self._at.replacing(self._plan.knob.name, value)

    def belongs(self, one: TrialFacts) -> bool:
        """Whether it was asked here."""
        return one.setpoint in self._mine

    def take(self, one: TrialFacts) -> None:
        """Count clean time, and what failed."""
        if one.verdict is Verdict.FAIL:
            self._failed.add(one.setpoint)
        elif one.clean_under(self._plan.load.kind):
            self._clean_s[one.setpoint] = self._clean_s.get(one.setpoint, 0.0) + one.elapsed_s
        while self._asked() in self._failed:
            if not self._eased():
                return

    def _eased(self) -> bool:
        """Go back; False where there is nothing easier."""
        knob, value = self._plan.knob, self._at.number(self._plan.knob.name)
        easier = max(self._plan.easiest, knob.strain(value) - max(1, round(BACK * self._plan.steps)))
        if easier < knob.strain(value):
            self._at = self._at.replacing(knob.name, knob.at_strain(easier))
        else:
            given = self._plan.gives_way(self._at)
            if given is None:
                return False
            self._at = given
        self._mine.add(self._asked())
        return True

    def not_taken(self, asked: Setpoint, got: Setpoint) -> None:  # noqa: ARG002 - as every leg is told
        """It cannot be asked."""
        self._refused = True

    def standing(self) -> Proposal | Ended:
        """The load a few steps harder, until it holds or nothing is easier."""
        asked, plan = self._asked(), self._plan
        if self._refused or asked is None:
            return Ended(self._at, "nothing harder can be asked of them")
        if asked in self._failed:
            return Ended(self._at, f"they fail {show_steps(plan.steps)} harder even as all came")
        if still_owed(plan.load.duration_s or 0.0, self._clean_s.get(asked, 0.0)):
            why = f"with memory as it stands now, {show_steps(plan.steps)} harder than where the cores stand"
            return proposed(asked, plan.load, why)
        words = f"they hold {show_steps(plan.steps)} harder"
        back = ", ".join(one.knob for one in self._at.changes_from(self.base))
        return Ended(self._at, f"{words}, with {back} back from where it was" if back else words)
