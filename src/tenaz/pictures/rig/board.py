"""The board's part of the Rig picture: cores as tiles by the caches they share, slots by channel."""

from tenaz.core.machine.machine import Cache, CacheKind, Core, Machine, MemoryModule, show_bytes
from tenaz.core.rigs.rig import Rig
from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.marks import Role

UNKNOWN = "?"
LABEL = 12
TILE_WIDTH = 5
SLOT_WIDTH = 35
SLOT_ROWS = 3
RANK = "▮"


def draw_cores(cells: Cells, rig: Rig, row: int) -> int:
    """A tile a core, one line for cores that share their last cache; gives the next free row."""
    machine = rig.machine or Machine()
    cores = machine.cores
    threads = sum(len(core.threads) for core in cores)
    count = len(cores) or rig.cores
    heading = f"{count or UNKNOWN} cores" + (f", {threads} threads" if threads else "")
    cells.put(0, row, heading, Role.TEXT if count else Role.UNKNOWN)
    own = [cache for cache in machine.caches if cores and _own(cache, cores[0])]
    cells.put(len(heading) + 3, row, "   ".join(f"{c.name} {show_bytes(c.size_bytes)}" for c in own), Role.FAINT)
    for label, names in _blocks(machine) or [("", [UNKNOWN] * rig.cores_known)]:
        row += 1
        cells.put(0, row, label, Role.FAINT)
        across = max(1, (cells.width - LABEL) // TILE_WIDTH)
        for number, name in enumerate(names):
            role = Role.MEASURED if name != UNKNOWN else Role.UNKNOWN
            cells.put(LABEL + number % across * TILE_WIDTH, row + number // across, f"[{name:>2}]", role)
        row += max(0, (len(names) - 1) // across)
    return row + 1


def _own(cache: Cache, core: Core) -> bool:
    """Whether a cache serves this core alone and holds data."""
    return cache.kind is not CacheKind.INSTRUCTION and set(cache.threads) <= set(core.threads)


def _blocks(machine: Machine) -> list[tuple[str, list[str]]]:
    """Cores that belong together, with what they share: a last cache, else a package."""
    shared = [cache for cache in machine.caches if not any(_own(cache, core) for core in machine.cores)]
    last = max((cache.level for cache in shared if cache.kind is not CacheKind.INSTRUCTION), default=0)
    blocks: dict[tuple[str, tuple[int, ...]], list[str]] = {}
    packages = len({core.package for core in machine.cores})
    for core in machine.cores:
        over = next((c for c in shared if c.level == last and set(core.threads) <= set(c.threads)), None)
        label = f"{over.name} {show_bytes(over.size_bytes)}" if over else f"package {core.package}" * (packages > 1)
        blocks.setdefault((label, over.threads if over else (core.package,)), []).append(str(core.core))
    return [(label, names) for (label, _), names in blocks.items()]


def draw_slots(cells: Cells, rig: Rig, row: int) -> int:
    """A line of boxes a channel, a box a slot; gives the next free row."""
    modules = rig.machine.modules if rig.machine else ()
    if not modules:
        known = dict(rig.parts).get("memory", "")
        cells.put(0, row, "slots", Role.TEXT)
        cells.put(LABEL, row, f"{known or UNKNOWN} (which slot holds what is not known)", Role.UNKNOWN)
        return row + 1
    channels: dict[str, list[MemoryModule]] = {}
    for module in modules:
        channels.setdefault(module.channel, []).append(module)
    across = max(1, (cells.width - LABEL) // SLOT_WIDTH)
    for channel in sorted(channels, key=lambda name: (name == "", name)):
        fitted = any(module.fitted for module in channels[channel])
        role = Role.TEXT if fitted else Role.FAINT
        cells.put(0, row + 1, f"channel {channel or UNKNOWN}", role if channel else Role.UNKNOWN)
        for number, module in enumerate(channels[channel]):
            _slot(cells, module, LABEL + number % across * SLOT_WIDTH, row + number // across * SLOT_ROWS)
        row += (len(channels[channel]) + across - 1) // across * SLOT_ROWS
    return row


def _slot(cells: Cells, module: MemoryModule, left: int, top: int) -> None:
    """A box: slot and module above, ranks as bars, the rate that runs and the rated one; its serial below."""
    inner = SLOT_WIDTH - 3
    edge = Role.TEXT if module.fitted else Role.FRAME
    size = f"{(module.size_bytes or 0) / 2**30:.0f} GiB {module.kind} {module.part}" if module.fitted else ""
    heading = f" {module.slot or UNKNOWN} " + (f"─ {size.strip()} " if size else "")
    cells.put(left, top, "┌" + heading[:inner].ljust(inner, "─") + "┐", edge)
    cells.put(left, top + 1, "│", edge)
    cells.put(left + inner + 1, top + 1, "│", edge)
    serial = f"─ {module.serial[: inner - 4]} " if module.fitted and module.serial else ""
    cells.put(left, top + 2, "└" + serial.ljust(inner, "─") + "┘", edge)
    if not module.fitted:
        cells.put(left + 2, top + 1, "empty" if module.size_bytes == 0 else UNKNOWN, Role.UNKNOWN)
        return
    ranks = f"{RANK * module.ranks} {module.ranks} rank{'s' if module.ranks != 1 else ''}" if module.ranks else ""
    cells.put(left + 2, top + 1, ranks or f"{UNKNOWN} ranks", Role.MEASURED if ranks else Role.UNKNOWN)
    rates = f"{module.present_mts or UNKNOWN} of {module.rated_mts or UNKNOWN} MT/s"
    slow = module.present_mts is not None and module.rated_mts is not None and module.present_mts < module.rated_mts
    cells.put_right(left + inner, top + 1, rates, Role.LIT if slow else Role.MEASURED)
