"""``adapt``: the value and the duration that teach most of the edge an hour; then what the purpose asks for, where it
advises to stand.
"""

from dataclasses import dataclass

from tenaz.core.base.amounts import to_digits
from tenaz.core.base.errors import Refused
from tenaz.core.evidence.edge import EdgeEstimate
from tenaz.core.knobs.knob import Knob
from tenaz.core.loads.plan import LoadPlan, show_duration
from tenaz.core.searches.search import Advice, Proposal, SearchGround, Strategy
from tenaz.margins.looking_ahead import Prospect
from tenaz.margins.priors import EdgePrior, read_prior
from tenaz.search.believing import MOST_TRIES, Belief
from tenaz.search.owing import CHECK_H, ShownOnLine, lasting, planned
from tenaz.search.strategy_kinds import StrategyKind

HOURS = (10 / 60, 24 / 60, 1.0, 2.0)
"""Durations that are weighed against each other: too short a trial costs more in starts than it teaches."""

FLATTER_IS_WORTH = 0.25
"""Where failures grow e-fold over many steps a step is worth less: what an hour must gain grows with this power of the
slope. In whole slopes (1) advice fell two steps short, in steps alone (0) it took an hour more.
"""

BEFORE_GIVING_UP = 0.2
"""Where nothing could be advised yet, a search goes on for so much less an hour."""

SHRINKS = 0.8
"""What a trial is expected to gain an hour falls about so much with each, for the cost to come."""


@dataclass(frozen=True, slots=True)
class Parameters:
    """``worth`` is how many grid steps an hour must be expected to gain, or the search ends; more on a flat edge.
    ``prove`` then runs what the purpose asks for. ``prior`` is a file that says otherwise what is believed beforehand.
    """

    worth: float = 0.7
    prove: bool = True
    prior: str = ""

    def __post_init__(self) -> None:
        if not 0.01 <= self.worth <= 100:
            raise Refused(f"adapt goes on for 0.01 to 100 steps gained an hour, not {self.worth:g}.")
        self.own_prior()

    def own_prior(self) -> EdgePrior | None:
        """What the file says; None without one."""
        return read_prior(self.prior) if self.prior else None


def adapt(ground: SearchGround, parameters: Parameters) -> Strategy:
    """Choose by what is believed. What it proposes depends on what was seen only, never on who chose it."""
    belief, shown = Belief(ground, parameters.own_prior()), ShownOnLine(ground)
    while True:
        least_gain = parameters.worth * max(1.0, belief.slope_steps() ** FLATTER_IS_WORTH)
        seen = yield _standing(belief, shown, parameters, least_gain)
        belief.take(seen)
        shown.take(seen)


def _standing(belief: Belief, shown: ShownOnLine, parameters: Parameters, least_gain: float) -> Proposal | Advice:
    ground, edge = belief.ground, belief.edge()
    odd = belief.contradiction()
    if odd is not None:
        plan = lasting(ground.load, HOURS[0])
        here = ground.knob.show(ground.knob.at_strain(int(odd.strain)))
        reason = f"{here} failed, which had a chance of {odd.chance:.1%} by all the rest: repeat it before it counts"
        return Proposal(
            ground.at(int(odd.strain)), plan, reason, ground.costs.trial_h(plan), ground.costs.trial_h(plan)
        )
    best, obvious = _best(belief, shown)
    stand = belief.to_stand_at(edge)
    proven = _proven(shown, stand) if parameters.prove else None
    owed_h = ground.purpose.proof_h if parameters.prove else 0.0
    # What was proven already would have to be proven anew at a harder value: that is part of the price. Not so where it
    # all began: that was proven for other reasons, and nobody climbs to stay there.
    again = proven is not None and proven != ground.knob.strain(ground.base.number(ground.knob.name))
    gain_per_h = best.gain_steps / (best.cost_h + (owed_h if again else 0.0))
    least_gain *= BEFORE_GIVING_UP if stand is None else 1.0
    if gain_per_h >= least_gain:
        trials = _trials_to_come(gain_per_h, least_gain)
        return Proposal(
            ground.at(best.strain),
            lasting(ground.load, best.hours),
            _reason(ground.knob, best, obvious) + _worn_out(belief),
            best.cost_h,
            best.cost_h * trials + owed_h,
        )
    if stand is None:
        easiest = ground.knob.ends[0]
        here = ground.knob.show(ground.knob.at_strain(easiest))
        return Advice(None, f"not even {here} is sure enough: {belief.sure_words(easiest)}")
    if proven is not None and (stand <= proven or (again and stand - proven < least_gain * owed_h)):
        return Advice(ground.at(proven), _advice(belief, edge, proven))
    last = _last(belief, shown, stand, best, least_gain) if parameters.prove else None
    return last or Advice(ground.at(stand), _advice(belief, edge, stand))


def _last(belief: Belief, shown: ShownOnLine, stand: int, best: Prospect, least_gain: float) -> Proposal | None:
    """What is still to be run for the purpose where it stands; None: nothing."""
    owing = shown.owed(stand)
    return _check(belief, shown, stand) or (_proof(belief, stand, owing, best, least_gain) if owing else None)


