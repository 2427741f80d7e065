"""What the engine is handed: a bench, a journal, a clock, a technician to ask."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Protocol

from tenaz.core.climbs import ClimbPlan
from tenaz.core.guard import Said
from tenaz.core.loading import Covered, LaneProgress, LoadPlan, LoadProgress, LoadReport, Mismatch
from tenaz.core.loop import Move, Station
from tenaz.core.outcomes import Outcome
from tenaz.core.rigs import BenchKind, Rig
from tenaz.core.setpoints import Setpoint
from tenaz.core.telemetry import Sample, Sensor
from tenaz.core.trace import TraceChunk
from tenaz.core.trials import Heartbeat, Trial


@dataclass(frozen=True, slots=True)
class Step:
    """What happened at a station: the move, and a line for the log."""

    move: Move
    detail: str = ""


@dataclass(frozen=True, slots=True)
class Reading:
    """One thing confirmed after boot: what was asked for and what reads back, as shown; None: cannot be read here."""

    name: str
    asked: str
    read: str | None

    @property
    def agrees(self) -> bool:
        """Whether it reads back as asked; what cannot be read does not disagree."""
        return self.read is None or self.read == self.asked


@dataclass(frozen=True, slots=True)
class Choice:
    """One possible answer: the key that gives it, what it is called, and what it means to the engine."""

    key: str
    label: str
    answer: Move | Outcome


@dataclass(frozen=True, slots=True)
class Question:
    """Something only the technician can see or do. ``lines`` stand under the prompt, like the sheet to enter."""

    station: Station
    prompt: str
    choices: tuple[Choice, ...]
    lines: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class HowLong:
    """How long a load really ran, which only the technician knows; ``suggested_s`` is the best guess, and
    ``may_be_none`` says whether it may have been no time at all.
    """

    prompt: str
    suggested_s: float
    may_be_none: bool = True


class Technician(Protocol):
    """Who is asked. Raises Interrupted when asked to stop instead."""

    def ask(self, question: Question) -> Move | Outcome:
        """Block until answered with one of the choices."""
        ...

    def how_long(self, question: HowLong) -> float | None:
        """Block until a time in seconds is given; None: what was answered before was a slip."""
        ...


class Clock(Protocol):
    """Time, handed in."""

    def monotonic_s(self) -> float:
        """Seconds that only go forward."""
        ...

    def utc(self) -> datetime:
        """The calendar; it may have jumped, and durations never come from it."""
        ...

    def boot_id(self) -> str:
        """Name of this boot of the operating system."""
        ...


class LoadWatch(Protocol):
    """Who hears of a running load."""

    def progress(self, progress: LoadProgress) -> None:
        """Called several times a second while a load runs."""
        ...

    def mismatch(self, mismatch: Mismatch) -> None:
        """Called for each wrong value as it is found."""
        ...

    def sensors(self, sensors: Sequence[Sensor], answer_within_s: float | None = None) -> None:
        """Called once before the first sample: which sensors are watched, in the order of a sample's values, and after
        how many real seconds without a sample nobody watches them any more (None: simulated time, in which that cannot
        be told).
        """
        ...

    def sample(self, sample: Sample) -> None:
        """Called with each sample; its time is seconds since the load was begun."""
        ...

    def note(self, text: str, source: str = "sensors") -> None:
        """Called with anything worth a line in the log."""
        ...


class Bench(Protocol):
    """The way Tenaz reaches a rig. Calls block; ``stop`` may come from any thread and ends them soon."""

    @property
    def kind(self) -> BenchKind:
        """Which bench this is."""
        ...

    def check(self, plan: LoadPlan) -> None:
        """Refuse a load that cannot run there, before a trial begins."""
        ...

    def set(self, setpoint: Setpoint, before: Setpoint) -> Step:
        """Bring the values in: entered, or stop."""
        ...

    def boot(self) -> Step:
        """Start the rig with them: came up (perhaps retrained), fell back, stayed down, or stop."""
        ...

    def confirm(self, setpoint: Setpoint) -> tuple[Step, tuple[Reading, ...]]:
        """Read back what is in force: confirmed, differs, or stop."""
        ...

    def load(self, plan: LoadPlan, watch: LoadWatch) -> LoadReport:
        """Run the load to its end, its first failure, or until stopped."""
        ...

    def stop(self) -> None:
        """End whatever is under way; the call that is blocked returns with stop."""
        ...


class Journal(Protocol):
    """The book as the engine sees it. Every call is durable when it returns, or raises BookError."""

    def begin_trial(
        self,
        rig: Rig,
        bench: BenchKind,
        setpoint: Setpoint,
        plan: LoadPlan,
        clock: Clock,
        climb_id: int | None,
        reason: str,
    ) -> Trial:
        """Commit that a trial begins, before anything is set or loaded."""
        ...

    def move(self, trial: Trial, step: Step, clock: Clock) -> Trial:
        """Commit a move along the loop; refuses one that the table does not hold."""
        ...

    def heartbeat(self, trial_id: int, beat: Heartbeat, lanes: Sequence[LaneProgress] = ()) -> None:
        """Commit a sign of life under load, with what each worker had come to by then."""
        ...

    def mismatches(self, trial_id: int, found: Sequence[Mismatch]) -> None:
        """Keep wrong values in full."""
        ...

    def record(
        self,
        trial: Trial,
        outcome: Outcome,
        seen_by: str,
        clock: Clock,
        elapsed_s: float,
        failed_after_s: float | None,
        errors: int,
        detail: str,
        covered: Covered = (),
    ) -> Trial:
        """Record how a trial at station judge ended, and close it."""
        ...

    def trace(self, trial_id: int, chunk: TraceChunk) -> None:
        """Keep a stretch of telemetry."""
        ...

    def log(
        self, rig: str, trial_id: int | None, source: str, text: str, clock: Clock, said: Said | None = None
    ) -> None:
        """One line for the merged log; with what was said at a time of the load, when it is about that."""
        ...

    def trials(self, rig: str) -> tuple[Trial, ...]:
        """All trials of a rig, oldest first."""
        ...

    def begin_climb(self, plan: ClimbPlan, clock: Clock) -> ClimbPlan:
        """Commit that a climb begins; gives it with its id."""
        ...

    def end_climb(self, climb_id: int, reason: str, clock: Clock) -> None:
        """Commit that a climb came to its advice."""
        ...

    def reopen_climb(self, climb_id: int) -> None:
        """The climb goes on after all: a record on it was undone."""
        ...


Publish = Callable[[object], None]
"""Hands a frozen event up; who displays it may fail without hurting the run."""
