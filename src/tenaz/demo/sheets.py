"""Timing sheets of the demo's rigs: the standards' base values, completed the way a board leaves the works."""

from tenaz.catalogues.reading import built_in, knobs_of
from tenaz.core.clock_tree import Platform
from tenaz.core.setpoints import AUTO, Setpoint, Value


def standard_sheet(catalogue: str, **different: Value) -> Setpoint:
    """Every knob of a catalogue at its standard's value, but for those that are ``different`` on this rig."""
    values = {knob.name: knob.default if knob.default is not None else AUTO for knob in knobs_of(catalogue)}
    return Setpoint.of({**values, **different})


def demo_platform(catalogue: str) -> Platform | None:
    """The clocks of a catalogue's platform."""
    platform = built_in(catalogue).platform
    return platform.platform() if platform else None
