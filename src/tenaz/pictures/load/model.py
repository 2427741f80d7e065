"""The Load picture: what each worker does, and the sensors' curves on one time axis."""

from dataclasses import dataclass

from tenaz.core.loads.plan import WorkerProgress
from tenaz.core.sensors.last_seconds import LastSeconds
from tenaz.core.sensors.series import Series
from tenaz.core.sensors.telemetry import Ceiling, Sensor
from tenaz.pictures.drawing.marks import Mark

CURSOR_STEPS = 60
"""The cursor crosses the window in so many steps; what happened within one of it is what it points at."""


@dataclass(frozen=True, slots=True)
class Curve:
    """One sensor's curve with its ceiling, what it said last (None: nothing), and what it measures."""

    sensor: Sensor
    series: Series
    ceiling: Ceiling | None
    last: float | None
    name: str = ""


@dataclass(frozen=True, slots=True)
class Event:
    """Something that happened at a time of the load, and the words for it."""

    at_s: float
    mark: Mark
    text: str


@dataclass(frozen=True, slots=True)
class LoadPicture:
    """One trial's load.

    ``events`` are in order of time. The window goes from ``start_s`` to ``end_s``; at ``cursor_s`` the curves are read
    out, and what happened there. ``chosen`` is the part of the sensors' names that are shown. ``manner`` says how
    the load works, and in which mode: what of it reaches the memory and can be found.
    """

    title: str
    rate_unit: str
    lanes: tuple[WorkerProgress, ...]
    curves: tuple[Curve, ...]
    events: tuple[Event, ...]
    start_s: float
    end_s: float
    cursor_s: float | None = None
    chosen: str = ""
    manner: str = ""
    last: LastSeconds | None = None
    """What was heard of the machine just before it went; None: it did not, or nobody heard."""

    @property
    def empty(self) -> bool:
        """Whether there is nothing to draw."""
        return not self.lanes and not self.curves
