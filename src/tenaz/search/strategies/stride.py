"""``stride``: one grid step at a time until it fails, then step back to what holds, and show that it does."""

from dataclasses import dataclass

from tenaz.core.base.errors import Refused
from tenaz.core.searches.search import Advice, Proposal, SearchGround, Strategy
from tenaz.search.strategy_kinds import StrategyKind
from tenaz.search.tally import Tally


@dataclass(frozen=True, slots=True)
class Parameters:
    """``holds_to_show`` is how many times the value stepped back to must have held: near the edge one pass is often
    luck.
    """

    holds_to_show: int = 2

    def __post_init__(self) -> None:
        if not 1 <= self.holds_to_show <= 100:
            raise Refused(f"stride shows a value 1 to 100 times, not {self.holds_to_show}.")


def stride(ground: SearchGround, parameters: Parameters) -> Strategy:
    """Climb from the base towards the limit, one step each.

    Begins with the base itself: a climb stands on ground that held. Void trials change nothing; the same value is
    proposed again. Trials at other values than the one proposed count as well, and so do those made before.
    """
    tally = Tally(ground)
    while True:
        for seen in (yield _standing(ground, tally, parameters)):
            tally.take(seen)


def _standing(ground: SearchGround, tally: Tally, parameters: Parameters) -> Proposal | Advice:
    knob, held, failed = ground.knob, tally.held, tally.failed
    if held is None and failed <= tally.first and knob.harder_by(knob.at_strain(failed), -1) is None:
        return Advice(None, f"failed down to {tally.show(failed)}, the easiest value there is")
    if held is None:
        value = tally.first if failed > tally.first else failed - 1
    elif held + 1 < failed:
        value = held + 1
    elif failed > tally.top:
        return Advice(ground.at(held), f"{tally.show(held)} held, and the climb may go no further")
    elif tally.holds[held] >= parameters.holds_to_show:
        return Advice(
            ground.at(held), f"{tally.show(held)} held {tally.holds[held]} times, {tally.show(failed)} failed"
        )
    else:
        value = held
    cost_h = ground.costs.trial_h(ground.load)
    # Until it fails nobody knows when it will: as many trials as there are values.
    ahead = max(1, failed - value) if value != held else parameters.holds_to_show - tally.holds[value]
    return Proposal(ground.at(value), ground.load, _reason(tally, value), cost_h, cost_h * ahead)


def _reason(tally: Tally, value: int) -> str:
    if tally.holds.get(value):
        return f"{tally.show(tally.failed)} failed: step back, and show that this holds more than once"
    if tally.holds.get(value - 1):
        return f"{tally.show(value - 1)} held: one step further"
    if value == tally.first and tally.failed > tally.first:
        return "a climb stands on ground that held: show where it starts"
    return f"{tally.show(tally.failed)} failed: step back until something holds"


STRATEGY = StrategyKind("stride", "one grid step at a time until it fails, then back to what holds", Parameters, stride)
