"""``retreat``: for a rig that fails as it stands: one large cut, and where that holds, creep back."""

from dataclasses import dataclass

from tenaz.core.base.errors import Refused
from tenaz.core.knobs.knob import show_steps
from tenaz.core.searches.search import Advice, Proposal, SearchGround, Strategy
from tenaz.search.strategy_kinds import StrategyKind
from tenaz.search.tally import Tally

USUAL_CUT = 8
"""One part in so many of the way down to the easiest value, where nobody said how far to cut."""


@dataclass(frozen=True, slots=True)
class Parameters:
    """``cut_steps`` is how far the first cut goes (0: an eighth of the way down, at least two steps); each further cut
    is twice as far. ``holds_to_show`` is how many times the value crept back to must have held.
    """

    cut_steps: int = 0
    holds_to_show: int = 2

    def __post_init__(self) -> None:
        if not 0 <= self.cut_steps <= 1000:
            raise Refused(f"retreat cuts by up to 1000 steps, not {self.cut_steps}.")
        if not 1 <= self.holds_to_show <= 100:
            raise Refused(f"retreat shows a value 1 to 100 times, not {self.holds_to_show}.")


def retreat(ground: SearchGround, parameters: Parameters) -> Strategy:
    """Cut from the base, which failed; creep back one step at a time, up to below it."""
    tally = Tally(ground)
    tally.failed = min(tally.failed, tally.first)
    while True:
        for seen in (yield _standing(ground, tally, parameters)):
            tally.take(seen)


def _standing(ground: SearchGround, tally: Tally, parameters: Parameters) -> Proposal | Advice:
    held, failed = tally.held, tally.failed
    cost_h = ground.costs.trial_h(ground.load)
    if held is None:
        if failed <= tally.easiest:
            return Advice(None, f"failed down to {tally.show(failed)}, the easiest value: not this knob's fault")
        cut = parameters.cut_steps or max(2, (tally.first - tally.easiest) // USUAL_CUT)
        lost = tally.first - failed
        # Every cut goes twice as far as all before it, so that few fail.
        value = max(tally.easiest, tally.first - max(cut, 2 * lost))
        value = min(value, failed - 1)
        down = f"{tally.show(failed)} fails: {show_steps(failed - value)} down in one go"
        reason = f"{down}, since each step that still fails costs a start and a load"
        return Proposal(ground.at(value), ground.load, reason, cost_h, cost_h * (1 + parameters.holds_to_show))
    if held + 1 < failed:
        reason = f"{tally.show(held)} held: creep back by one, {show_steps(failed - held - 1)} are left"
        return Proposal(ground.at(held + 1), ground.load, reason, cost_h, cost_h * (failed - held))
    if tally.holds[held] < parameters.holds_to_show:
        reason = f"{tally.show(failed)} failed: show that this holds more than once"
        ahead = parameters.holds_to_show - tally.holds[held]
        return Proposal(ground.at(held), ground.load, reason, cost_h, cost_h * ahead)
    return Advice(ground.at(held), f"{tally.show(held)} held {tally.holds[held]} times, {tally.show(failed)} failed")


STRATEGY = StrategyKind("retreat", "one large cut for a rig that fails, then creep back", Parameters, retreat)
