"""Scores: how fast a rig is at a setpoint, each measured so often that its noise is known."""

import math
import statistics
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from tenaz.core.base.amounts import show_bytes
from tenaz.core.base.student import student
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.rigs.rig import BenchKind

CONFIDENCE = 0.95
MEDIAN_FOLD = math.sqrt(math.pi / 2)
"""By so much the median of normal values scatters more than their mean (asymptotic; Kendall and Stuart)."""
OF_NORMAL = 1.4826
"""Median absolute deviation to standard deviation, of normal values."""
BYTES_A_TRANSFER = 8
FREEDOM_OF_MEDIANS = 0.6
"""A scatter by medians is known as well as one by squares of so many times as few values; with it the interval holds
what it says from five repeats on (tried on normal values).
"""
LEAST_SPREAD = 3
"""Of fewer values nobody knows how they scatter."""


class Unit(StrEnum):
    """What Tenaz's own figures are counted in."""

    GB_S = "GB/s"
    NS = "ns"
    GFLOP_S = "GFLOP/s"


class Cores(StrEnum):
    """How many cores a figure is measured on."""

    ONE = "one core"
    ALL = "all cores"


@dataclass(frozen=True, slots=True)
class Figure:
    """What is measured: ``what`` (read, latency, render …), over a block of ``size_bytes`` (None: of no size), on so
    many cores (None: as it likes). ``leads``: it is one of those by which it is judged whether a step pays. ``own``: it
    is the technician's, typed in or read from a program's output.
    """

    what: str
    unit: str
    higher_is_better: bool = True
    size_bytes: int | None = None
    cores: Cores | None = None
    leads: bool = False
    own: bool = False

    @property
    def name(self) -> str:
        """In full, the same for the same figure whenever it is measured."""
        size = [] if self.size_bytes is None else [show_bytes(self.size_bytes)]
        return ", ".join([self.what, *size, *([self.cores.value] if self.cores else [])])

    @property
    def identity(self) -> tuple[str, str, bool, bool]:
        """What makes two the same figure: what a technician counts in seconds today may be points tomorrow."""
        return self.name, self.unit, self.higher_is_better, self.own


@dataclass(frozen=True, slots=True)
class Score:
    """A figure as it was measured: all repeats, but ``left_out`` that were disturbed. ``best_possible`` is what the
    arithmetic of the machine allows, in the same unit (None: nobody can say).
    """

    figure: Figure
    values: tuple[float, ...]
    left_out: int = 0
    best_possible: float | None = None
    disturbed: bool = False
    """Hardly a repeat was left alone by other programs: all count, and the interval is as wide as they make it."""

    @property
    def middle(self) -> float:
        """The median of the repeats."""
        return statistics.median(self.values)

    @property
    def spread(self) -> float | None:
        """How far the median may be off, as one standard error relative to it; None where nobody knows."""
        return relative_error(self.values)

    @property
    def half_width(self) -> float | None:
        """Half of the median's interval at 95 %, as a part of it."""
        error = self.spread
        return None if error is None else student(FREEDOM_OF_MEDIANS * (len(self.values) - 1), CONFIDENCE) * error

    @property
    def of_possible(self) -> float | None:
        """The part of what the arithmetic allows that was reached."""
        if not self.best_possible:
            return None
        return self.middle / self.best_possible if self.figure.higher_is_better else self.best_possible / self.middle

    def show(self) -> str:
        """Value with unit and half an interval, which holds within one run: another run, even of the same minute, lies
        elsewhere in memory and may differ by more.
        """
        half = self.half_width
        more = "" if half is None else f" ± {100 * half:.1f} % within one run"
        return f"{show_value(self.middle)} {self.figure.unit}{more}{', disturbed' if self.disturbed else ''}"


def peak_gb_s(rate_mts: float, channels: int) -> float:
    """What the bus of a memory can carry at most: eight bytes each transfer on each channel of 64 bits (JEDEC)."""
    return rate_mts * BYTES_A_TRANSFER * channels / 1000


def relative_error(values: Sequence[float]) -> float | None:
    """One standard error of the median relative to it, by the scatter of most repeats; None of too few values."""
    if len(values) < LEAST_SPREAD:
        return None
    logs, count = [math.log(value) for value in values], len(values)
    middle = statistics.median(logs)
    # Of few values the median of deviations is too small (Croux, Rousseeuw 1992), and can be nothing by chance: a part
    # of the plain deviation is always there.
    scatter = OF_NORMAL * count / (count - 0.8) * statistics.median(abs(one - middle) for one in logs)
    scatter = max(scatter, 0.3 * statistics.stdev(logs))
    return MEDIAN_FOLD * scatter / math.sqrt(count)


def show_value(value: float) -> str:
    """A figure with as many digits as say something."""
    digits = max(0, 3 - len(f"{abs(value):.0f}")) if abs(value) >= 1 else 3
    return f"{value:.{digits}f}"


class Limit(StrEnum):
    """What holds a rig back while it is measured."""

    POWER = "power"
    HEAT = "heat"
    MEMORY = "memory"
    CLOCK = "clock"


@dataclass(frozen=True, slots=True)
class Circumstances:
    """How it was measured: mean clock of the cores, hottest temperature, mean power of the processor (``by_meter``:
    typed in from a meter at the plug, and of the whole machine), whether the clock was held back; None: not known.
    """

    clock_mhz: float | None = None
    hottest_c: float | None = None
    power_w: float | None = None
    by_meter: bool = False
    held_back: bool | None = None


@dataclass(frozen=True, slots=True)
class Measure:
    """All that was measured of a rig in one go, at what was in force then. ``number`` counts the rig's measures,
    ``after_trial`` is the newest trial by then; ``why`` is why nothing was measured to its end, where that is so.
    """

    number: int
    rig: str
    bench: BenchKind
    setpoint: Setpoint
    begun_utc: datetime
    after_trial: int = 0
    scores: tuple[Score, ...] = ()
    circumstances: Circumstances = Circumstances()
    seconds: float = 0.0
    note: str = ""
    ended_utc: datetime | None = None
    why: str = ""
    id: int = 0

    def of(self, figure: Figure) -> Score | None:
        """The score of a figure."""
        return next((one for one in self.scores if one.figure.identity == figure.identity), None)

    @property
    def per_watt(self) -> tuple[tuple[Figure, float], ...]:
        """Of each leading figure that is better when higher, how much a watt gives; nothing where no power is known."""
        watts = self.circumstances.power_w
        if not watts:
            return ()
        return tuple(
            (one.figure, one.middle / watts) for one in self.scores if one.figure.leads and one.figure.higher_is_better
        )
