"""A climb over trials: where it stands by what the book holds, and one more trial, or all of them."""

from collections.abc import Iterable

from tenaz.core.climbs import Advice, ClimbPlan, Proposal, Result
from tenaz.core.errors import Refused
from tenaz.core.events import Logged
from tenaz.core.knobs import Harder, Knob
from tenaz.core.outcomes import Outcome, Verdict
from tenaz.core.ports import Clock, Journal, Publish
from tenaz.core.rigs import Rig
from tenaz.core.setpoints import AUTO, UNKNOWN
from tenaz.core.trials import Trial
from tenaz.engine.runner import TrialRunner
from tenaz.search.positions import position
from tenaz.search.stride import stride


def climb_limit(knob: Knob, reason: str) -> int:
    """How far a climb may go by itself: the advised ceiling, with a typed reason the hard one, or the grid's end."""
    if knob.harder is Harder.DOWN:
        return knob.grid.first
    ceiling = knob.hard_ceiling if reason.strip() else knob.advised_ceiling
    return knob.grid.last if ceiling is None else max(v for v in knob.grid.values() if v <= ceiling)


def check_climb(rig: Rig, plan: ClimbPlan) -> None:
    """Refuse a climb that cannot begin, before anything is touched."""
    knob = rig.knob(plan.knob)
    rig.check(plan.base, plan.reason)
    limit = climb_limit(knob, plan.reason)
    if plan.base[knob.name] is UNKNOWN:
        raise Refused(
            f"{knob.label} is not known on {rig.name}: look up in the firmware what it stands at, and type it "
            f"(in the workbench with v, on the command line with --from)."
        )
    if plan.base[knob.name] is AUTO:
        raise Refused(f"{knob.label} is on auto: dial the number that the climb starts from.")
    start = plan.base.number(knob.name)
    if knob.strain(start) >= knob.strain(limit):
        raise Refused(
            f"{knob.label} stands at {knob.show(start)} and may be climbed to {knob.show(limit)}: "
            f"there is no step left. Dial an easier value first."
        )


def on_climb(trials: Iterable[Trial], plan: ClimbPlan) -> tuple[Trial, ...]:
    """The trials that belong to a climb, oldest first."""
    return tuple(trial for trial in trials if trial.climb_id == plan.id)


def result_of(trial: Trial, knob: Knob) -> Result:
    """A trial as a strategy sees it."""
    return Result(
        trial.setpoint.number(knob.name),
        trial.verdict,
        trial.elapsed_s,
        trial.failed_after_s,
        booted=trial.outcome is not Outcome.NO_BOOT,
    )


def standing(rig: Rig, plan: ClimbPlan, trials: Iterable[Trial]) -> Proposal | Advice:
    """The climb's next proposal, or its advice, by its trials in the book."""
    knob = rig.knob(plan.knob)
    strategy = stride(knob, plan.base.number(knob.name), climb_limit(knob, plan.reason))
    return position(strategy, [result_of(trial, knob) for trial in on_climb(trials, plan)])


class ClimbRunner:
    """Runs a climb on a trial runner. ``step`` makes one trial, ``run`` goes on until advice or a void trial."""

    def __init__(
        self, rig: Rig, plan: ClimbPlan, runner: TrialRunner, journal: Journal, clock: Clock, publish: Publish
    ) -> None:
        self._rig = rig
        self._plan = plan
        self._runner = runner
        self._journal = journal
        self._clock = clock
        self._publish = publish

    def step(self) -> Trial | Advice:
        """One trial at the proposed value; the advice instead when the climb is done, and that is then recorded."""
        standing_now = standing(self._rig, self._plan, self._journal.trials(self._rig.name))
        if isinstance(standing_now, Advice):
            self._journal.end_climb(self._plan.id, standing_now.reason, self._clock)
            text = f"climb of {self._rig.knob(self._plan.knob).label} done: {standing_now.reason}"
            self._journal.log(self._rig.name, None, "climb", text, self._clock)
            self._publish(Logged("climb", text))
            return standing_now
        setpoint = self._plan.base.replacing(self._plan.knob, standing_now.value)
        trial = self._runner.begin(setpoint, self._plan.load, self._plan.id, self._plan.reason)
        return self._runner.run(trial)

    def run(self) -> Trial | Advice:
        """Trial after trial; ends with the advice, or with the trial that was stopped."""
        while True:
            came = self.step()
            if isinstance(came, Advice) or came.verdict is Verdict.VOID:
                return came
