"""What runs: at most one trial, routine or search at a time, on a thread of its own."""

import threading
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from functools import partial

from tenaz.announcing.hooks import Hooks
from tenaz.core.base.errors import Refused, TenazError
from tenaz.core.base.hearing import HEARS_WITHIN_S
from tenaz.core.base.outcomes import Verdict
from tenaz.core.base.pace import Pace
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.ports.bench import Bench, Clock, HowLong, Question
from tenaz.core.ports.events import RunEnded, TrialMoved
from tenaz.core.rigs.notes import locked_by_notes, refuse_locked
from tenaz.core.searches.search import USUAL_STRATEGY, Advice, SearchPlan
from tenaz.core.trials.trial import Trial
from tenaz.engine import recovery
from tenaz.engine.night import NightRunner
from tenaz.engine.runner import TrialRunner
from tenaz.engine.search import SearchRunner, called, check_search
from tenaz.orders import (
    BeginSearch,
    EndSearch,
    GiveAnswer,
    GoOn,
    SetPace,
    StartRoutine,
    StartTrial,
    Steps,
    Stop,
    TakeUp,
)
from tenaz.search.registry import strategy_of
from tenaz.workshop.bench.at_work import AtWork
from tenaz.workshop.bench.doing import carries_out
from tenaz.workshop.bench.mishaps import told
from tenaz.workshop.bench.reaching import bench_for
from tenaz.workshop.bench.relay import Relay
from tenaz.workshop.records.recording import Recording
from tenaz.workshop.runs.figures import Figures
from tenaz.workshop.runs.learning import learn_of


@dataclass(slots=True)
class UnderWay:
    """What is under way: its runner, whom it asks, the clock on the wall where it stands, its bench, its thread."""

    runner: TrialRunner
    relay: Relay
    clock: Clock
    bench: Bench
    thread: threading.Thread | None = None


