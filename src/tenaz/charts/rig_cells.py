"""The Rig picture: the machine as one sees it with the side panel off; what is unknown looks unknown."""

from tenaz.charts.cells import Cells, wrapped
from tenaz.charts.marks import Role
from tenaz.core.intake import Weight, look_over
from tenaz.core.machine import Machine, MemoryModule, show_gib
from tenaz.core.rigs import Rig

SLOT_WIDTH = 34
TILE_WIDTH = 6
UNKNOWN = "?"


def draw_rig(rig: Rig, width: int, height: int) -> Cells:
    """Draw who it is, its cores as tiles, its slots, and what was pointed out."""
    cells = Cells(width, height)
    row = _about(cells, rig)
    row = _cores(cells, rig, row + 1, width)
    row = _slots(cells, rig, row + 1, width)
    _findings(cells, rig, row + 1)
    return cells


def _about(cells: Cells, rig: Rig) -> int:
    machine = rig.machine or Machine()
    parts = dict(rig.parts)
    facts = [
        ("processor", rig.processor),
        ("board", machine.board or parts.get("board", "")),
        ("firmware", f"{machine.firmware}, {machine.boot_mode} boot" if machine.firmware else ""),
        ("memory", show_gib(rig.memory_bytes) if rig.memory_bytes else ""),
        ("for", rig.purpose.name),
        ("owner", rig.owner),
        ("complaint", rig.complaint),
        ("by eye", rig.by_eye),
    ]
    cells.put(0, 0, rig.name, Role.LIT)
    row = 1
    for what, text in facts:
        if not text and what in ("owner", "complaint", "by eye"):
            continue
        row += 1
        cells.put(0, row, what, Role.FAINT)
        cells.put(12, row, text or UNKNOWN, Role.TEXT if text else Role.UNKNOWN)
    return row + 1


def _cores(cells: Cells, rig: Rig, row: int, width: int) -> int:
    """A tile a core, by the system's numbers where they are known."""
    cores = rig.machine.cores if rig.machine else ()
    names = [str(core.core) for core in cores] or [UNKNOWN] * (rig.cores or 0)
    threads = sum(len(core.threads) for core in cores)
    heading = f"{len(names) or UNKNOWN} cores" + (f", {threads} threads" if threads else "")
    cells.put(0, row, heading, Role.TEXT if names else Role.UNKNOWN)
    across = max(1, width // TILE_WIDTH)
    for number, name in enumerate(names):
        column, line = number % across * TILE_WIDTH, row + 1 + number // across
        cells.put(column, line, f"[{name:>2} ]", Role.MEASURED if name != UNKNOWN else Role.UNKNOWN)
    return row + 1 + (len(names) + across - 1) // across


def _slots(cells: Cells, rig: Rig, row: int, width: int) -> int:
    """A box a slot: module, ranks, what it is rated for and what it runs at."""
    modules = rig.machine.modules if rig.machine else ()
    if not modules:
        known = dict(rig.parts).get("memory", "")
        cells.put(0, row, "slots", Role.TEXT)
        cells.put(12, row, f"{known or UNKNOWN} (which slot holds what is not known)", Role.UNKNOWN)
        return row + 1
    across = max(1, width // SLOT_WIDTH)
    for number, module in enumerate(modules):
        _slot(cells, module, number % across * SLOT_WIDTH, row + number // across * 4)
    return row + (len(modules) + across - 1) // across * 4


def _slot(cells: Cells, module: MemoryModule, left: int, top: int) -> None:
    inner = SLOT_WIDTH - 4
    edge = Role.TEXT if module.fitted else Role.FRAME
    cells.put(left, top, "┌" + f" {module.slot or UNKNOWN} ".ljust(inner, "─") + "┐", edge)
    for line in (1, 2):
        cells.put(left, top + line, "│", edge)
        cells.put(left + inner + 1, top + line, "│", edge)
    cells.put(left, top + 3, "└" + "─" * inner + "┘", edge)
    if not module.fitted:
        cells.put(left + 2, top + 1, "empty" if module.size_bytes == 0 else UNKNOWN, Role.UNKNOWN)
        return
    size = f"{(module.size_bytes or 0) / 2**30:.0f} GiB {module.kind}"
    cells.put(left + 2, top + 1, f"{size} {module.part}"[: inner - 2], Role.TEXT)
    ranks = f", {module.ranks} rank{'s' if module.ranks != 1 else ''}" if module.ranks else ""
    rates = f"{module.present_mts or UNKNOWN} of {module.rated_mts or UNKNOWN} MT/s{ranks}"
    slow = module.present_mts is not None and module.rated_mts is not None and module.present_mts < module.rated_mts
    cells.put(left + 2, top + 2, rates, Role.LIT if slow else Role.MEASURED)


def _findings(cells: Cells, rig: Rig, row: int) -> None:
    if rig.machine is None:
        cells.put(0, row, "nothing was read of it yet: tenaz probe --save there, tenaz rig --from here", Role.FAINT)
        return
    for finding in look_over(rig.machine):
        role = {Weight.FAULT: Role.FAILED, Weight.OFF_STOCK: Role.LIT, Weight.NOTE: Role.TEXT}[finding.weight]
        for line in wrapped(f"{finding.weight}: {finding.text}", cells.width):
            cells.put(0, row, line, role)
            row += 1
        for line in wrapped(finding.reason, cells.width - 4):
            cells.put(4, row, line, Role.FAINT)
            row += 1
    for unread in rig.machine.unread:
        cells.put(0, row, f"not read: {unread.show()}", Role.FAINT)
        row += 1
