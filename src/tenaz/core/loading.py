"""What a load is asked to do, what it says while it runs, and what came of it."""

from dataclasses import dataclass
from enum import StrEnum

from tenaz.core.outcomes import Outcome


class LoadKind(StrEnum):
    """The kinds of stress."""

    MARCH = "march"
    TRANSFORM = "transform"

    @property
    def strains(self) -> str:
        """What it strains, in the trade's words."""
        return "memory" if self is LoadKind.MARCH else "CPU"

    @property
    def rate_unit(self) -> str:
        """Unit of its rate."""
        return "GB/s" if self is LoadKind.MARCH else "GFLOP/s"


class CacheLevel(StrEnum):
    """Where the data of a CPU load live."""

    L1 = "L1"
    L2 = "L2"
    L3 = "L3"
    MEMORY = "memory"


@dataclass(frozen=True, slots=True)
class LoadPlan:
    """One load: for a time, for laps, or until stopped when neither is given.

    ``share`` is the part of all memory, 0 to 1, used by memory loads; ``level`` is used by CPU loads.
    ``workers`` None means one for each core.
    """

    kind: LoadKind
    duration_s: float | None = None
    laps: int | None = None
    share: float = 0.5
    level: CacheLevel = CacheLevel.L2
    stop_at_first_error: bool = True
    workers: int | None = None

    def ahead(self, elapsed_s: float, laps: float) -> tuple[float | None, float | None]:
        """The part that is done, 0 to 1, and the seconds that are left; None for what cannot be known."""
        if self.duration_s is not None:
            return min(1.0, elapsed_s / self.duration_s), max(0.0, self.duration_s - elapsed_s)
        if self.laps is None:
            return None, None
        done = min(1.0, laps / self.laps)
        return done, elapsed_s * (1 - done) / done if done > 0 else None

    def show(self) -> str:
        """One line: kind, what it strains, how long."""
        strain = f"{self.share:.0%} of memory" if self.kind is LoadKind.MARCH else f"in {self.level}"
        if self.duration_s is not None:
            length = f"for {show_duration(self.duration_s)}"
        elif self.laps is not None:
            length = f"for {self.laps} lap{'s' if self.laps != 1 else ''}"
        else:
            length = "until stopped"
        crew = f", {self.workers} worker{'s' if self.workers != 1 else ''}" if self.workers else ""
        return f"{self.kind} {length}, {strain}{crew}"


class MismatchKind(StrEnum):
    """What a second look at a wrong value showed."""

    STORED = "stored wrong"
    ON_THE_WAY = "wrong on the way"
    COMPARED = "compared wrong"
    COMPUTED = "computed wrong"


@dataclass(frozen=True, slots=True)
class Mismatch:
    """One wrong value.

    ``expected``, ``read`` and ``read_again`` are 64-bit words (for a CPU load: the bits of a double, or a digest);
    ``address`` is virtual in the worker; ``lap`` counts from 1; ``at_s`` is seconds from the load's start.
    """

    worker: int
    at_s: float
    lap: int
    address: int
    expected: int
    read: int
    read_again: int
    kind: MismatchKind
    where: str = ""

    @property
    def wrong_bits(self) -> tuple[int, ...]:
        """Bit lanes that differ, lowest first."""
        return tuple(bit for bit in range(64) if (self.expected ^ self.read) >> bit & 1)

    def show(self) -> str:
        """One line for the log."""
        lanes = self.wrong_bits
        bits = (
            f"bit{'s' if len(lanes) > 1 else ''} {', '.join(map(str, lanes))}"
            if len(lanes) <= 4
            else f"{len(lanes)} bits"
        )
        return (
            f"address {self.address:#014x}: expected {self.expected:016x}, read {self.read:016x}, again "
            f"{self.read_again:016x} ({self.kind}; {bits}) in lap {self.lap}{f', {self.where}' if self.where else ''}"
        )


@dataclass(frozen=True, slots=True)
class LaneProgress:
    """What one worker does: laps done as a fraction, its rate in the kind's unit, errors, when it last verified, and
    the clock that its core was measured to reach (0: not yet).
    """

    worker: int
    core: int
    laps: float = 0.0
    rate: float = 0.0
    errors: int = 0
    verified_at_s: float = 0.0
    clock_mhz: float = 0.0
    doing: str = "starting"


@dataclass(frozen=True, slots=True)
class LoadProgress:
    """The whole load at one moment. ``fraction`` and ``left_s`` are None when it runs until stopped."""

    plan: LoadPlan
    elapsed_s: float
    fraction: float | None
    left_s: float | None
    laps: float
    rate: float
    errors: int
    lanes: tuple[LaneProgress, ...] = ()
    temperature_c: float | None = None


@dataclass(frozen=True, slots=True)
class LoadReport:
    """What came of a load.

    ``elapsed_s`` is the time under load, ``failed_after_s`` the time of the first failure (None: none seen).
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


def show_duration(seconds: float) -> str:
    """Like 45s, 12m, 1h30m: short enough for a log line, exact to the second below an hour."""
    whole = round(seconds)
    hours, rest = divmod(whole, 3600)
    minutes, left = divmod(rest, 60)
    if hours:
        return f"{hours}h{minutes:02d}m" if minutes else f"{hours}h"
    if minutes:
        return f"{minutes}m{left:02d}s" if left else f"{minutes}m"
    return f"{left}s"


def show_clock(seconds: float) -> str:
    """Like 00:12:40."""
    whole = max(0, int(seconds))
    return f"{whole // 3600:02d}:{whole // 60 % 60:02d}:{whole % 60:02d}"
