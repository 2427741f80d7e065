"""What sensors tell of heat and supply, out of what is kept with each trial's record."""

from collections.abc import Sequence

from tenaz.core.sensors.names import of_graphics
from tenaz.core.sensors.telemetry import Guards, SensorKind, guards
from tenaz.core.trials.facts import TOLD, SensorFact
from tenaz.finding.sightings import Sensed

ROOM_C = 22.0
"""Where nobody measured it."""
RAIL_V = (10.5, 13.5)
"""The rail that a supply feeds everything from."""
LEAST_W = 8.0
"""Below that a temperature over the power tells nothing."""


def sensed_of(facts: Sequence[SensorFact], room_c: float | None = None) -> Sensed:
    """The same, of one load."""
    heat = max((one.peak for one in facts if is_processor(one)), default=None)
    own = [one for one in facts if not of_graphics(one.id) and not one.id.startswith(TOLD)]
    power = next((one.mean for one in own if one.kind is SensorKind.POWER), None)
    rail = next(
        (one.mean for one in facts if one.kind is SensorKind.VOLTAGE and RAIL_V[0] < one.mean < RAIL_V[1]), None
    )
    held_back = any(one.peak > one.mean for one in facts if one.kind is SensorKind.THROTTLES)
    known = heat is not None and power is not None and power > LEAST_W
    over = (heat or 0.0) - (ROOM_C if room_c is None else room_c)
    fan = any(one.kind is SensorKind.FAN for one in own)
    return Sensed(over / (power or 1.0) if known else None, rail, power, held_back, fan)


def is_processor(one: SensorFact) -> bool:
    """Whether it is the processor's temperature."""
    return guards(one) is Guards.PROCESSOR
