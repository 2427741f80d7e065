"""Where a search stands: its strategy played over the trials on its line."""

from dataclasses import dataclass

from tenaz.core.rigs.felt import asked_along
from tenaz.core.rigs.rig import Rig, stock_strain
from tenaz.core.searches.search import Advice, Proposal, SearchGround, SearchPlan, Strategy, facts_of, search_limit
from tenaz.core.trials.costs import costs_known
from tenaz.core.trials.index import TrialIndex
from tenaz.core.trials.trial import Trial
from tenaz.search.positions import position
from tenaz.search.registry import strategy_of

LEAP_STEPS = 2
"""On a machine that somebody must bring up again by hand, a search goes on from what held in steps, not in leaps."""


def on_line(trials: TrialIndex, plan: SearchPlan) -> tuple[Trial, ...]:
    """The trials that a search stands on, oldest first: all on its line, whoever made them and when."""
    if len(plan.knobs) == 1:
        return trials.along(plan.base, plan.knob)
    return tuple(trial for trial in trials.trials if plan.on_line(trial.setpoint))


def ground_of(rig: Rig, plan: SearchPlan, trials: TrialIndex) -> SearchGround:
    """What a search works on."""
    knobs = tuple(rig.knob(name) for name in plan.knobs)
    limits = tuple(search_limit(knob, plan.reason) for knob in knobs)
    costs, stock = costs_known(trials, plan.bench), stock_strain(rig, knobs[0])
    leap = LEAP_STEPS if plan.bench.real else None
    learnt = dict(rig.experience).get(knobs[0].name, "")
    purpose = asked_along(knobs[0], rig.purpose)
    return SearchGround(
        knobs, limits, plan.base, plan.load, costs, purpose, stock, rig.family, rig.platform, leap, learnt
    )


@dataclass(slots=True)
class Played:
    """A search played over the trials on its line, and where that left it."""

    plan: SearchPlan
    line: tuple[Trial, ...]
    strategy: Strategy
    stands: Proposal | Advice

    def go_on(self, line: tuple[Trial, ...]) -> bool:
        """Play on over what came after; False where the line is another one, or the strategy must be played anew."""
        known = len(self.line)
        if (
            not strategy_of(self.plan.strategy).goes_on
            or not same_trials(self.line, line[:known])
            or len(line) == known
        ):
            return False
        self.stands = self.strategy.send([facts_of(trial, self.plan.id) for trial in line[known:]])
        self.line = line
        return True


def same_trials(before: tuple[Trial, ...], now: tuple[Trial, ...]) -> bool:
    """Whether these are the very same trials: one that changed is another value."""
    return len(before) == len(now) and all(one is other for one, other in zip(before, now, strict=True))


def told_of(trials: TrialIndex, plan: SearchPlan) -> tuple[Trial, ...]:
    """The trials that a strategy is told of: one that goes on trial by trial waits for each to end."""
    line = on_line(trials, plan)
    return tuple(one for one in line if one.outcome is not None) if strategy_of(plan.strategy).goes_on else line


def played(rig: Rig, plan: SearchPlan, trials: TrialIndex) -> Played:
    """A fresh strategy, played over the trials on its line."""
    strategy = strategy_of(plan.strategy).begin(ground_of(rig, plan, trials), plan.parameters)
    line = told_of(trials, plan)
    return Played(plan, line, strategy, position(strategy, [facts_of(trial, plan.id) for trial in line]))


def standing(rig: Rig, plan: SearchPlan, trials: TrialIndex) -> Proposal | Advice:
    """The search's next proposal, or its advice, by the trials on its line."""
    return played(rig, plan, trials).stands
