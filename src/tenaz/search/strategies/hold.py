"""``hold``: stay where it is: repeat the load, then run all that the purpose asks for."""

from dataclasses import dataclass

from tenaz.core.base.errors import Refused
from tenaz.core.loads.plan import show_duration
from tenaz.core.searches.search import Advice, Proposal, SearchGround, Strategy
from tenaz.search.owing import ShownOnLine
from tenaz.search.strategy_kinds import StrategyKind
from tenaz.search.tally import Tally


@dataclass(frozen=True, slots=True)
class Parameters:
    """``repeats`` is how often the load is run first: a start each, so that starts are repeated as well."""

    repeats: int = 3

    def __post_init__(self) -> None:
        if not 0 <= self.repeats <= 1000:
            raise Refused(f"hold repeats up to 1000 times, not {self.repeats}.")


def hold(ground: SearchGround, parameters: Parameters) -> Strategy:
    """Repeat and soak at the base; ends with the first failure there or at an easier value."""
    tally, shown = Tally(ground), ShownOnLine(ground)
    while True:
        seen = yield _standing(ground, tally, shown, parameters)
        shown.take(seen)
        for one in seen:
            tally.take(one)


def _standing(ground: SearchGround, tally: Tally, shown: ShownOnLine, parameters: Parameters) -> Proposal | Advice:
    here, held = tally.first, tally.holds.get(tally.first, 0)
    if shown.failed is not None and shown.failed <= here:
        return Advice(None, f"{tally.show(shown.failed)} failed: {tally.show(here)} does not hold")
    owing = shown.owed(here)
    owed_h = sum(ground.costs.trial_h(plan) for plan in owing)
    if held < parameters.repeats:
        left = parameters.repeats - held
        cost_h = ground.costs.trial_h(ground.load)
        reason = f"held {held} of {parameters.repeats} times: short runs first, since what fails at once costs least so"
        # What is repeated pays off a part of what is owed.
        paid_h = left * (ground.load.duration_s or 0.0) / 3600
        return Proposal(ground.at(here), ground.load, reason, cost_h, left * cost_h + max(0.0, owed_h - paid_h))
    if owing:
        plan = owing[0]
        reason = f"{plan.kind} {show_duration(plan.duration_s or 0.0)} is still to run here"
        return Proposal(ground.at(here), plan, reason, ground.costs.trial_h(plan), owed_h)
    return Advice(ground.at(here), f"{tally.show(here)} held {held} times, and all that the purpose asks for was shown")


STRATEGY = StrategyKind("hold", "stay: repeat the load, then all that the purpose asks for", Parameters, hold)
