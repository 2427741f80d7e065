"""A search over trials: where it stands by what the book holds, and one more trial, or all of them."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from tenaz.core.costs import MOST_LOOKED_AT, costs_of
from tenaz.core.errors import Refused
from tenaz.core.events import Logged
from tenaz.core.outcomes import Outcome, Verdict
from tenaz.core.ports import Clock, Journal, Publish
from tenaz.core.rigs import Rig, stock_strain
from tenaz.core.searches import Advice, Ground, Proposal, SearchPlan, Strategy, facts_of, search_limit
from tenaz.core.setpoints import AUTO, UNKNOWN
from tenaz.core.trial_index import TrialIndex
from tenaz.core.trials import Trial
from tenaz.engine.runner import TrialRunner
from tenaz.search.positions import position
from tenaz.search.registry import strategy_of

LEAP_STEPS = 2
"""On a machine that somebody must bring up again by hand, a search goes on from what held in steps, not in leaps."""

MOST_NAMED = 6
"""Knobs that a search is called by."""


def check_search(rig: Rig, plan: SearchPlan) -> None:
    """Refuse a search that cannot begin, before anything is touched."""
    rig.check(plan.base, plan.reason)
    kind = strategy_of(plan.strategy)
    for name in plan.knobs:
        knob = rig.knob(name)
        limit = search_limit(knob, plan.reason)
        if plan.base[knob.name] is UNKNOWN:
            raise Refused(
                f"{knob.label} is not known on {rig.name}: look up in the firmware what it stands at, and type it "
                f"(in the workbench with v, on the command line with --from)."
            )
        if plan.base[knob.name] is AUTO and kind.from_auto:
            continue
        if plan.base[knob.name] is AUTO:
            raise Refused(f"{knob.label} is on auto: dial the number that the climb starts from.")
        start = plan.base.number(knob.name)
        if kind.climbs and knob.strain(start) >= knob.strain(limit):
            raise Refused(
                f"{knob.label} stands at {knob.show(start)} and may be climbed to {knob.show(limit)}: "
                f"there is no step left. Dial an easier value first."
            )
    kind.check_knobs(len(plan.knobs))
    kind.typed(plan.parameters)


def on_line(trials: TrialIndex, plan: SearchPlan) -> tuple[Trial, ...]:
    """The trials that a search stands on, oldest first: all on its line, whoever made them and when."""
    if len(plan.knobs) == 1:
        return trials.along(plan.base, plan.knob)
    return tuple(trial for trial in trials.trials if plan.on_line(trial.setpoint))


def ground_of(rig: Rig, plan: SearchPlan, trials: TrialIndex) -> Ground:
    """What a search works on."""
    knobs = tuple(rig.knob(name) for name in plan.knobs)
    limits = tuple(search_limit(knob, plan.reason) for knob in knobs)
    costs, stock = costs_of(trials.latest(MOST_LOOKED_AT)), stock_strain(rig, knobs[0])
    leap = LEAP_STEPS if plan.bench.real else None
    return Ground(knobs, limits, plan.base, plan.load, costs, rig.purpose, stock, rig.family, rig.platform, leap)


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


MOST_AGAIN = 2
"""Trials in a row that said nothing of the rig, after which a search goes on all the same."""


class SearchRunner:
    """Runs a search on a trial runner. ``step`` makes one trial, ``run`` goes on until advice or a void trial.

    ``standing_now`` tells where it stands, from whoever keeps the trials at hand.
    """

    def __init__(
        self,
        rig: Rig,
        plan: SearchPlan,
        runner: TrialRunner,
        journal: Journal,
        clock: Clock,
        publish: Publish,
        standing_now: Callable[[SearchPlan], Proposal | Advice],
    ) -> None:
        self._rig = rig
        self._plan = plan
        self._runner = runner
        self._journal = journal
        self._clock = clock
        self._publish = publish
        self._standing_now = standing_now

    def step(self) -> Trial | Advice:
        """One trial as proposed; the advice instead when the search is done, and that is then recorded."""
        stands = self._standing_now(self._plan)
        if isinstance(stands, Advice):
            self._journal.searches.end(self._plan.id, stands.reason, self._clock)
            text = f"{called(self._rig, self._plan)} done: {stands.reason}"
            self._journal.log.write(self._rig.name, None, "climb", text, self._clock)
            self._publish(Logged("climb", text))
            return stands
        trial = self._runner.begin(stands.setpoint, stands.plan, self._plan.id, self._plan.reason)
        return self._runner.run(trial)

    def run(self) -> Trial | Advice:
        """Trial after trial; ends with the advice, or with the trial that was stopped. One that was kept from its
        cores, or whose own check went wrong, is made again; so often in a row, and no more.
        """
        again = 0
        while True:
            came = self.step()
            if isinstance(came, Advice):
                return came
            again = again + 1 if came.outcome in (Outcome.STARVED, Outcome.UNCHECKED) else 0
            if came.verdict is Verdict.VOID and not 0 < again <= MOST_AGAIN:
                return came


def called(rig: Rig, plan: SearchPlan) -> str:
    """What a search is called: a climb of a knob, or its strategy over several."""
    kind = strategy_of(plan.strategy)
    if len(plan.knobs) > MOST_NAMED:
        return f"{kind.name} over {len(plan.knobs)} knobs"
    return f"{'climb' if kind.climbs else kind.name} of {labels(rig, plan.knobs)}"


def labels(rig: Rig, knobs: Sequence[str]) -> str:
    """Knobs as they are called on the rig."""
    return ", ".join(rig.knob(name).label for name in knobs)
