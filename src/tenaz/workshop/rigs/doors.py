"""A rig's own door, looked at while nothing runs: what it offers, and a map of it that somebody confirms."""

from collections.abc import Sequence
from contextlib import closing
from dataclasses import replace

from tenaz.core.base.errors import Refused
from tenaz.core.rigs.door_map import Mapped, check_map
from tenaz.core.rigs.offers import Offer
from tenaz.core.rigs.rig import Rig
from tenaz.doors.opening import STAND_IN, door_text, open_door
from tenaz.workshop.bench.at_work import AtWork


def offers_of(at: AtWork, typed: str = "") -> tuple[str, tuple[Offer, ...]]:
    """The door's text, and what it offers; ``typed`` names another than the rig's form.

    Raises:
        Refused: there is none, or it does not answer.
    """
    told = door_text(typed or at.rig.door or _none(at.rig))
    if told.address == STAND_IN:
        return told.text, _simulated(at)
    with closing(open_door(told)) as door:
        return told.text, door.offers()


def _none(rig: Rig) -> str:
    raise Refused(f"{rig.name} has no door: say in its form which (its own door), or with --door.")


def _simulated(at: AtWork) -> tuple[Offer, ...]:
    """What the service in front of a simulated machine offers."""
    from tenaz.benches.simulated.behind_a_door import SimulatedBehindADoor  # noqa: PLC0415 - only such rigs
    from tenaz.benches.simulated.bench import simulated_bench  # noqa: PLC0415 - the same
    from tenaz.benches.simulated.stations import SimulatedFirmware  # noqa: PLC0415 - the same
    from tenaz.workshop.bench.machines import machine_of  # noqa: PLC0415 - the same

    bench = simulated_bench(at.rig, machine_of(at.store, at.rig, at.clock.utc(), at.in_force()))
    assert isinstance(bench.setting, SimulatedFirmware)
    return SimulatedBehindADoor(at.rig, bench.setting).offers()


def confirmed(at: AtWork, typed: str, mapped: Sequence[Mapped]) -> Rig:
    """The rig with this map of its door.

    Raises:
        Refused: something of it does not fit what the door offers now.
    """
    text, offers = offers_of(at, typed)
    wrong = check_map(mapped, offers)
    if wrong:
        raise Refused(f"The map does not fit {text}: {'; '.join(wrong[:5])}.")
    return replace(at.rig, door=text, door_map=tuple(mapped))
