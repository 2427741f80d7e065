"""The workshop: one book, one rig on one bench at a time, at most one run.

The technician's orders come in here, from the workbench as from the command line; frozen events go out.
"""

import threading
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass, replace
from pathlib import Path

from tenaz.benches.by_hand import HandBench
from tenaz.benches.here import HereBench
from tenaz.benches.simulated.bench import SimulatedBench
from tenaz.charts.climb import ClimbPicture
from tenaz.core.climbs import Advice, ClimbPlan
from tenaz.core.errors import Refused, TenazError
from tenaz.core.events import Logged, RunEnded, TrialMoved
from tenaz.core.in_force import counting_on, setpoint_in_force
from tenaz.core.loading import LoadPlan
from tenaz.core.loop import Station
from tenaz.core.notes import ValueNote
from tenaz.core.outcomes import Outcome, Verdict
from tenaz.core.ports import Bench, Publish, Question
from tenaz.core.rigs import BenchKind, Rig
from tenaz.core.setpoints import Setpoint
from tenaz.core.trials import Trial
from tenaz.demo.ridge import ridge
from tenaz.engine import recovery
from tenaz.engine.climb import ClimbRunner, check_climb, standing
from tenaz.engine.clock import RealClock
from tenaz.engine.runner import TrialRunner
from tenaz.journal.opening import OpenBook, open_book
from tenaz.journal.store import Store
from tenaz.workshop.announce import Announcer
from tenaz.workshop.load_pictures import KnownOfLoad, kept_load
from tenaz.workshop.log import shown_log
from tenaz.workshop.mishaps import told
from tenaz.workshop.new_rigs import this_machine
from tenaz.workshop.pictures import picture_of_climb
from tenaz.workshop.relay import Answer, Relay
from tenaz.workshop.snapshot import keep_snapshot
from tenaz.workshop.view import View

LOG_LINES_SHOWN = 300


@dataclass(slots=True)
class _Run:
    """What is under way: its runner, whom it asks, its thread."""

    runner: TrialRunner
    relay: Relay
    thread: threading.Thread | None = None


