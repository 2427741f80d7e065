"""A rig and its sheet beside what was read of the machine: its parts, and every knob."""

from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.readings import Reading, Source, reading_of, show_seen
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.machine.intake import present_values
from tenaz.core.machine.machine import Machine, show_gib
from tenaz.core.rigs.rig import Rig

SAME_MEMORY = 0.05
"""Memory seen may be this much less than fitted: firmware and graphics keep some for themselves."""


def compared(rig: Rig, setpoint: Setpoint, machine: Machine) -> tuple[Reading, ...]:
    """Its parts where they are known, and every knob: what can be read is read."""
    present, registers = present_values(machine), {one.knob for one in machine.registers}
    knobs = (
        reading_of(
            knob,
            setpoint[knob.name],
            _as_it_came(rig, knob, present.get(knob.name)),
            Source.REGISTER if knob.name in registers else Source.READ,
        )
        for knob in rig.knobs
    )
    return (*_parts(rig, machine), *knobs)


def _as_it_came(rig: Rig, knob: Knob, read: int | None) -> int | None:
    """What was read; where that is as when the rig was taken in, and was brought onto its grid then, what became of
    it there.
    """
    stock, machine = rig.stock[knob.name], rig.machine
    if read is None or read in knob.grid or machine is None or read != present_values(machine).get(knob.name):
        return read
    return stock if isinstance(stock, int) and stock in knob.grid.nearest(read) else read


def _parts(rig: Rig, machine: Machine) -> tuple[Reading, ...]:
    found = list[tuple[str, str, str | None]]()
    if rig.processor:
        found.append(("processor", rig.processor, machine.processor or None))
    if rig.cores:
        found.append(("cores", str(rig.cores), str(len(machine.cores)) if machine.cores else None))
    if rig.memory_bytes:
        asked, seen = rig.memory_bytes, machine.memory_bytes
        same = seen is None or abs(seen - asked) <= SAME_MEMORY * asked
        read = show_gib(asked) if same or seen is None else show_seen(show_gib(seen), _unseen(rig, machine))
        found.append(("memory", show_gib(asked), read))
    return tuple(
        Reading(name, asked, read, source=Source.ASSUMED if read is None else Source.READ)
        for name, asked, read in found
    )


def _unseen(rig: Rig, machine: Machine) -> tuple[str, ...]:
    """Slots that should hold a module, and hold none by what the firmware tells."""
    known = rig.machine.modules if rig.machine else ()
    seen = {one.slot for one in machine.modules if one.fitted}
    return tuple(one.slot for one in known if one.fitted and one.slot not in seen) if seen else ()
