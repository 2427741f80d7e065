"""A simulated machine as a Redfish service has it: its knobs as attributes, and what a start makes of them."""

from collections.abc import Mapping

from tenaz.benches.simulated.stations import SimulatedFirmware
from tenaz.core.base.loop import Move
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.rigs.door_map import Mapped, values_here, values_there
from tenaz.core.rigs.offers import Kind, Offer, Raw
from tenaz.core.rigs.rig import Rig

AUTO_WORD = "Auto"
UP = (Move.CAME_UP, Move.CAME_UP_RETRAINED)


def attribute_of(knob: Knob) -> str:
    """How its firmware calls a knob."""
    return "".join(part.capitalize() for part in knob.name.split("_"))


def own_map(rig: Rig) -> tuple[Mapped, ...]:
    """All knobs of a simulated rig, as its firmware has them."""
    return tuple(
        Mapped(
            knob.name,
            attribute_of(knob),
            words=tuple((value, str(value)) for value in knob.grid.values()) if knob.may_be_auto else (),
            auto=AUTO_WORD if knob.may_be_auto else "",
        )
        for knob in rig.knobs
    )


class SimulatedBehindADoor:
    """A :class:`tenaz.doors.redfish.stand_in.state.Machine`."""

    def __init__(self, rig: Rig, firmware: SimulatedFirmware) -> None:
        self._rig, self._firmware = rig, firmware
        self._map = own_map(rig)

    def offers(self) -> tuple[Offer, ...]:
        """Each knob, with what is in force."""
        stands = self._there(self._firmware.stands())
        return tuple(self._offer(knob, stands.get(attribute_of(knob))) for knob in self._rig.knobs)

    def _offer(self, knob: Knob, current: Raw | None) -> Offer:
        name = attribute_of(knob)
        if knob.may_be_auto:
            choices = (AUTO_WORD, *map(str, knob.grid.values()))
            return Offer(name, knob.label, Kind.CHOICE, current, choices=choices)
        return Offer(name, knob.label, Kind.NUMBER, current, knob.grid.first, knob.grid.last, knob.grid.step or 1)

    def _there(self, setpoint: Setpoint) -> dict[str, Raw]:
        knobs = [knob.name for knob in self._rig.knobs if isinstance(setpoint[knob.name], int) or knob.may_be_auto]
        return values_there(self._map, setpoint, knobs)

    def defaults(self) -> Mapping[str, Raw]:
        """What it came with."""
        return self._there(self._rig.stock)

    def start(self, values: Mapping[str, Raw]) -> bool:
        """Start with these."""
        told = values_here(self._map, values)
        self._firmware.take(Setpoint.of({**dict(self._rig.stock.items()), **told}))
        return self._firmware.boot().move in UP
