"""The Rig picture: the machine as one sees it with the side panel off; what is unknown looks unknown."""

from tenaz.core.machine.intake import Weight, look_over
from tenaz.core.machine.machine import Machine, show_gib
from tenaz.core.machine.profiles import profile_in_words, profiles_of
from tenaz.core.rigs.door_map import without_login
from tenaz.core.rigs.rig import Rig
from tenaz.finding.symptoms import left_open
from tenaz.pictures.drawing.cells import Cells, wrapped
from tenaz.pictures.drawing.marks import Role
from tenaz.pictures.rig.board import LABEL, UNKNOWN, draw_cores, draw_slots

SAID_ONLY = ("graphics", "owner", "complaint", "by eye", "guarantee", "reached", "its door")
"""Facts that are left out when they are not known; of all others it is shown that they are not."""

NOT_UNDERSTOOD = "of the complaint this was not understood (r›s ticks what was noticed)"
WEIGHT_ROLE = {Weight.FAULT: Role.FAILED, Weight.OFF_STOCK: Role.LIT, Weight.NOTE: Role.TEXT}


def draw_rig(rig: Rig, width: int, height: int, skip: int = 0) -> Cells:
    """Draw who it is, its cores, its slots, and what was pointed out, from line ``skip`` of that on."""
    cells = Cells(width, height)
    row = _about(cells, rig)
    row = draw_cores(cells, rig, row + 1)
    row = draw_slots(cells, rig, row + 1)
    lines = pointed_out(rig, width)
    room = height - row - 1
    if len(lines) > room > 0:
        skip = max(0, min(skip, len(lines) - room + 1))
        above, below = skip, len(lines) - skip - (room - 1)
        lines = lines[skip : skip + room - 1]
        more = [f"{count} more {where}" for count, where in ((above, "above"), (below, "below")) if count]
        lines.append((0, f"↑ ↓ {', '.join(more)}", Role.FAINT))
    for number, (indent, text, role) in enumerate(lines):
        cells.put(indent, row + 1 + number, text, role)
    return cells


def _about(cells: Cells, rig: Rig) -> int:
    machine = rig.machine or Machine()
    parts = dict(rig.parts)
    graphics = ", ".join(f"{one.slot} {one.vendor_id:04x}:{one.device_id:04x}" for one in machine.graphics)
    facts = [
        ("processor", rig.processor),
        ("board", machine.board or parts.get("board", "")),
        ("firmware", f"{machine.firmware}, {machine.boot_mode} boot" if machine.firmware else ""),
        ("memory", show_gib(rig.memory_bytes) if rig.memory_bytes else ""),
        ("graphics", graphics or parts.get("graphics", "")),
        ("for", rig.purpose.name),
        ("owner", rig.owner),
        ("complaint", rig.complaint),
        ("by eye", rig.by_eye),
        ("guarantee", f"{rig.guarantee_months} months" if rig.guarantee_months else ""),
        ("reached", f"across a wire: {rig.wire}" if rig.wire else ""),
        ("its door", _door(rig)),
    ]
    cells.put(0, 0, rig.name, Role.LIT)
    cells.put_right(cells.width, 0, "p›f: is anything wrong with it?", Role.FAINT)
    row = 1
    for what, text in facts:
        if text or what not in SAID_ONLY:
            cells.put(0, row, what, Role.FAINT)
            for line in wrapped(text or UNKNOWN, max(1, cells.width - LABEL)):
                cells.put(LABEL, row, line, Role.TEXT if text else Role.UNKNOWN)
                row += 1
    return row


def _door(rig: Rig) -> str:
    """Through what it is set without hands."""
    if not rig.door:
        return ""
    mapped = f"{len(rig.door_map)} knobs" if rig.door_map else "tenaz set probe says what it offers"
    where = without_login(rig.door)
    return f"{where}: {'all knobs' if where.endswith('stand-in') and not rig.door_map else mapped}"


def stored_in_words(machine: Machine) -> str:
    """What the modules store, and which of it is in force; empty where nothing of it was read."""
    profiles = profiles_of(machine)
    dies = ", ".join(dict.fromkeys(spd.dies for spd in machine.spds if spd.dies))
    told = [profile_in_words(machine), f"modules of {dies}" if dies else ""]
    more = f"; @ dials {profiles[0].name}" if profiles else ""
    return f"{'; '.join(filter(None, told))}{more}" if profiles or dies else ""


def pointed_out(rig: Rig, width: int) -> list[tuple[int, str, Role]]:
    """Lines (indent, text, role) about what is off stock, what does not add up, and what could not be read."""
    words = left_open(rig)
    asked = [(0, line, Role.LIT) for line in wrapped(f"{NOT_UNDERSTOOD}: {', '.join(words)}", width)] if words else []
    return [*asked, *_of_machine(rig, width)]


def _of_machine(rig: Rig, width: int) -> list[tuple[int, str, Role]]:
    if rig.machine is None:
        text = "nothing was read of it yet: r›i fills in this machine; tenaz probe --save there brings another"
        return [(0, line, Role.FAINT) for line in wrapped(text, width)]
    lines = [(0, line, Role.TEXT) for line in wrapped(stored_in_words(rig.machine), width)]
    for finding in look_over(rig.machine):
        words = wrapped(f"{finding.weight}: {finding.text}", width)
        lines += [(0, line, WEIGHT_ROLE[finding.weight]) for line in words]
        lines += [(4, line, Role.FAINT) for line in wrapped(finding.reason, width - 4)]
    for unread in rig.machine.unread:
        lines += [(0, line, Role.FAINT) for line in wrapped(f"not read: {unread.show()}", width)]
    return lines
