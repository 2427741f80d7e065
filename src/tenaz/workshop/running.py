"""What runs: at most one trial, routine or search at a time, on a thread of its own."""

import threading
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass
from functools import partial

from tenaz.announcing.hooks import Hooks
from tenaz.core.errors import Refused, TenazError
from tenaz.core.events import RunEnded, TrialMoved
from tenaz.core.hearing import HEARS_WITHIN_S
from tenaz.core.loading import LoadPlan
from tenaz.core.loop import Station
from tenaz.core.notes import locked_by_notes, refuse_locked
from tenaz.core.outcomes import Verdict
from tenaz.core.pace import Pace
from tenaz.core.ports import Bench, Clock, HowLong, Question
from tenaz.core.searches import NIGHT, Advice, SearchPlan
from tenaz.core.setpoints import Setpoint
from tenaz.core.trials import Trial
from tenaz.engine import recovery
from tenaz.engine.night import NightRunner
from tenaz.engine.runner import TrialRunner, verified
from tenaz.engine.search import SearchRunner, called, check_search
from tenaz.workshop.at_work import AtWork
from tenaz.workshop.benches import bench_for
from tenaz.workshop.mishaps import told
from tenaz.workshop.orders import BeginSearch, GiveAnswer, Steps
from tenaz.workshop.relay import Relay


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

    def __init__(self, at_work: AtWork, clock: Clock, pace: float | None = None) -> None:
        self._at = at_work
        self._clock = clock
        self._hooks = Hooks.known()
        self._run: UnderWay | None = None
        self._pace = Pace(pace)
        self.take_back: Callable[[int], object] = lambda _: None
        """How the record of a trial that ended is taken back."""

    @property
    def pace(self) -> float | None:
        """Simulated seconds in a real one; None: as fast as can be. It may change while something runs."""
        return self._pace.factor

    @pace.setter
    def pace(self, factor: float | None) -> None:
        self._pace.factor = factor

    @property
    def now(self) -> bool:
        """Whether something is under way: the one place that knows."""
        return self._run is not None

    def refuse_while(self, what: str) -> None:
        """Refuse an order that something under way forbids."""
        if self.now:
            raise Refused(f"Cannot {what} while a trial runs; stop it first.")

    # -- starting ----------------------------------------

    def start_trial(self, setpoint: Setpoint, load: LoadPlan, reason: str = "") -> None:
        """One trial at a setpoint; it counts for every search on whose line it lies."""
        self._refuse_locked(setpoint)
        run = self.ready("start a trial", attended=True)
        trial = run.runner.begin(setpoint, load, self._search_for(setpoint, load), reason)
        self.go(run, lambda: run.runner.run(trial))

    def start_routine(
        self, setpoint: Setpoint, plans: Sequence[LoadPlan], reason: str = "", nobody: bool = False
    ) -> None:
        """Trials at one setpoint with one load after the other, until one of them does not hold; ``nobody`` is there to
        be asked anything.
        """
        self._refuse_locked(setpoint)
        run = self.ready("start a routine", nobody=nobody)
        for plan in plans:
            run.runner.check(setpoint, plan, reason)
        first = run.runner.begin(setpoint, plans[0], None, reason)

        def work() -> Trial:
            ended = run.runner.run(first)
            for plan in plans[1:]:
                if ended.outcome is None or ended.outcome.verdict is not Verdict.PASS or run.runner.stopping:
                    break
                ended = run.runner.run(run.runner.begin(setpoint, plan, None, reason))
            return ended

        self.go(run, work)

    def take_up(self, trial_id: int, nobody: bool = False) -> None:
        """Go on with an unfinished trial where it stands; ``nobody`` is there to be asked anything."""
        self.refuse_while("take up a trial")
        run, trial = self._prepare(not nobody, nobody), self._at.store.trials.one(trial_id)
        restarted = trial.boot_id != self._clock.boot_id()
        if trial.bench.traits.restarts_us and trial.station is Station.SET and restarted:
            report = recovery.restarted_with_sheet()
            trial = self._at.store.trials.move(trial, report, self._clock)
            self._at.log("loop", f"set: {report.detail}", trial.id)
        self.go(run, lambda: run.runner.run(trial))

    # -- searches ----------------------------------------

    def begin_search(self, order: BeginSearch) -> SearchPlan:
        """Begin a search in the book; with steps, go on with it.

        Raises:
            Refused: a search that cannot begin.
        """
        rig = self._at.rig
        knobs = self._free(tuple(rig.knob(name).name for name in order.knobs), order.strategy)
        self._refuse_locked(order.base)
        plan = SearchPlan(
            0, rig.name, self._at.bench, knobs, order.base, order.load, order.strategy, order.parameters, order.reason
        )
        check_search(rig, plan)
        if order.steps is not None:
            self.refuse_while("start a climb")
            self.refuse_while_unexplained()
        plan = self._at.store.searches.begin(plan, self._clock)
        if order.steps is not None:
            self.go_on(order.steps, plan)
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
        if held and strategy != NIGHT:
            label = self._at.rig.knob(held[0]).label
            raise Refused(f"{label} is noted as locked: settle that note first (O, with {label} in hand).")
        return tuple(name for name in knobs if name not in locked)

    def go_on(self, steps: Steps, plan: SearchPlan | None = None) -> None:
        """Go on with a search, by default the one under way: one trial, or all that it takes."""
        plan = plan or self._at.search()
        if plan is None:
            raise Refused(f"No climb is under way on {self._at.rig.name}; begin one along a knob.")
        run = self.ready("start a climb")
        searching = SearchRunner(
            self._at.rig, plan, run.runner, self._at.store, run.clock, self._at.publish, self._at.standing
        )
        if plan.strategy == NIGHT and not steps.one:
            alone = NightRunner(
                self._at.rig, searching, run.runner, self._at.store, run.clock, self._at.publish,
                lambda: self._at.trials, None if self._at.bench.traits.needs_hands else self._pace.hurried,
            )  # fmt: skip
            self.go(run, alone.run)
            return
        self.go(run, searching.step if steps.one else searching.run)

    def end_search(self) -> str:
        """End the search under way where it stands; its trials stay."""
        self.refuse_while("end a climb")
        plan = self._at.search()
        if plan is not None:
            self._at.store.searches.end(plan.id, "ended by hand", self._clock)
            self._at.undoing.push("end of the climb", partial(self._at.store.searches.reopen, plan.id))
            self._at.log("climb", f"{called(self._at.rig, plan)} ended by hand")
        return "it is ended; u takes that back" if plan is not None else ""

    def _search_for(self, setpoint: Setpoint, load: LoadPlan) -> int | None:
        """The search under way whose next trial this could be."""
        plan = self._at.search()
        if plan is not None and plan.load == load and plan.on_line(setpoint):
            return plan.id
        return None

    # -- while it runs ----------------------------------------

    def answer(self, order: GiveAnswer) -> None:
        """Answer the question that the run has asked."""
        if self._run is not None:
            self._run.relay.answer(order.answer, order.to)

    @property
    def asking(self) -> Question | HowLong | None:
        """The question that waits for an answer."""
        run = self._run
        return run.relay.asking if run is not None else None

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

    def refuse_while_unexplained(self) -> None:
        """Refuse to begin anything while an earlier trial has no record."""
        for trial in self._at.unfinished():
            raise Refused(
                f"Trial {trial.number} was never judged: say first what was seen of it "
                f"(in the workbench, or with: tenaz seen froze)."
            )

    # -- inside ----------------------------------------

    def ready(self, what: str, attended: bool = False, nobody: bool = False) -> UnderWay:
        """A runner for something that is about to begin.

        Raises:
            Refused: something runs, or an earlier trial was never judged.
        """
        self.refuse_while(what)
        self.refuse_while_unexplained()
        return self._prepare(attended, nobody)

    def _prepare(self, attended: bool = False, nobody: bool = False) -> UnderWay:
        """A runner on the bench at work. Who starts one trial is there to be asked; a search or a routine on a bench
        that needs no hands runs without anybody.
        """
        relay = Relay(self._at.publish)
        bench, clock = bench_for(self._at, self._clock, None if nobody else relay, attended, self._pace)
        runner = TrialRunner(self._at.rig, bench, self._at.store, clock, self._hear)
        return UnderWay(runner, relay, clock, bench)

    def _hear(self, event: object) -> None:
        """Pass the engine's events on; with the end of a trial its picture is kept, and it is announced."""
        if isinstance(event, TrialMoved) and not event.trial.open:
            if not verified(event.trial):
                self._at.undoing.push(f"record of trial {event.trial.number}", partial(self.take_back, event.trial.id))
            self._at.keep_snapshot(event.trial)
            self._hooks.tell(event.trial, self._complain)
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
            except Exception as error:
                ended = RunEnded(trouble=told(error, "The trial is in the book as far as it got."))
            finally:
                self._run = None
                self._at.publish(ended)

        run.thread = threading.Thread(target=body, name="run", daemon=True)
        self._run = run
        run.thread.start()
