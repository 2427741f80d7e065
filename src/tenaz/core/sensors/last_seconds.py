"""The last seconds before a machine went, as they were heard over the wire many times a second; and what they tell."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from statistics import median

from tenaz.core.sensors.telemetry import Sensor

KEPT_S = 20.0
"""So much is kept of what came before the silence."""

SILENT_CORE_S, HEARD_CORE_S = 0.8, 0.5
"""A core whose worker said nothing for so long at the end stood still, where all others spoke more recently."""

FELL_TO = 0.5
"""A core at less than so much of its own usual clock or rate at the end had fallen."""


@dataclass(frozen=True, slots=True)
class CoreMoment:
    """What a core's worker told last: its clock in MHz (0: not measured), its rate in the load's unit, its errors, and
    how many seconds ago it last told anything new.
    """

    core: int
    clock_mhz: float
    rate: float
    errors: int
    since_s: float = 0.0


@dataclass(frozen=True, slots=True)
class Moment:
    """One moment of a machine under strain, in seconds of its load: its sensors, and its cores."""

    at_s: float
    values: tuple[float | None, ...]
    cores: tuple[CoreMoment, ...] = ()


@dataclass(frozen=True, slots=True)
class LastSeconds:
    """Sensors, and moments in their order; the last is the last that came over."""

    sensors: tuple[Sensor, ...]
    moments: tuple[Moment, ...]

    @property
    def end_s(self) -> float:
        """The load time of the last sign of life."""
        return self.moments[-1].at_s if self.moments else 0.0

    def shortened(self) -> "LastSeconds":
        """Without what lies too long before the end."""
        return replace(self, moments=tuple(one for one in self.moments if one.at_s > self.end_s - KEPT_S))


def core_that_tells(last: LastSeconds) -> str:
    """Which one core the last seconds speak of, and why, in words; empty where they speak of none, or of several."""
    if not last.moments:
        return ""
    cores = last.moments[-1].cores
    if len(cores) < 2:
        return ""
    for found in (_with_errors(cores), _standing_still(cores), _fallen(last, cores)):
        if len(found) == 1:
            return found[0]
    return ""


def _with_errors(cores: Sequence[CoreMoment]) -> list[str]:
    return [
        f"core {one.core} had {one.errors} error{'s' if one.errors != 1 else ''}, no other had any"
        for one in cores
        if one.errors
    ]


def _standing_still(cores: Sequence[CoreMoment]) -> list[str]:
    still = [one for one in cores if one.since_s >= SILENT_CORE_S]
    others = [one for one in cores if one not in still]
    if not others or max(one.since_s for one in others) > HEARD_CORE_S:
        return []
    return [f"core {one.core} stood still for its last {one.since_s:.1f} s while all others worked" for one in still]


def _fallen(last: LastSeconds, cores: Sequence[CoreMoment]) -> list[str]:
    """Those whose rate or clock at the end was far below what they had, where no other's was."""
    found = []
    for one in cores:
        own = [other for moment in last.moments[:-1] for other in moment.cores if other.core == one.core]
        for what, unit, now, usual in (
            ("clock", " MHz", one.clock_mhz, median([other.clock_mhz for other in own] or [0.0])),
            ("rate", "", one.rate, median([other.rate for other in own] or [0.0])),
        ):
            if usual > 0 and now < FELL_TO * usual:
                found.append(f"core {one.core}'s {what} had fallen to {now:.0f}{unit} from {usual:.0f}{unit}")
                break
    return found
