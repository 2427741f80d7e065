"""The Load picture: what each worker does, and the sensors' curves on one time axis."""

from dataclasses import dataclass

from tenaz.core.loading import LaneProgress
from tenaz.core.series import Series
from tenaz.core.telemetry import Ceiling, Sensor


@dataclass(frozen=True, slots=True)
class Curve:
    """One sensor's curve with its ceiling, and what it said last (None: nothing)."""

    sensor: Sensor
    series: Series
    ceiling: Ceiling | None
    last: float | None


@dataclass(frozen=True, slots=True)
class Event:
    """Something that happened at a time of the load: a sign and a word."""

    at_s: float
    sign: str
    word: str


@dataclass(frozen=True, slots=True)
class LoadPicture:
    """One trial's load. The window goes from ``start_s`` to ``end_s``; ``cursor_s`` reads the curves out there."""

    title: str
    rate_unit: str
    lanes: tuple[LaneProgress, ...]
    curves: tuple[Curve, ...]
    events: tuple[Event, ...]
    start_s: float
    end_s: float
    cursor_s: float | None = None