class Running:
    """Starts, answers, stops; events go out through what is at work."""

    def __init__(self, at_work: AtWork, recording: Recording, pace: float | None = None) -> None:
        self._at = at_work
        self._recording = recording
        self._hooks = Hooks.known()
        self._figures = Figures(at_work, self._complain)
        self._run: UnderWay | None = None
        self._pace = Pace(pace)
        self.measure_night: Callable[[UnderWay, Setpoint], None] = lambda *_: None
        """How what a night has proven is measured against where it began."""

    def show_figures(self, shown: bool) -> None:
        """Figures of what runs are shown from now on, where that is set; or no longer."""
        if shown:
            self._figures.begin(self._hooks)
        else:
            self._figures.end()

    @property
    def pace(self) -> float | None:
        """Simulated seconds in a real one; None: as fast as can be. It may change while something runs."""
        return self._pace.factor

    @pace.setter
    def pace(self, factor: float | None) -> None:
        self._pace.factor = factor

    @carries_out(SetPace)
    def set_pace(self, order: SetPace) -> None:
        """Simulated seconds in a real one, from now on."""
        self.pace = order.pace

    # -- starting ----------------------------------------

    @carries_out(StartTrial)
    def start_trial(self, order: StartTrial) -> None:
        """One trial at a setpoint; it counts for every search on whose line it lies."""
        self._refuse_locked(order.setpoint)
        run = self.ready("start a trial", attended=True)
        search_id = self._search_for(order.setpoint, order.load)
        trial = run.runner.begin(order.setpoint, order.load, search_id, order.reason)
        self.go(run, lambda: run.runner.run(trial))

    @carries_out(StartRoutine)
    def start_routine(self, order: StartRoutine, nobody: bool = False) -> None:
        """Trials at one setpoint with one load after the other, until one of them does not hold; ``nobody`` is there to
        be asked anything.
        """
        setpoint, loads, reason = order.setpoint, order.loads, order.reason
        self._refuse_locked(setpoint)
        run = self.ready("start a routine", nobody=nobody)
        for plan in loads:
            run.runner.check(setpoint, plan, reason)
        first = run.runner.begin(setpoint, loads[0], None, reason)

        def work() -> Trial:
            ended = run.runner.run(first)
            for plan in loads[1:]:
                if ended.outcome is None or ended.outcome.verdict is not Verdict.PASS or run.runner.stopping:
                    break
                ended = run.runner.run(run.runner.begin(setpoint, plan, None, reason))
            return ended

        self.go(run, work)

    @carries_out(TakeUp)
    def take_up(self, order: TakeUp, nobody: bool = False) -> None:
        """Go on with an unfinished trial where it stands; ``nobody`` is there to be asked anything."""
        at = self._at
        at.refuse_while("take up a trial")
        run, trial = self._prepare(not nobody, nobody), at.store.trials.one(order.trial_id)
        if recovery.restarted_while_set(trial, at.clock.boot_id()):
            report = recovery.restarted_with_sheet()
            trial = at.store.trials.move(trial, report, at.clock)
            at.log("loop", f"set: {report.detail}", trial.id)
        self.go(run, lambda: run.runner.run(trial))

    # -- searches ----------------------------------------

    @carries_out(BeginSearch)
    def begin_search(self, order: BeginSearch) -> SearchPlan:
        """Begin a search in the book; with steps, go on with it.

        Raises:
            Refused: a search that cannot begin.
        """
        if len(order.knobs) == 1 and order.strategy == USUAL_STRATEGY:
            learn_of(self._at, order.knobs[0], order.base)
        rig = self._at.rig
        knobs = self._free(tuple(rig.knob(name).name for name in order.knobs), order.strategy)
        self._refuse_locked(order.base)
        plan = SearchPlan(
            0, rig.name, self._at.bench, knobs, order.base, order.load, order.strategy, order.parameters, order.reason
        )
        check_search(rig, plan)
        if order.steps is not None:
            self._at.refuse_while("start a climb")
            self._at.refuse_while_unexplained()
        plan = self._at.store.searches.begin(plan, self._at.clock)
        if order.steps is not None:
            self._go_on(order.steps, plan)
        return plan

    def _refuse_locked(self, setpoint: Setpoint) -> None:
        refuse_locked(self._at.rig, setpoint, self._at.store.sheets.notes(self._at.rig.name))

    def _free(self, knobs: tuple[str, ...], strategy: str) -> tuple[str, ...]:
        """The knobs of a search that no note locks. A night leaves these where they are; what asks for them is refused.

        Raises:
            Refused: naming the knob.
        """
        locked = locked_by_notes(self._at.store.sheets.notes(self._at.rig.name))
        held = [name for name in knobs if name in locked]
        if held and not strategy_of(strategy).alone:
            label = self._at.rig.knob(held[0]).label
            raise Refused(f"{label} is noted as locked: settle that note first (O, with {label} in hand).")
        rig, bench = self._at.rig, self._at.bench
        reached = {one.knob for one in rig.door_map}
        # With nobody there only what a door reaches can be moved.
        alone = bench.traits.needs_hands and not rig.needs_hands(bench) and strategy_of(strategy).alone
        return tuple(name for name in knobs if name not in locked and (not alone or name in reached))

    @carries_out(GoOn)
    def go_on(self, order: GoOn) -> None:
        """Go on with the search under way: one trial, or all that it takes.

        Raises:
            Refused: none is under way, or something forbids it.
        """
        plan = self._at.search()
        if plan is None:
            raise Refused(f"No climb is under way on {self._at.rig.name}; begin one along a knob.")
        self._go_on(order.steps, plan)

    def _go_on(self, steps: Steps, plan: SearchPlan) -> None:
        run = self.ready("start a climb")
        searching = self.searching(run, plan)
        if strategy_of(plan.strategy).alone and not steps.one:
            at_once = None if self._at.rig.needs_hands(self._at.bench) else self._pace.hurried
            alone = NightRunner(
                self._at.rig, searching, run.runner, self._at.store, run.clock, self._at.publish, self._at.shelf,
                self._at.bench, at_once,
            )  # fmt: skip

            def night() -> Advice:
                came = alone.run()
                if steps.measured and came.setpoint is not None and not self._at.rig.needs_hands(self._at.bench):
                    self.measure_night(run, plan.base)
                return came

            self.go(run, night)
            return
        self.go(run, searching.step if steps.one else searching.run)

    def searching(self, run: UnderWay, plan: SearchPlan) -> SearchRunner:
        """What makes the trials of a search."""
        at = self._at
        return SearchRunner(at.rig, plan, run.runner, at.store, run.clock, at.publish, at.shelf)

    @carries_out(EndSearch)
    def end_search(self, _: EndSearch) -> str:
        """End the search under way where it stands; its trials stay."""
        at = self._at
        at.refuse_while("end a climb")
        plan = at.search()
        if plan is None:
            return ""
        at.store.searches.end(plan.id, "ended by hand", at.clock)
        at.undoing.push("end of the climb", partial(at.store.searches.reopen, plan.id))
        at.log("climb", f"{called(at.rig, plan)} ended by hand")
        return "it is ended; u takes that back"

    def _search_for(self, setpoint: Setpoint, load: LoadPlan) -> int | None:
        """The search under way whose next trial this could be."""
        plan = self._at.search()
        if plan is not None and plan.load == load and plan.on_line(setpoint):
            return plan.id
        return None

    # -- while it runs ----------------------------------------

    @carries_out(GiveAnswer)
    def answer(self, order: GiveAnswer) -> None:
        """Answer the question that the run has asked."""
        if self._run is not None:
            self._run.relay.answer(order.answer, order.to)

    @property
    def asking(self) -> Question | HowLong | None:
        """The question that waits for an answer."""
        run = self._run
        return run.relay.asking if run is not None else None

    @carries_out(Stop)
    def told_to_stop(self, _: Stop) -> None:
        """As ordered."""
        self.stop()

    def stop(self) -> None:
        """Stop what runs; it is recorded as stopped by hand."""
        run = self._run
        if run is not None:
            run.runner.stop()
            if run.bench.measuring is not None:
                run.bench.measuring.stop()
            run.relay.stop()

    def wait(self, timeout_s: float | None = None) -> None:
        """Wait until nothing runs."""
        run = self._run
        if run is None or run.thread is None:
            return
        if timeout_s is not None:
            run.thread.join(timeout_s)
            return
        while run.thread.is_alive():
            run.thread.join(HEARS_WITHIN_S)

    # -- inside ----------------------------------------

    def ready(self, what: str, attended: bool = False, nobody: bool = False) -> UnderWay:
        """A runner for something that is about to begin.

        Raises:
            Refused: something runs, or an earlier trial was never judged.
        """
        self._at.refuse_while(what)
        self._at.refuse_while_unexplained()
        return self._prepare(attended, nobody)

    def _prepare(self, attended: bool = False, nobody: bool = False) -> UnderWay:
        """A runner on the bench at work. Who starts one trial is there to be asked; a search or a routine on a bench
        that needs no hands runs without anybody.
        """
        relay = Relay(self._at.publish)
        bench, clock = bench_for(self._at, None if nobody else relay, attended, self._pace)
        runner = TrialRunner(self._at.rig, bench, self._at.store, clock, self._hear)
        return UnderWay(runner, relay, clock, bench)

    def _hear(self, event: object) -> None:
        """Pass the engine's events on; with the end of a trial its picture is kept, and it is announced."""
        if isinstance(event, TrialMoved) and not event.trial.open:
            self._recording.ended(event.trial)
            self._hooks.tell(event.trial, self._complain)
            self._figures.ended(self._hooks)
        self._at.publish(event)

    def _complain(self, text: str) -> None:
        """Say what went wrong beside the work; a book that is closed by now no longer cares."""
        with suppress(TenazError):
            self._at.log("announce", text)

    def go(self, run: UnderWay, work: Callable[[], object]) -> None:
        """Let it run, on a thread of its own."""

        def body() -> None:
            ended = RunEnded()
            try:
                came = work()
                if isinstance(came, Advice):
                    ended = RunEnded(advice=came.reason)
            except TenazError as error:
                ended = RunEnded(trouble=str(error))
            except Exception as error:  # noqa: BLE001 - it is told, and the rest goes on
                ended = RunEnded(trouble=told(error, "The trial is in the book as far as it got."))
            finally:
                self._run, self._at.runs = None, False
                self._at.publish(ended)

        run.thread = threading.Thread(target=body, name="run", daemon=True)
        self._run, self._at.runs = run, True
        run.thread.start()
