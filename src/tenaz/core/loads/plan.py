"""What a load is asked to do, what it says while it runs, and what came of it."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from tenaz.core.base.amounts import show_bytes, show_clock, show_duration
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.fields import LoadFact
from tenaz.core.loads.kinds import CacheLevel, DataKind, LoadKind, MarchMode, Strains
from tenaz.core.loads.mismatches import Mismatch, MismatchKind, colour_text

__all__ = [
    "CacheLevel",
    "DataKind",
    "LoadKind",
    "LoadPlan",
    "LoadProgress",
    "LoadReport",
    "MarchMode",
    "Mismatch",
    "MismatchKind",
    "Strains",
    "WorkerProgress",
    "colour_text",
    "endless_before_last",
    "lasts_s",
    "show_bytes",
    "show_clock",
    "show_duration",
]  # fmt: skip


USUAL_DURATION_S = 3600.0
"""How long a load runs for which nobody said how long."""


@dataclass(frozen=True, slots=True)
class LoadPlan:
    """One load: for a time, for laps, or until stopped when neither is given. Fields that its kind does not use say
    nothing.

    ``share`` is the part of all memory, 0 to 1, used by memory loads; ``size_bytes`` is used instead where given.
    ``level`` is where a transform's data live; with ``level_to`` it walks from one to the other. ``workers`` None means
    one for each core; ``cores`` are those to run on (none: all); without ``siblings`` one thread of each core only.

    ``test`` is a march test by name or notation, ``data`` and ``mode`` what it writes and what it does about caches.
    ``wait_s`` is how long ``retain`` leaves memory alone, ``pulse_hz`` how often ``pulse`` goes from idle to full.
    ``warm_c``: the part that it strains is held at this temperature, as far as what runs can: loads ``beside`` it heat,
    and pause first; then it pauses itself. Pauses are no time under load.
    ``cards`` are the graphics cards to run on (none: all), ``side_px`` how large pictures are (None: by the card).
    ``step_hz``: all that runs works in step, half of each period, and rests for the other half; None: steadily.
    ``command`` is the arguments list of a ``program``, ``bad_words`` what its output must not hold, ``good_words`` what
    it must, ``counts_as`` the kinds of load that it is said to strain like. ``beside`` are loads that run at the same
    time and end with this one.
    """

    kind: LoadKind
    duration_s: float | None = None
    laps: int | None = None
    share: float = 0.5
    level: CacheLevel = CacheLevel.L2
    stop_at_first_error: bool = True
    workers: int | None = None
    size_bytes: int | None = None
    level_to: CacheLevel | None = None
    cores: tuple[int, ...] = ()
    siblings: bool = True
    test: str = "C-"
    data: DataKind = DataKind.WORDS
    mode: MarchMode = MarchMode.CACHED
    wait_s: float = 60.0
    pulse_hz: float = 10.0
    cards: tuple[int, ...] = ()
    side_px: int | None = None
    step_hz: float | None = None
    command: tuple[str, ...] = ()
    bad_words: str = ""
    good_words: str = ""
    counts_as: tuple[LoadKind, ...] = ()
    beside: tuple["LoadPlan", ...] = ()
    warm_c: float | None = None

    def ahead(self, elapsed_s: float, laps: float) -> tuple[float | None, float | None]:
        """The part that is done, 0 to 1, and the seconds that are left; None for what cannot be known."""
        if self.duration_s is not None:
            return min(1.0, elapsed_s / self.duration_s), max(0.0, self.duration_s - elapsed_s)
        if self.laps is None:
            return None, None
        done = min(1.0, laps / self.laps)
        return done, elapsed_s * (1 - done) / done if done > 0 else None

    @property
    def kinds(self) -> tuple[LoadKind, ...]:
        """Its own kind, those that it counts as, and those beside it; each once. Where a temperature is held those
        beside it are there to heat, and show nothing of their own.
        """
        beside = self.beside if self.warm_c is None else ()
        every = (self.kind, *self.counts_as, *(kind for other in beside for kind in other.kinds))
        return tuple(dict.fromkeys(every))

    def show(self) -> str:
        """One line: kind, how long, what it strains and how, and what runs beside it."""
        if self.duration_s is not None:
            length = f"for {show_duration(self.duration_s)}"
        elif self.laps is not None:
            length = f"for {self.laps} lap{'s' if self.laps != 1 else ''}"
        else:
            length = "until stopped"
        beside = "".join(f" beside {other.kind}, {other.how()}" for other in self.beside)
        return f"{self.kind} {length}, {self.how()}{beside}"

    def manner(self) -> str:
        """How it works and is verified, and, for a march, what its mode lets it find."""
        mode = f"; {self.mode}: {self.mode.meaning}" if self.kind is LoadKind.MARCH else ""
        return f"{self.kind}: {self.kind.about}{mode}"

    def how(self) -> str:
        """What it strains and how, without how long."""
        parts = [self.kind.declared.how(self)]
        if self.workers:
            parts.append(f"{self.workers} worker{'s' if self.workers != 1 else ''}")
        if self.cores:
            parts.append(f"cores {','.join(map(str, self.cores))}")
        if not self.siblings:
            parts.append("one thread a core")
        if self.cards:
            parts.append(f"card{'s' if len(self.cards) > 1 else ''} {','.join(map(str, self.cards))}")
        if self.step_hz is not None:
            parts.append(f"in step at {self.step_hz:g} Hz")
        if self.warm_c is not None:
            parts.append(f"held at {self.warm_c:g} °C")
        return ", ".join(parts)

    def amount(self) -> str:
        """How much of memory it goes over."""
        return f"{self.share:.0%} of memory" if self.size_bytes is None else show_bytes(self.size_bytes)

    def wait(self) -> str:
        """How long it leaves memory alone."""
        return show_duration(self.wait_s)


def lasts_s(plans: "Iterable[LoadPlan]") -> float | None:
    """How long loads in turn take; None when one goes by laps or until stopped."""
    lengths = [plan.duration_s for plan in plans]
    return sum(length for length in lengths if length is not None) if None not in lengths else None


def endless_before_last(plans: "Sequence[LoadPlan]") -> int | None:
    """Which load of several in turn, from 1, runs until it is stopped, so that none would follow; None: none does."""
    return next((at for at, plan in enumerate(plans[:-1], 1) if plan.duration_s is None and plan.laps is None), None)


@dataclass(frozen=True, slots=True)
class WorkerProgress:
    """What one worker does: laps done as a fraction, its rate in the kind's unit, errors, when it last verified, and
    the clock that its core was measured to reach (0: not yet); ``kind`` is that of its load. ``core`` is where it
    really ran, ``covered`` the part, 0 to 1, of what it was given that it has verified after straining it (None: not
    told).
    """

    worker: int
    core: int
    laps: float = 0.0
    rate: float = 0.0
    errors: int = 0
    verified_at_s: float = 0.0
    clock_mhz: float = 0.0
    doing: str = "starting"
    kind: LoadKind | None = None
    covered: float | None = None
    card: int | None = None

    @property
    def on(self) -> str:
        """What it works on: a core, or a card."""
        return f"core {self.core}" if self.card is None else f"card {self.card}"


@dataclass(frozen=True, slots=True)
class LoadProgress:
    """The whole load at one moment. ``elapsed_s`` is time in which all workers worked. ``fraction`` and ``left_s`` are
    None when it runs until stopped.
    """

    plan: LoadPlan
    elapsed_s: float
    fraction: float | None
    left_s: float | None
    laps: float
    rate: float
    errors: int
    lanes: tuple[WorkerProgress, ...] = ()
    temperature_c: float | None = None


@dataclass(frozen=True, slots=True)
class LoadReport:
    """What came of a load.

    ``elapsed_s`` is the time under load, ``failed_after_s`` the time of the first failure (None: none seen). A load
    that was shorter than a lap has shown only what it reached: ``loads`` says what each really did.
    """

    plan: LoadPlan
    outcome: Outcome
    elapsed_s: float
    laps: float
    rate: float
    errors: int
    failed_after_s: float | None = None
    mismatches: tuple[Mismatch, ...] = ()
    detail: str = ""
    loads: tuple[LoadFact, ...] = ()
    hottest_c: float | None = None
    """The highest temperature that somebody read off where nothing here can read one."""
    wall_w: float | None = None
    """What somebody read off a meter at the wall."""

    @property
    def least_covered(self) -> float:
        """The smallest part that one of its loads went over."""
        return min((one.covered for one in self.loads), default=1.0)


def laps_of(kind: LoadKind, laps: Sequence[float]) -> float:
    """Laps that all workers of a load have done; where they take turns, all laps together."""
    return sum(laps) if kind.declared.takes_turns else min(laps, default=0.0)


def part_covered(kind: LoadKind, laps: float, workers_begun: float) -> float:
    """The part, 0 to 1, of what a load is to go over that it went over: of its lap, for a memory load; of the cores,
    for one that takes them in turn (``workers_begun`` of 1). Other loads do the same work again and again.
    """
    if kind.declared.goes_over:
        return min(1.0, laps)
    return workers_begun if kind.declared.takes_turns else 1.0
