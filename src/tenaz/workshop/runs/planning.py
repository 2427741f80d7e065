"""The plan of the rig at work: trials put on it, moved, skipped, and made one after the other with nobody there."""

from collections.abc import Callable
from datetime import timedelta

from tenaz.core.base.errors import Refused
from tenaz.core.searches.plans import MOST_PLANNED, Planned, PlanRun, PlanState
from tenaz.core.searches.search import Advice
from tenaz.core.trials.trial import Trial
from tenaz.orders import AddPlanned, MovePlanned, RunPlan, SkipPlanned
from tenaz.search.registry import strategy_of
from tenaz.workshop.bench.at_work import AtWork
from tenaz.workshop.bench.doing import carries_out
from tenaz.workshop.runs.running import Running, UnderWay

CUT_SHORT = "cut short: Tenaz or the machine under it went down"
EMPTY = "all that was planned was made"


class Planning:
    """Orders about the plan; each change can be taken back."""

    def __init__(self, at_work: AtWork, running: Running) -> None:
        self._at = at_work
        self._running = running

    @carries_out(AddPlanned)
    def add(self, order: AddPlanned) -> str:
        """Trials at the plan's end.

        Raises:
            Refused: one that could not be made, or more than a plan holds.
        """
        rig, plans = self._at.rig, self._at.store.plans
        for one in order.trials:
            rig.check(one.setpoint, one.why)
            search = self._at.store.searches.one(one.search_id) if one.search_id is not None else None
            if search is not None and strategy_of(search.strategy).alone:
                raise Refused(
                    "A night has its own hours and its own end: a›n goes on with it. A plan holds other trials."
                )
        if len(self.waiting()) + len(order.trials) > MOST_PLANNED:
            raise Refused(f"A plan holds {MOST_PLANNED} trials; make some of them, or skip some, first.")
        ids = plans.add(rig.name, self._at.bench, order.trials, self._at.clock)
        words = "a trial" if len(ids) == 1 else f"{len(ids)} trials"
        self._at.undoing.push(f"{words} put on the plan", lambda: plans.take_out(ids))
        return f"{words} on the plan; {len(self.waiting())} waiting"

    def waiting(self) -> tuple[Planned, ...]:
        """What is still to come."""
        return self._at.store.plans.waiting(self._at.rig.name, self._at.bench)

    @carries_out(MovePlanned)
    def move(self, order: MovePlanned) -> None:
        """A planned trial earlier or later."""
        name, bench, plans = self._at.rig.name, self._at.bench, self._at.store.plans
        plans.move(name, bench, order.planned_id, order.step)
        self._at.undoing.push("a planned trial moved", lambda: plans.move(name, bench, order.planned_id, -order.step))

    @carries_out(SkipPlanned)
    def skip(self, order: SkipPlanned) -> str:
        """A planned trial is not made after all; it stays in the book as skipped."""
        plans = self._at.store.plans
        plans.becomes(order.planned_id, PlanState.SKIPPED)
        self._at.undoing.push("a planned trial skipped", lambda: plans.becomes(order.planned_id, PlanState.WAITING))
        return "skipped"

    def newest_run(self) -> PlanRun | None:
        """The run of the plan that was begun last; one that nobody ended and that no longer runs was cut short."""
        run = self._at.store.plans.newest_run(self._at.rig.name, self._at.bench)
        if run is not None and run.open and not self._at.runs and not self._at.look_only:
            # Whoever could have said when is gone: it got as far as its newest trial.
            newest = self._at.trials.newest
            reached = newest.begun_utc if newest is not None and newest.number >= run.from_number else run.begun_utc
            self._at.store.plans.end_run(run.id, CUT_SHORT, reached + timedelta(seconds=1))
            return self._at.store.plans.newest_run(self._at.rig.name, self._at.bench)
        return run

    @carries_out(RunPlan)
    def run(self, order: RunPlan) -> None:
        """Make what is planned, one trial after the other, until the plan or the rule ends it.

        Raises:
            Refused: something runs, an earlier trial was never judged, or nothing is planned.
        """
        under_way = self._running.ready("run the plan")
        waiting = self.waiting()
        if not waiting:
            raise Refused("Nothing is planned: a›p puts what is dialled, or the climb under way, on the plan.")
        for one in waiting:
            under_way.runner.check(one.setpoint, one.load, one.why)
        self.newest_run()
        run = self._at.store.plans.begin_run(self._at.rig.name, self._at.bench, order.rule, under_way.clock)
        self._running.go(under_way, lambda: self._work(under_way, run))

    def _work(self, under_way: UnderWay, run: PlanRun) -> Advice:
        spent_s, made, why = self._stopwatch(under_way), tuple[Trial, ...](), ""
        while not why:
            coming = next(iter(self.waiting()), None)
            if under_way.runner.stopping:
                why = "stopped by hand"
            elif coming is None:
                why = EMPTY
            else:
                why = run.rule.why_end(made, spent_s(), None if coming.search_id is not None else coming.load)
                if not why:
                    made += self._make(under_way, coming)
        self._at.store.plans.end_run(run.id, why, under_way.clock.utc())
        text = f"plan: {len(made)} trial{'s' if len(made) != 1 else ''} made, then {why}"
        self._at.store.log.write(self._at.rig.name, None, "plan", text, under_way.clock)
        return Advice(None, text)

    def _stopwatch(self, under_way: UnderWay) -> Callable[[], float]:
        """Seconds since now: a simulated rig's by the clock on its workshop's wall, which nobody sets."""
        clock = under_way.clock
        if self._at.bench.traits.simulated:
            begun = clock.utc()
            return lambda: (clock.utc() - begun).total_seconds()  # noqa: PLW0108 - asked anew each time
        begun_s = clock.monotonic_s()
        return lambda: clock.monotonic_s() - begun_s

    def _make(self, under_way: UnderWay, coming: Planned) -> tuple[Trial, ...]:
        """The next trial of the plan: of a search, its next one; done, it is off the plan."""
        plans, runner = self._at.store.plans, under_way.runner
        if coming.search_id is None:
            trial = runner.begin(coming.setpoint, coming.load, None, coming.why)
            plans.becomes(coming.id, PlanState.MADE, trial.id)
            return (runner.run(trial),)
        search = self._at.store.searches.one(coming.search_id)
        if search is None or search.ended:
            plans.becomes(coming.id, PlanState.MADE)
            return ()
        search = search.on_rig_of(self._at.rig.stock)
        came = self._running.searching(under_way, search).step()
        if isinstance(came, Advice):
            plans.becomes(coming.id, PlanState.MADE)
            return ()
        return (came,)
