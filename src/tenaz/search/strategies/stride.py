"""``stride``: one grid step at a time until it fails, then step back to what holds, and show that it does."""

from dataclasses import dataclass

from tenaz.core.errors import Refused
from tenaz.core.facts import planned_fact
from tenaz.core.knobs import Knob
from tenaz.core.loading import LoadPlan
from tenaz.core.outcomes import Verdict
from tenaz.core.searches import Advice, Ground, Proposal, Strategy, TrialFacts
from tenaz.search.strategy_kinds import StrategyKind

NEARLY = 0.99
"""A load counts as so long as its plan from this part of it on: clocks are read twice."""


@dataclass(frozen=True, slots=True)
class Parameters:
    """``holds_to_show`` is how many times the value stepped back to must have held: near the edge one pass is often
    luck.
    """

    holds_to_show: int = 2

    def __post_init__(self) -> None:
        if not 1 <= self.holds_to_show <= 100:
            raise Refused(f"stride shows a value 1 to 100 times, not {self.holds_to_show}.")


def stride(ground: Ground, parameters: Parameters) -> Strategy:
    """Climb from the base towards the limit, one step each.

    Begins with the base itself: a climb stands on ground that held. Void trials change nothing; the same value is
    proposed again. Trials at other values than the one proposed count as well, and so do those made before.
    """
    knob, base = ground.knob, ground.base
    top = knob.strain(ground.limits[0])
    holds: dict[int, int] = {}
    failed = top + 1
    value = first = knob.strain(base.number(knob.name))
    stands: Proposal | Advice | None = None
    while True:
        if stands is None:
            setpoint = base.replacing(knob.name, knob.at_strain(value))
            reason = _reason(knob, value, first, failed, holds)
            stands = Proposal(setpoint, ground.load, reason, ground.costs.trial_h(ground.load))
        seen = yield stands
        stands, tried = None, knob.strain(seen.setpoint.number(knob.name))
        if _holds(seen, ground.load):
            holds[tried] = holds.get(tried, 0) + 1
        elif _fails(seen, ground.load):
            failed = min(failed, tried)
        held = max((k for k in holds if k < failed), default=None)
        if held is None:
            value = first if failed > first else failed - 1
            if failed <= first and knob.harder_by(knob.at_strain(failed), -1) is None:
                easiest = knob.show(knob.at_strain(failed))
                stands = Advice(None, f"failed down to {easiest}, the easiest value there is")
                value = failed
        elif held + 1 < failed:
            value = held + 1
        else:
            value, at = held, base.replacing(knob.name, knob.at_strain(held))
            here = knob.show(knob.at_strain(held))
            if failed > top:
                stands = Advice(at, f"{here} held, and the climb may go no further")
            elif holds[held] >= parameters.holds_to_show:
                failing = knob.show(knob.at_strain(failed))
                stands = Advice(at, f"{here} held {holds[held]} times, {failing} failed")


def _holds(seen: TrialFacts, load: LoadPlan) -> bool:
    """Whether it passed under the climb's load, for as long and at no less reach."""
    if seen.verdict is not Verdict.PASS or load.kind not in seen.kinds:
        return False
    if load.duration_s is not None and seen.elapsed_s < NEARLY * load.duration_s:
        return False
    fact = seen.facts.of(load.kind)
    if load.laps is not None and load.duration_s is None and fact is not None and fact.laps < NEARLY * load.laps:
        return False
    ran = fact or next(planned_fact(one, 0.0) for one in (seen.plan, *seen.plan.beside) if one.kind is load.kind)
    asked = planned_fact(load, 0.0).reach
    if fact is not None and fact.covered < 1:
        # The climb's own load may be shorter than a lap: it then asks for no more than that.
        ran = planned_fact(seen.plan, 0.0) if seen.plan == load else fact
    return not ran.reach.short_of(asked)


def _fails(seen: TrialFacts, load: LoadPlan) -> bool:
    """Whether it failed under the climb's load, or did not boot: that does not depend on what was to be run."""
    return seen.verdict is Verdict.FAIL and (not seen.booted or load.kind in seen.kinds)


def _reason(knob: Knob, value: int, first: int, failed: int, holds: dict[int, int]) -> str:
    if holds.get(value):
        return f"{knob.show(knob.at_strain(failed))} failed: step back, and show that this holds more than once"
    if holds.get(value - 1):
        return f"{knob.show(knob.at_strain(value - 1))} held: one step further"
    if value == first and failed > first:
        return "a climb stands on ground that held: show where it starts"
    return f"{knob.show(knob.at_strain(failed))} failed: step back until something holds"


STRATEGY = StrategyKind("stride", "one grid step at a time until it fails, then back to what holds", Parameters, stride)