class Workshop:
    """One book, one rig on one bench at a time, and at most one run."""

    def __init__(self, publish: Publish = lambda _: None, pace: float | None = None) -> None:
        self._publish = publish
        self._clock = RealClock()
        self._run: _Run | None = None
        self._book: OpenBook | None = None
        self.rig: Rig = ridge()
        self.bench = BenchKind.SIM
        self.pace = pace
        self._announcer = Announcer.from_environment()

    def publish_to(self, publish: Publish) -> None:
        """Send events elsewhere from now on."""
        self._publish = publish

    # -- the book ----------------------------------------

    def open(self, place: str | Path | None = None, read_only: bool = False) -> None:
        """Open the book where work was left; put the first two rigs into a new one."""
        self._book = open_book(place, read_only)
        store = self._book.store
        if not store.rigs() and not store.read_only:
            store.put_rig(this_machine())
            store.put_rig(ridge())
        rigs = store.rigs()
        if not rigs:
            raise Refused(f"The book {store.place} has no rig yet; open it once for writing.")
        unfinished, newest = store.unfinished(), store.newest_trial()
        last = unfinished[-1] if unfinished else newest
        names = [rig.name for rig in rigs]
        self.choose_rig(last.rig if last and last.rig in names else names[0])
        if last and last.rig == self.rig.name:
            self.bench = last.bench

    @property
    def store(self) -> Store:
        """The open book's store."""
        if self._book is None:
            raise Refused("No book is open yet.")
        return self._book.store

    def close(self) -> None:
        """End what runs, then let go of the book."""
        self.stop()
        self.wait()
        if self._book is not None:
            self._book.close()
            self._book = None

    # -- rig and bench ----------------------------------------

    def choose_rig(self, name: str) -> None:
        """Work on another rig, on the bench that it was last worked on, or the first that it has."""
        self._refuse_while_running("switch rigs")
        self.rig = self.store.rig(name)
        trials = self.store.trials(name)
        self.bench = trials[-1].bench if trials else self.rig.benches[0]

    def choose_bench(self, bench: BenchKind) -> None:
        """Reach the rig another way.

        Raises:
            Refused: when the rig cannot be reached that way; names the ways that it can.
        """
        self._refuse_while_running("switch benches")
        if bench not in self.rig.benches:
            ways = ", ".join(self.rig.benches)
            raise Refused(f"{self.rig.name} cannot be reached on bench {bench}; it has: {ways}.")
        self.bench = bench

    def next_bench(self) -> None:
        """The next of the rig's benches, in turn."""
        ways = self.rig.benches
        self.choose_bench(ways[(ways.index(self.bench) + 1) % len(ways)])

    def next_rig(self) -> None:
        """The next rig of the book, in turn."""
        names = [rig.name for rig in self.store.rigs()]
        self.choose_rig(names[(names.index(self.rig.name) + 1) % len(names)])

    def take_in(self) -> str:
        """Fill the rig in anew from this machine; what was typed in and what it was set to stay."""
        self._refuse_while_running("take a machine in")
        if BenchKind.HERE not in self.rig.benches:
            raise Refused(
                f"{self.rig.name} is not this machine: read it there with tenaz probe --save, and bring the file."
            )
        fresh = this_machine()
        trials = self.store.trials(self.rig.name)
        self.rig = replace(
            self.rig,
            machine=fresh.machine,
            processor=fresh.processor,
            cores=fresh.cores,
            memory_bytes=fresh.memory_bytes,
            parts=fresh.parts,
            # Trials are measured from stock: once there are any, it stands.
            knobs=self.rig.knobs if trials else fresh.knobs,
            stock=self.rig.stock if trials else fresh.stock,
        )
        self.store.put_rig(self.rig)
        return f"{self.rig.name} taken in"

    def keep_rig(self, rig: Rig) -> str:
        """Keep a rig as it was filled in by hand: the one at work, or a new one, which is then worked on.

        Raises:
            Refused: while something runs.
        """
        self._refuse_while_running("change a rig")
        fresh = rig.name not in [known.name for known in self.store.rigs()]
        self.store.put_rig(rig)
        if fresh:
            self.choose_rig(rig.name)
        elif rig.name == self.rig.name:
            self.rig = rig
        return f"{rig.name} {'added' if fresh else 'kept'}"

    def know(self, knob: str, value: int) -> None:
        """What a value of the rig stands at that nobody could read: part of its stock from now on."""
        self.rig = self.rig.knowing(knob, value)
        self.store.put_rig(self.rig)
        self._log("rig", f"{self.rig.knob(knob).label} stands at {self.rig.knob(knob).show(value)}, as typed in")

    # -- what the technician sees ----------------------------------------

    def trials(self) -> tuple[Trial, ...]:
        """The rig's trials that count on this bench: those of the stand-in and those of the rig itself are apart."""
        return counting_on(self.bench, self.store.trials(self.rig.name))

    def in_force(self) -> Setpoint:
        """What the rig is set to now."""
        return setpoint_in_force(self.trials(), self.rig.stock)

    def climb(self) -> ClimbPlan | None:
        """The climb that is not finished, on this bench."""
        going = [c for c in self.store.climbs(self.rig.name) if c.bench is self.bench and not c.ended]
        return going[-1] if going else None

    def view(self) -> View:
        """Take everything that is shown, from the book."""
        trials = self.trials()
        climb = self.climb()
        unfinished = None
        if not self.running:
            unfinished = next((trial for trial in reversed(trials) if trial.open), None)
        return View(
            rigs=tuple(rig.name for rig in self.store.rigs()),
            rig=self.rig,
            bench=self.bench,
            place=self.store.place,
            read_only=self.store.read_only,
            trials=trials,
            in_force=setpoint_in_force(trials, self.rig.stock),
            unfinished=unfinished,
            unfinished_question=self.question_about(unfinished) if unfinished else None,
            climb=climb,
            standing=standing(self.rig, climb, trials) if climb else None,
            pictures=self._pictures(trials),
            saved=self.store.setpoints(self.rig.name),
            notes=self.store.value_notes(self.rig.name),
            log=shown_log(self.store.log_lines(self.rig.name, LOG_LINES_SHOWN)),
            unread=tuple(f"{what}: {why}" for what, why in self.store.unread.items()),
        )

    def _pictures(self, trials: tuple[Trial, ...]) -> dict[str, ClimbPicture]:
        newest = {plan.knob: plan for plan in self.store.climbs(self.rig.name) if plan.bench.real is self.bench.real}
        return {knob: picture_of_climb(self.rig, plan, trials) for knob, plan in newest.items()}

    def picture(self, plan: ClimbPlan) -> ClimbPicture:
        """The picture of one climb."""
        return picture_of_climb(self.rig, plan, self.trials())

    def load_of(self, trial_id: int) -> KnownOfLoad:
        """What the book kept of a trial's load."""
        return kept_load(self.store, trial_id)

    # -- orders ----------------------------------------

    @property
    def running(self) -> bool:
        """Whether a trial or climb is under way."""
        return self._run is not None

    def start_trial(self, setpoint: Setpoint, load: LoadPlan, reason: str = "") -> None:
        """One trial at a setpoint; it counts for the climb under way when it lies on its line."""
        self._refuse_while_running("start a trial")
        self.refuse_while_unexplained()
        climb = self.climb()
        climb_id = None
        if climb is not None and climb.load == load and setpoint.matches_except(climb.base, climb.knob):
            climb_id = climb.id
        run = self._prepare()
        trial = run.runner.begin(setpoint, load, climb_id, reason)
        self._go(run, lambda: run.runner.run(trial))

    def start_routine(self, setpoint: Setpoint, plans: Sequence[LoadPlan], reason: str = "") -> None:
        """Trials at one setpoint with one load after the other, until one of them does not hold."""
        self._refuse_while_running("start a routine")
        self.refuse_while_unexplained()
        run = self._prepare()
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

        self._go(run, work)

    def take_up(self, trial: Trial) -> None:
        """Go on with an unfinished trial where it stands."""
        self._refuse_while_running("take up a trial")
        run = self._prepare()
        restarted = trial.boot_id != self._clock.boot_id()
        if trial.bench is BenchKind.HERE and trial.station is Station.SET and restarted:
            step = recovery.restarted_with_sheet()
            trial = self.store.move(trial, step, self._clock)
            self._log("loop", f"set: {step.detail}", trial.id)
        self._go(run, lambda: run.runner.run(trial))

    def plan_climb(self, knob: str, base: Setpoint, load: LoadPlan, reason: str = "") -> ClimbPlan:
        """Begin a climb in the book; nothing runs yet.

        Raises:
            Refused: a climb that cannot begin.
        """
        plan = ClimbPlan(0, self.rig.name, self.bench, self.rig.knob(knob).name, base, load, reason=reason)
        check_climb(self.rig, plan)
        return self.store.begin_climb(plan, self._clock)

    def abandon_climb(self) -> None:
        """End the climb under way where it stands; its trials stay."""
        climb = self.climb()
        if climb is not None:
            self.store.end_climb(climb.id, "ended by hand", self._clock)
            self._log("climb", f"climb of {self.rig.knob(climb.knob).label} ended by hand")

    def start_climb(self, plan: ClimbPlan, one_step: bool) -> None:
        """Go on with a climb: one trial, or all that it takes."""
        self._refuse_while_running("start a climb")
        self.refuse_while_unexplained()
        run = self._prepare()
        climbing = ClimbRunner(self.rig, plan, run.runner, self.store, self._clock, self._publish)
        self._go(run, climbing.step if one_step else climbing.run)

    def answer(self, answer: Answer) -> None:
        """Answer the question that the run has asked."""
        if self._run is not None:
            self._run.relay.answer(answer)

    def stop(self) -> None:
        """Stop what runs; it is recorded as stopped by hand."""
        if self._run is not None:
            self._run.runner.stop()
            self._run.relay.stop()

    def wait(self, timeout_s: float | None = None) -> None:
        """Wait until nothing runs."""
        run = self._run
        if run is not None and run.thread is not None:
            run.thread.join(timeout_s)

    def explain(self, trial: Trial, outcome: Outcome, elapsed_s: float | None = None) -> Trial:
        """Record what was seen of a trial that nothing runs; without a time, its last heartbeat's.

        Raises:
            Refused: held, without any time under load.
        """
        explained = recovery.explain(trial, outcome, self.store, self._clock, elapsed_s)
        keep_snapshot(self.store, self.rig, explained, self._clock)
        self._publish(TrialMoved(explained))
        return explained

    def question_about(self, trial: Trial) -> Question:
        """What to ask about an unfinished trial."""
        return recovery.asking(trial, self._clock.boot_id())

    def undo(self) -> Trial:
        """Take back the newest record on this bench; the trial then waits for another one."""
        self._refuse_while_running("undo a record")
        for trial in reversed(self.trials()):
            if trial.open:
                raise Refused(f"Trial {trial.number} has no record to undo: say first what was seen of it.")
            undone: Trial = self.store.undo_record(trial, self._clock)
            if trial.climb_id is not None:
                self.store.reopen_climb(trial.climb_id)
            self._log("loop", f"trial {trial.number}: record '{trial.outcome}' undone", trial.id)
            self._publish(TrialMoved(undone))
            return undone
        raise Refused(f"There is no record on {self.rig.name} to undo yet.")

    def note(self, trial: Trial, text: str) -> None:
        """Put a note on a trial."""
        self.store.note(trial.id, text.strip())
        self._log("note", f"trial {trial.number}: {text.strip() or 'note taken off'}", trial.id)

    def note_value(self, note: ValueNote) -> str:
        """Keep a note on a value of the rig."""
        self.store.note_value(self.rig.name, note, self._clock)
        return f"noted on {self.rig.knob(note.knob).label} {self.rig.knob(note.knob).show(note.value)}"

    def settle(self, note: ValueNote) -> str:
        """A note needs no coming back to any more."""
        self.store.settle_note(note.id)
        return "settled"

    def save_setpoint(self, name: str, setpoint: Setpoint, text: str = "") -> str:
        """Keep a setpoint of the rig under a name.

        Raises:
            Refused: a name that is taken or is none.
        """
        self.store.save_setpoint(self.rig.name, name, setpoint, text, self._clock)
        return f"saved as {name.strip()}"

    # -- running ----------------------------------------

    def _prepare(self) -> _Run:
        relay = Relay(self._publish)
        bench = self._make_bench(relay)
        return _Run(TrialRunner(self.rig, bench, self.store, self._clock, self._hear), relay)

    def _hear(self, event: object) -> None:
        """Pass the engine's events on; with the end of a trial its picture is kept, and it is announced."""
        if isinstance(event, TrialMoved) and not event.trial.open:
            keep_snapshot(self.store, self.rig, event.trial, self._clock)
            self._announcer.tell(event.trial, self._complain)
        self._publish(event)

    def _complain(self, text: str) -> None:
        """Say what went wrong beside the work; a book that is closed by now no longer cares."""
        with suppress(TenazError):
            self._log("announce", text)

    def _make_bench(self, relay: Relay) -> Bench:
        match self.bench:
            case BenchKind.SIM:
                return SimulatedBench(self.rig, len(self.store.trials(self.rig.name)), self.pace)
            case BenchKind.HERE:
                return HereBench(self.rig, relay, goldens=self.store.goldens(self.rig.name))
            case BenchKind.HAND:
                return HandBench(self.rig, relay, self._clock)

    def _go(self, run: _Run, work: Callable[[], Trial | Advice]) -> None:
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
                self._publish(ended)

        run.thread = threading.Thread(target=body, name="run", daemon=True)
        self._run = run
        run.thread.start()

    def _log(self, source: str, text: str, trial_id: int | None = None) -> None:
        self.store.log(self.rig.name, trial_id, source, text, self._clock)
        self._publish(Logged(source, text))

    def _refuse_while_running(self, what: str) -> None:
        if self.running:
            raise Refused(f"Cannot {what} while a trial runs; stop it first.")

    def refuse_while_unexplained(self) -> None:
        """Refuse to begin anything while an earlier trial has no record."""
        for trial in self.trials():
            if trial.open:
                raise Refused(
                    f"Trial {trial.number} was never judged: say first what was seen of it "
                    f"(in the workbench, or with: tenaz seen froze)."
                )
