"""What the engine is handed: a bench, a journal, a technician to ask, a clock."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Protocol

from tenaz.core.base.loop import Move, Station
from tenaz.core.base.outcomes import Outcome
from tenaz.core.base.typed import with_code
from tenaz.core.knobs.readings import Reading
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadPlan, LoadProgress, LoadReport, Mismatch, WorkerProgress
from tenaz.core.machine.physical_memory import Laid
from tenaz.core.rigs.rig import BenchKind, Rig, Traits
from tenaz.core.scores.measure import Measured, MeasurePlan, MeasureWatch
from tenaz.core.searches.search import SearchPlan
from tenaz.core.sensors.guard import Said
from tenaz.core.sensors.last_seconds import LastSeconds
from tenaz.core.sensors.telemetry import Sample, Sensor
from tenaz.core.sensors.trace import TraceChunk
from tenaz.core.trials.facts import NO_FACTS, LoadFacts
from tenaz.core.trials.trial import Heartbeat, Trial


@dataclass(frozen=True, slots=True)
class StationReport:
    """What happened at a station: the move, a line for the log, the seconds that it took (None: not known), and whether
    it was done, or seen, by hand.
    """

    move: Move
    detail: str = ""
    seconds: float | None = None
    by_hand: bool = False


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


@dataclass(frozen=True, slots=True)
class Ran:
    """How long a load really ran, in seconds, and how many errors it had; None where nobody counted. ``code`` is the
    stop code that was shown, ``hottest_c`` the highest temperature that somebody read, ``wall_w`` what a meter at the
    wall showed; None: nobody did.
    """

    elapsed_s: float
    errors: int | None = None
    hottest_c: float | None = None
    code: str = ""
    wall_w: float | None = None

    def with_code(self, detail: str) -> str:
        """What is said of an end, with the code where one was shown."""
        return with_code(detail, self.code)


class Technician(Protocol):
    """Who is asked. Raises Interrupted when asked to stop instead."""

    def ask(self, question: Question) -> Move | Outcome:
        """Block until answered with one of the choices."""
        ...

    def how_long(self, question: HowLong) -> Ran | None:
        """Block until it is told; None: what was answered before was a slip."""
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

    def laid(self, laid: Laid) -> None:
        """Called once before the load begins, where it is known in which physical memory it lies."""
        ...

    def sensors(
        self, sensors: Sequence[Sensor], answer_within_s: float | None = None, period_s: float | None = None
    ) -> None:
        """Called once before the first sample: which sensors are watched, in the order of a sample's values, and after
        how many real seconds without a sample nobody watches them any more, and every how many seconds one is to come
        (None: simulated time, in which that cannot be told).
        """
        ...

    def sample(self, sample: Sample) -> None:
        """Called with each sample; its time is seconds since the load was begun."""
        ...

    def note(self, text: str, source: str = "sensors") -> None:
        """Called with anything worth a line in the log."""
        ...

    @property
    def token(self) -> str:
        """Names this load, the same whenever its trial is taken up: a bench on which it outlives Tenaz joins it."""
        ...

    def settle(self) -> None:
        """Everything that was told so far is in the book when this returns."""
        ...

    def last_seconds(self, seconds: LastSeconds) -> None:
        """Called where the machine went, with what was heard of it just before."""
        ...


class Setting(Protocol):
    """The part of a bench that brings values into the rig, and starts it with them."""

    def set(self, setpoint: Setpoint, before: Setpoint) -> StationReport:
        """Bring the values in: entered, or stop."""
        ...

    def boot(self) -> StationReport:
        """Start the rig with them: came up (perhaps retrained), fell back, stayed down, or stop."""
        ...


class ReadingBack(Protocol):
    """The part of a bench that looks at what is in force."""

    def read_back(self, setpoint: Setpoint) -> tuple[Reading, ...]:
        """Of every knob, and of parts where they are known, what was asked for and what reads back."""
        ...


class Loading(Protocol):
    """The part of a bench that runs loads."""

    def check(self, plan: LoadPlan) -> None:
        """Refuse a load that cannot run there, before a trial begins."""
        ...

    def load(self, plan: LoadPlan, watch: LoadWatch) -> LoadReport:
        """Run the load to its end, its first failure, or until stopped."""
        ...

    def stop(self) -> None:
        """End it; may come from any thread, and the call that is blocked returns soon."""
        ...


class Measuring(Protocol):
    """The part of a bench that measures how fast the rig is, as it runs now."""

    def measure(self, plan: MeasurePlan, watch: MeasureWatch) -> Measured:
        """Measure until all is known well enough, time is up, or stopped."""
        ...

    def stop(self) -> None:
        """End it; may come from any thread."""
        ...


@dataclass(frozen=True, slots=True)
class Bench:
    """The way Tenaz reaches a rig, composed of parts; ``kind`` is its name in the book. ``clock`` is that of the
    machine under load, with its boots; ``technician`` is who is asked (None: nobody is there). Its parts' calls block.
    """

    kind: BenchKind
    setting: Setting
    reading: ReadingBack
    loading: Loading
    clock: Clock
    technician: Technician | None = None
    measuring: Measuring | None = None
    """None: nothing here can measure; the technician's own figures can be typed in."""
    leave: Callable[[], None] = lambda: None
    """Let go of the rig: no line stays open to it. What runs there on its own runs on."""
    hands_free: bool = False
    """Values are set through a door of the rig's own: what that reaches needs nobody."""

    @property
    def traits(self) -> Traits:
        """What it can do by itself."""
        traits = self.kind.traits
        return replace(traits, needs_hands=False) if self.hands_free else traits