def _check(belief: Belief, shown: ShownOnLine, stand: int) -> Proposal | None:
    """Another load that the purpose asks for, for a while at the hardest value that held, or most likely does: what
    only ever ran at the value to stand at says little of how far its own edge is from there.
    """
    ground, knob = belief.ground, belief.ground.knob
    hardest = max((k for k in shown.held if k > stand and (shown.failed is None or k < shown.failed)), default=None)
    if hardest is None:
        hardest = belief.likely_to_hold(stand, CHECK_H)
    if hardest is None:
        return None
    for kind in belief.unsure_of(stand):
        if not belief.tried(kind, hardest):
            plan = planned(ground.purpose, kind, CHECK_H, ground.load)
            at, here = knob.show(knob.at_strain(hardest)), knob.show(knob.at_strain(stand))
            reason = f"{kind} is asked for too: a while at {at} tells how far its edge is from {here}"
            cost_h = ground.costs.trial_h(plan)
            return Proposal(ground.at(hardest), plan, reason, cost_h, cost_h + ground.purpose.proof_h)
    return None


def _proven(shown: ShownOnLine, stand: int | None) -> int | None:
    """The hardest value at which all was shown that is asked, where that may still be stood at."""
    if stand is None:
        return None
    return next((k for k in sorted(shown.held, reverse=True) if k <= stand and not shown.owed(k)), None)


def _best(belief: Belief, shown: ShownOnLine) -> tuple[Prospect, Prospect]:
    """What teaches most an hour; and the obvious alternative: one step past the hardest value that held."""
    ground = belief.ground
    top = ground.knob.strain(ground.limits[0])
    held = max((k for k in shown.held if shown.failed is None or k < shown.failed), default=None)
    base = ground.knob.strain(ground.base.number(ground.knob.name))
    step = base if held is None else min(held + 1, top)
    usual_h = (ground.load.duration_s or 3600.0) / 3600
    strains = belief.strains()
    found = belief.prospects(strains, HOURS)
    if ground.leap is not None:
        found = _no_dearer_than_steps(found, base if held is None else held) or found
    best = max(found, key=lambda one: (to_digits(one.gain_per_h, 5), -one.strain, -one.hours))
    return best, belief.prospects([step], [usual_h])[0]


def _no_dearer_than_steps(found: list[Prospect], from_strain: int) -> list[Prospect]:
    """Where a person brings the rig up again: without those leaps that are expected to cost more than the way there in
    steps. Who steps stops at what fails; who falls on a leap walks that way afterwards.
    """
    kept, walked_h, reached = [], dict[float, float](), dict[float, float]()
    for one in sorted(found, key=lambda prospect: prospect.strain):
        before_h, gets_there = walked_h.get(one.hours, 0.0), reached.get(one.hours, 1.0)
        fails, past = one.no_start + one.fails, one.strain > from_strain
        steps_h = before_h + gets_there * one.cost_h
        if one.strain <= from_strain + 1 or one.cost_h + fails * before_h <= steps_h:
            kept.append(one)
        if past:
            walked_h[one.hours], reached[one.hours] = steps_h, 1.0 - fails
    return kept


def _trials_to_come(gain_per_h: float, least_gain: float) -> float:
    count = 1.0
    while gain_per_h * SHRINKS > least_gain and count < 50:
        gain_per_h *= SHRINKS
        count += 1
    return count


def _worn_out(belief: Belief) -> str:
    knob = belief.ground.knob
    worn = ", ".join(knob.show(knob.at_strain(one)) for one in sorted(belief.worn_out))
    return f". {worn}: tried {MOST_TRIES} times, no more there" if worn else ""


def _reason(knob: Knob, best: Prospect, obvious: Prospect) -> str:
    what = f"expected to gain {best.gain_steps:.1f} steps for {best.cost_h:.1f} h, the most an hour"
    chances = f"starts {1 - best.no_start:.0%}, fails {best.fails:.0%}"
    if obvious.strain == best.strain:
        return f"{what}; {chances}"
    against = f"{obvious.gain_per_h:.1f} against {best.gain_per_h:.1f}"
    return f"{what}; {chances}. One step on, {knob.show(knob.at_strain(obvious.strain))}, gains {against}"


def _advice(belief: Belief, edge: EdgeEstimate, strain: int) -> str:
    knob, tolerance = belief.ground.knob, edge.tolerance
    here = knob.show(knob.at_strain(strain))
    if strain == knob.strain(belief.ground.limits[0]):
        return f"{here} is as far as it may go; {belief.sure_words(strain)} of at most {tolerance.in_use()}"
    where = f"the edge lies at {knob.show_stretch(edge.low, edge.high)} ({edge.confidence:.0%})"
    return f"{here}: {belief.sure_words(strain)} of at most {tolerance.in_use()}; {where}"


def _proof(belief: Belief, stand: int, owing: tuple[LoadPlan, ...], best: Prospect, least_gain: float) -> Proposal:
    ground, plan = belief.ground, owing[0]
    hours = sum((one.duration_s or 0.0) for one in owing) / 3600
    purpose = f"{plan.kind} {show_duration(plan.duration_s or 0.0)} is still to run"
    sure = f"{ground.knob.show(ground.knob.at_strain(stand))} is {belief.sure_words(stand)}: {purpose}"
    more = f"more search would gain {best.gain_per_h:.2f} steps an hour, less than the {least_gain:.2f} asked"
    cost_h = ground.costs.trial_h(plan)
    return Proposal(ground.at(stand), plan, f"{sure}; {more}", cost_h, cost_h + hours - (plan.duration_s or 0) / 3600)


STRATEGY = StrategyKind(
    "adapt", "the value and duration that teach most of the edge an hour, then the proof", Parameters, adapt
)
