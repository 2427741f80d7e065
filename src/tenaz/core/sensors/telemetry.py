"""Sensors, samples, what a sensor's behaviour says about itself, and ceilings that stop a run."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Protocol

from tenaz.core.rigs.rig import Purpose


class SensorKind(StrEnum):
    """What a sensor measures."""

    TEMPERATURE = "temperature"
    FAN = "fan"
    VOLTAGE = "voltage"
    POWER = "power"
    CURRENT = "current"
    CLOCK = "clock"
    THROTTLES = "throttles"
    HARDWARE_ERRORS = "hardware errors"

    @property
    def unit(self) -> str:
        """Unit of its values; counters have none."""
        return _UNITS[self]

    @property
    def plausible(self) -> tuple[float, float]:
        """Values outside make no sense on any machine on a bench."""
        return _PLAUSIBLE[self]

    @property
    def counts(self) -> bool:
        """Whether it counts events instead of measuring something."""
        return self in (SensorKind.THROTTLES, SensorKind.HARDWARE_ERRORS)


_UNITS = {
    SensorKind.TEMPERATURE: "°C",
    SensorKind.FAN: "rpm",
    SensorKind.VOLTAGE: "V",
    SensorKind.POWER: "W",
    SensorKind.CURRENT: "A",
    SensorKind.CLOCK: "MHz",
    SensorKind.THROTTLES: "",
    SensorKind.HARDWARE_ERRORS: "",
}
_PLAUSIBLE = {
    SensorKind.TEMPERATURE: (-40.0, 150.0),
    SensorKind.FAN: (0.0, 40_000.0),
    SensorKind.VOLTAGE: (-20.0, 60.0),
    SensorKind.POWER: (0.0, 5_000.0),
    SensorKind.CURRENT: (-500.0, 500.0),
    SensorKind.CLOCK: (1.0, 20_000.0),
    SensorKind.THROTTLES: (0.0, 1e15),
    SensorKind.HARDWARE_ERRORS: (0.0, 1e15),
}


class Guards(StrEnum):
    """The part whose temperature a sensor tells, so that it can guard it."""

    NOTHING = "nothing"
    PROCESSOR = "processor"
    MODULE = "module"
    GRAPHICS = "graphics"
    BOARD = "board"


@dataclass(frozen=True, slots=True)
class Sensor:
    """One sensor: an id that stays the same over restarts, the label it gives itself, what it measures, and what its
    temperature guards (None: it does not say).
    """

    id: str
    label: str
    kind: SensorKind
    guards: Guards | None = None


@dataclass(frozen=True, slots=True)
class Sample:
    """All sensors at one moment of a monotonic clock, in the order of the sensors; None: it gave nothing. ``took_s`` is
    how long their answers took from then on.
    """

    at_s: float
    values: tuple[float | None, ...]
    took_s: float = 0.0


class Health(StrEnum):
    """What a sensor's readings say about the sensor."""

    FINE = "fine"
    DEAD = "gives nothing"
    NONSENSE = "reads nonsense"
    STUCK = "has not moved"


DEAD_AFTER_SAMPLES = 3
STUCK_AFTER_SAMPLES = 120
"""A temperature or a power under load that does not move at all for so many samples is not being measured."""

MOVES_UNDER_LOAD = (SensorKind.TEMPERATURE, SensorKind.POWER)