class TrialsRead(Protocol):
    """Trials, as they are read again."""

    def cleared_after(self, rig: str, real: bool) -> int:
        """The number of the last trial before a rig's firmware was cleared by hand; 0: it never was."""
        ...

    def since(self, rig: str, seen: int) -> tuple[int, Sequence[Trial]]:
        """The newest change of a rig's trials, and those that were changed after the change ``seen``, oldest first."""
        ...


class TrialJournal(Protocol):
    """Trials, as the engine writes them. Every call is durable when it returns, or raises BookError."""

    def begin(
        self,
        rig: Rig,
        bench: BenchKind,
        setpoint: Setpoint,
        plan: LoadPlan,
        clock: Clock,
        search_id: int | None,
        reason: str,
    ) -> Trial:
        """Commit that a trial begins, before anything is set or loaded."""
        ...

    def move(self, trial: Trial, report: StationReport, clock: Clock, readings: Sequence[Reading] = ()) -> Trial:
        """Commit a move along the loop, with what was read where it was looked; refuses a move that the table does not
        hold.
        """
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
        facts: LoadFacts = NO_FACTS,
    ) -> Trial:
        """Record how a trial at station judge ended, with what its load really did, and close it."""
        ...

    def before(self, trial: Trial) -> Trial | None:
        """The newest trial before this one that left values in the rig, on the same side: simulated, or the rig."""
        ...

    def readings_of(self, trial_id: int) -> tuple[tuple[Reading, ...], ...]:
        """What was read at each confirmation of a trial, in order."""
        ...


class LoadJournal(Protocol):
    """What is written while a load runs; durable when a call returns."""

    def heartbeat(self, trial_id: int, beat: Heartbeat, lanes: Sequence[WorkerProgress] = ()) -> None:
        """Commit a sign of life under load, with what each worker had come to by then."""
        ...

    def wrong(self, trial: Trial, found: Sequence[Mismatch], lines: Sequence[tuple[str, Said]], clock: Clock) -> None:
        """Keep wrong values in full, and what is said of each (source and words), in one commit."""
        ...

    def laid(self, trial_id: int, laid: Laid) -> None:
        """Keep in which physical memory a load lies."""
        ...

    def trace(self, trial_id: int, chunk: TraceChunk) -> None:
        """Keep a stretch of telemetry."""
        ...

    def last_seconds(self, trial_id: int, seconds: LastSeconds) -> None:
        """Keep what was heard of a machine just before it went."""
        ...

    def mismatches_of(self, trial_id: int) -> Sequence[Mismatch]:
        """The wrong values that are kept of a trial, in their order."""
        ...

    def samples_of(self, trial_id: int) -> tuple[Sample, ...]:
        """The telemetry that is kept of a trial, in its order."""
        ...

    def lanes_of(self, trial_id: int) -> tuple[WorkerProgress, ...]:
        """What each worker of a trial had come to at its last sign of life."""
        ...


class LogJournal(Protocol):
    """The merged log."""

    def write(
        self, rig: str, trial_id: int | None, source: str, text: str, clock: Clock, said: Said | None = None
    ) -> None:
        """One line; with what was said at a time of the load, when it is about that."""
        ...


class SearchJournal(Protocol):
    """Searches."""

    def begin(self, plan: SearchPlan, clock: Clock) -> SearchPlan:
        """Commit that a search begins; gives it with its id."""
        ...

    def end(self, search_id: int, reason: str, clock: Clock) -> None:
        """Commit that a search came to its advice."""
        ...

    def reopen(self, search_id: int) -> None:
        """The search goes on after all: a record on it was undone."""
        ...


class Journal(Protocol):
    """The book as the engine sees it."""

    @property
    def trials(self) -> TrialJournal:
        """Trials."""
        ...

    @property
    def load(self) -> LoadJournal:
        """What is written under load."""
        ...

    @property
    def log(self) -> LogJournal:
        """The merged log."""
        ...

    @property
    def searches(self) -> SearchJournal:
        """Searches."""
        ...


Publish = Callable[[object], None]
"""Hands a frozen event up; who displays it may fail without hurting the run."""
