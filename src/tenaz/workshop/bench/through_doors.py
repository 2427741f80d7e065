"""A bench whose rig has a door of its own: set through it, read back through it too."""

from collections.abc import Callable
from dataclasses import replace

from tenaz.benches.by_door import LOOKED_AT_S, ByDoor, ReadByDoor, Wait
from tenaz.core.ports.bench import Bench
from tenaz.core.ports.door import Door
from tenaz.core.rigs.rig import Rig
from tenaz.doors.holding import hold_door
from tenaz.doors.opening import door_text, open_door


def stood_in(bench: Bench, rig: Rig) -> Bench:
    """A simulated rig set through a Redfish service of our own, on loopback: all of it but the machine is real."""
    from tenaz.benches.simulated.behind_a_door import SimulatedBehindADoor, own_map  # noqa: PLC0415 - only such rigs
    from tenaz.benches.simulated.stations import SimulatedFirmware  # noqa: PLC0415 - the same
    from tenaz.doors.redfish.door import RedfishDoor  # noqa: PLC0415 - the same
    from tenaz.doors.redfish.service import Service  # noqa: PLC0415 - the same
    from tenaz.doors.redfish.stand_in.server import StandIn  # noqa: PLC0415 - the same

    assert isinstance(bench.setting, SimulatedFirmware)
    service = StandIn(SimulatedBehindADoor(rig, bench.setting))
    door = RedfishDoor(Service(service.address, service.user, service.password))
    reached = through(bench, replace(rig, door_map=rig.door_map or own_map(rig)), door, looked_at_s=0.0)
    before = reached.leave

    def leave() -> None:
        before()
        service.close()

    return replace(reached, leave=leave)


def across(bench: Bench, rig: Rig) -> Bench:
    """A rig across a wire, set through its own door: its controller's, or its kernel's.

    Raises:
        Refused: the door cannot be opened, or another Tenaz has it.
    """
    from tenaz.benches.wire.stations import AcrossTheWire  # noqa: PLC0415 - only such rigs

    stations = bench.setting
    assert isinstance(stations, AcrossTheWire)
    told = door_text(rig.door)
    door = stations.kernel_door() if told.kind == "kernel" else open_door(told)
    return through(bench, rig, door, stations.boot, stations.expect_restart)


def through(
    bench: Bench,
    rig: Rig,
    door: Door,
    wait: Wait | None = None,
    expects: Callable[[], None] = lambda: None,
    looked_at_s: float = LOOKED_AT_S,
) -> Bench:
    """The bench, set through the door; what no door reaches is set as before.

    Raises:
        Refused: another Tenaz sets through that door now.
    """
    attended = bench.technician is not None
    setting = ByDoor(rig, door, bench.setting, attended, wait, expects, looked_at_s)
    before = bench.leave

    held = hold_door(door.text)

    def leave() -> None:
        door.close()
        held.release()
        before()

    return replace(
        bench,
        setting=setting,
        reading=ReadByDoor(rig, door, bench.reading),
        leave=leave,
        hands_free=not rig.needs_hands(bench.kind),
    )