@dataclass(slots=True)
class Record:
    """What one sensor has read so far: lowest, mean, highest, and whether it can be believed."""

    sensor: Sensor
    count: int = 0
    lowest: float = float("inf")
    highest: float = float("-inf")
    total: float = 0.0
    last: float | None = None
    unmoved: int = 0
    bad: int = 0
    bad_as: Health = Health.FINE

    def see(self, value: float | None) -> Health:
        """Take a reading; gives the sensor's health after it. Unbelievable readings do not count."""
        low, high = self.sensor.kind.plausible
        if value is None or value != value or not low <= value <= high:  # noqa: PLR0124 - NaN is unequal to itself
            self.bad += 1
            self.bad_as = Health.DEAD if value is None else Health.NONSENSE
            return self.health
        self.bad = 0
        self.unmoved = self.unmoved + 1 if value == self.last else 0
        self.last = value
        self.count += 1
        self.total += value
        self.lowest, self.highest = min(self.lowest, value), max(self.highest, value)
        return self.health

    @property
    def health(self) -> Health:
        """What is to be thought of it now."""
        if self.bad >= DEAD_AFTER_SAMPLES:
            return self.bad_as
        if self.unmoved >= STUCK_AFTER_SAMPLES and self.sensor.kind in MOVES_UNDER_LOAD:
            return Health.STUCK
        return Health.FINE

    @property
    def mean(self) -> float | None:
        """Mean of what was believed."""
        return self.total / self.count if self.count else None


@dataclass(frozen=True, slots=True)
class Ceiling:
    """Limits for one sensor in its unit: from ``warning`` on it is said, from ``stop`` on the run stops. ``instead``:
    it stands in for one that is not to be had; what reads too warm before anything ran is then no guard at all.
    """

    sensor_id: str
    warning: float
    stop: float
    instead: bool = False


OLDER_CHIPS = {"spd5118": Guards.MODULE, "jc42": Guards.MODULE, "coretemp": Guards.PROCESSOR,
               "k10temp": Guards.PROCESSOR, "cpu_thermal": Guards.PROCESSOR, "sim": Guards.PROCESSOR}  # fmt: skip
"""What sensors guard that were kept before they said so themselves."""


class Told(Protocol):
    """A sensor, or what is kept of one."""

    @property
    def id(self) -> str:
        """See :class:`Sensor`."""
        ...

    @property
    def kind(self) -> SensorKind:
        """What it measures."""
        ...

    @property
    def guards(self) -> Guards | None:
        """What it says itself."""
        ...


def guards(sensor: Told) -> Guards:
    """What a sensor guards."""
    if sensor.kind is not SensorKind.TEMPERATURE or sensor.guards is not None:
        return sensor.guards or Guards.NOTHING
    return OLDER_CHIPS.get(sensor.id.split("/")[0].split(".")[0], Guards.NOTHING)


def ceilings_for(sensors: Sequence[Sensor], purpose: Purpose) -> tuple[Ceiling, ...]:
    """Ceilings for the temperatures of processor, memory modules and graphics; where the processor has no sensor, for
    those of the board.
    """
    own = any(guards(sensor) is Guards.PROCESSOR for sensor in sensors)
    ceilings = []
    for sensor in sensors:
        part = guards(sensor)
        if part is Guards.MODULE:
            ceilings.append(Ceiling(sensor.id, *purpose.module_ceiling_c))
        elif part is Guards.GRAPHICS:
            ceilings.append(Ceiling(sensor.id, *purpose.graphics_ceiling_c))
        elif part is Guards.PROCESSOR or (part is Guards.BOARD and not own):
            ceilings.append(Ceiling(sensor.id, *purpose.processor_ceiling_c, instead=part is Guards.BOARD))
    return tuple(ceilings)


REMEDY = "load the driver of the processor's sensor (as root: modprobe coretemp, or modprobe k10temp), or stay with it"


def unwatched(sensors: Sequence[Sensor]) -> str:
    """What nobody watches, in words, with the remedy; empty where the processor's temperature is watched."""
    parts = {guards(sensor) for sensor in sensors}
    if Guards.PROCESSOR in parts:
        return ""
    if Guards.BOARD in parts:
        return f"the processor's own temperature is not watched here, only the board's: {REMEDY}"
    modules = " but the modules'" if Guards.MODULE in parts else ""
    return f"no temperature{modules} is watched here: {REMEDY}"


def is_watched(sensor: Sensor, chosen: Sequence[str]) -> bool:
    """Whether a sensor is among the chosen, by parts of their names; when none are chosen, all are."""
    return not chosen or any(part.lower() in sensor.label.lower() for part in chosen)
