"""``halve``: bisection between what held and what failed; then show more than once that what is left holds."""

from dataclasses import dataclass
from math import ceil, log2

from tenaz.core.base.amounts import show_duration
from tenaz.core.base.errors import Refused
from tenaz.core.knobs.knob import show_steps
from tenaz.core.searches.search import Advice, Proposal, SearchGround, Strategy
from tenaz.search.strategy_kinds import StrategyKind
from tenaz.search.tally import Tally


@dataclass(frozen=True, slots=True)
class Parameters:
    """``holds_to_show`` is how many times the value that is left must have held."""

    holds_to_show: int = 2

    def __post_init__(self) -> None:
        if not 1 <= self.holds_to_show <= 100:
            raise Refused(f"halve shows a value 1 to 100 times, not {self.holds_to_show}.")


def halve(ground: SearchGround, parameters: Parameters) -> Strategy:
    """Halve the stretch from the base to the limit. Quick where each trial is cheap and nothing fails by chance; every
    failure is a start anew, and half of all trials fail.
    """
    tally = Tally(ground)
    while True:
        for seen in (yield _standing(ground, tally, parameters)):
            tally.take(seen)


def _standing(ground: SearchGround, tally: Tally, parameters: Parameters) -> Proposal | Advice:
    held, failed = tally.held, tally.failed
    low = tally.first if held is None else held
    if held is None and failed <= tally.first:
        # What it was to start from failed: the stretch below is halved instead.
        low = tally.easiest
        if failed == tally.easiest:
            return Advice(None, f"failed down to {tally.show(failed)}, the easiest value there is")
    if held is None and low < failed:
        value = low if failed > tally.first else (low + failed) // 2
        reason = "halving needs ground that held: show where it starts"
        if failed <= tally.first:
            reason = f"{tally.show(failed)} failed and nothing held yet: half way down to the easiest value"
    elif failed - low > 1:
        value = (low + failed) // 2
        past = "the limit" if failed > tally.top else f"{tally.show(failed)}, which failed"
        reason = (
            f"half way from {tally.show(low)}, which held, to {past}: {show_steps(failed - low - 1)} are open, and "
            f"stepping through them would take up to {failed - low - 1} trials"
        )
        if held is not None and ground.leap is not None and value > held + ground.leap:
            value = held + ground.leap
            reason = (
                f"{show_steps(ground.leap)} past {tally.show(low)}, which held: half way to {past} would be a leap, "
                f"and a start that fails costs about {show_duration(ground.costs.no_start_s)} by hand"
            )
    elif failed > tally.top:
        return Advice(ground.at(low), f"{tally.show(low)} held, and the search may go no further")
    elif tally.holds[low] >= parameters.holds_to_show:
        return Advice(ground.at(low), f"{tally.show(low)} held {tally.holds[low]} times, {tally.show(failed)} failed")
    else:
        value, reason = low, f"{tally.show(failed)} failed: show that this holds more than once"
    cost_h = ground.costs.trial_h(ground.load)
    ahead = ceil(log2(max(2, failed - low))) + parameters.holds_to_show - 1
    return Proposal(ground.at(value), ground.load, reason, cost_h, cost_h * (ahead if value != low else 1))


STRATEGY = StrategyKind("halve", "bisection between what held and what failed", Parameters, halve)
