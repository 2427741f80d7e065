"""What every leg of a night has in common: where it begins, what it proposes, where it ends."""

from dataclasses import dataclass
from typing import Protocol

from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.searches.search import Proposal, TrialFacts
from tenaz.core.trials.costs import Costs

USUAL_COSTS = Costs()
"""A night reckons with these, not with what was measured since: else it would choose otherwise when played anew."""
WEIGHED_COSTS = Costs(failed_boot_s=900.0, crash_s=600.0)
"""With these it chooses: a rig that goes down costs more than its minutes; nobody is there, and its disk may suffer."""


@dataclass(frozen=True, slots=True)
class Ended:
    """Where a leg came to stand, and why it went no further; ``lost``: nothing can be built on it, all is over.
    ``faster`` is the part by which its load was seen to run faster there, where arithmetic cannot tell.
    """

    setpoint: Setpoint
    why: str
    lost: bool = False
    faster: float = 0.0


class Leg(Protocol):
    """A part of the night. What it proposes follows from the trials that it took, in their order."""

    @property
    def name(self) -> str:
        """In a word or two, as the rig calls it."""
        ...

    @property
    def base(self) -> Setpoint:
        """Where it begins."""
        ...

    def belongs(self, one: TrialFacts) -> bool:
        """Whether a trial says something of it."""
        ...

    def take(self, one: TrialFacts) -> None:
        """Learn of a trial that belongs to it."""
        ...

    def not_taken(self, asked: Setpoint, got: Setpoint) -> None:
        """The rig made something else of what was asked: that is not asked again."""
        ...

    def standing(self) -> Proposal | Ended:
        """What to try next, or where it ended."""
        ...


def spent_h(one: TrialFacts) -> float:
    """About the hours that a trial took of the night: its load, its starts, what a failure costs. What was made before
    took none of them.
    """
    if one.beside:
        return 0.0
    costs = USUAL_COSTS
    started_s = costs.enter_s + costs.boot_s if one.booted else costs.failed_boot_s
    down = one.outcome is not None and one.outcome.machine_went_down
    return (one.elapsed_s + started_s + (costs.crash_s if down else 0.0)) / 3600.0


def proposed(setpoint: Setpoint, plan: LoadPlan, reason: str, cost_h: float | None = None) -> Proposal:
    """A trial with what it costs."""
    cost = USUAL_COSTS.trial_h(plan) if cost_h is None else cost_h
    return Proposal(setpoint, plan, reason, cost, cost)
