"""Takes in the machine that Tenaz runs on: from firmware tables, module contents and what the kernel publishes."""

import os
import re
from importlib.resources import files
from pathlib import Path

from platformdirs import user_config_path

from tenaz.core.base.errors import Refused
from tenaz.core.machine.machine import Cache, CacheKind, Core, Graphics, Machine, RegisterValue, Unread, Why
from tenaz.core.machine.spd import Spd
from tenaz.probe.cards import DISPLAY_CLASS
from tenaz.probe.limits import kernel_limits
from tenaz.probe.memory_map import kept_free
from tenaz.probe.registers import read_register_file, read_registers
from tenaz.probe.smbios import Smbios, parse_entry_point, parse_smbios
from tenaz.probe.spd import parse_spd
from tenaz.probe.system import cpu_list, processor_model
from tenaz.probe.tree import Tree

CPU = "sys/devices/system/cpu"


def own_registers() -> Path:
    """The folder of one's own register files."""
    named = os.environ.get("TENAZ_REGISTERS")
    return Path(named) if named else user_config_path("tenaz", appauthor=False) / "registers"


def read_machine(root: Path = Path("/"), registers: Path | None = None) -> Machine:
    """Read everything that can be read; the rest is listed with its reason. ``registers`` is the folder of register
    files; else one's own.
    """
    tree = Tree(root)
    table = tree.data("sys/firmware/dmi/tables/DMI", expected=True)
    smbios = parse_smbios(_as_announced(tree, table)) if table is not None else None
    spds = _spds(tree)
    limits, values = kernel_limits(tree), _registers(tree, registers or own_registers())
    unread = [*tree.unread, *(smbios.unread if smbios else ())]
    cores = _cores(tree)
    first = smbios.processors[0] if smbios and smbios.processors else None
    return Machine(
        processor=processor_model(root / "proc/cpuinfo") or (first.version if first else ""),
        cores=cores,
        caches=_caches(tree),
        cores_fitted=first.cores if first else None,
        base_mhz=_mhz(tree.whole(f"{CPU}/cpu0/cpufreq/base_frequency")),
        highest_mhz=_mhz(tree.whole(f"{CPU}/cpu0/cpufreq/cpuinfo_max_freq")) or (first.highest_mhz if first else None),
        board=_board(tree, smbios),
        board_serial=smbios.board.serial if smbios and smbios.board else "",
        firmware=_firmware(tree, smbios),
        boot_mode="UEFI" if tree.exists("sys/firmware/efi") else "legacy",
        memory_bytes=_memory_bytes(tree),
        modules=smbios.modules if smbios else (),
        spds=spds,
        graphics=_graphics(tree),
        unread=tuple(dict.fromkeys(unread)),
        limits=limits,
        registers=values,
    )


def _registers(tree: Tree, folder: Path) -> tuple[RegisterValue, ...]:
    """What one's own register files tell, and then those that come along; a file that is none is listed."""
    found = []
    if "TENAZ_REGISTERS" in os.environ and not folder.is_dir():
        tree.unread.append(Unread(str(folder), Why.MISSING, "it is no folder, and TENAZ_REGISTERS names it"))
    for place in (folder, Path(str(files("tenaz.probe").joinpath("register_files")))):
        for path in sorted(place.glob("*.toml")) if place.is_dir() else ():
            try:
                found.append(read_register_file(path))
            except Refused as refused:
                tree.unread.append(Unread(str(path), Why.NONSENSE, str(refused)))
    return read_registers(tree, found)


def _as_announced(tree: Tree, table: bytes) -> bytes:
    """The table as long as its entry point says; whole when there is none or it makes no sense."""
    entry = tree.data("sys/firmware/dmi/tables/smbios_entry_point")
    announced = parse_entry_point(entry) if entry is not None else None
    if isinstance(announced, Unread):
        tree.unread.append(announced)
    elif announced is not None:
        return table[: announced.table_bytes]
    return table


def _mhz(khz: int | None) -> int | None:
    return None if khz is None else round(khz / 1000)


def _board(tree: Tree, smbios: Smbios | None) -> str:
    if smbios and smbios.board and (smbios.board.maker or smbios.board.product):
        return f"{smbios.board.maker} {smbios.board.product}".strip()
    names = (tree.text(f"sys/class/dmi/id/board_{part}") for part in ("vendor", "name"))
    return " ".join(name for name in names if name)


def _firmware(tree: Tree, smbios: Smbios | None) -> str:
    if smbios and smbios.firmware and smbios.firmware.version:
        date = f" of {smbios.firmware.date}" if smbios.firmware.date else ""
        return smbios.firmware.version + date
    return tree.text("sys/class/dmi/id/bios_version") or ""


def _memory_bytes(tree: Tree) -> int | None:
    for line in (tree.text("proc/meminfo") or "").splitlines():
        words = line.split()
        if len(words) >= 2 and words[0] == "MemTotal:" and words[1].isdigit():
            return int(words[1]) * 1024 + sum(one.span.bytes for one in kept_free(tree.root))
    return None


def _cores(tree: Tree) -> tuple[Core, ...]:
    threads: dict[tuple[int, int], list[int]] = {}
    for folder in tree.folders(f"{CPU}/cpu[0-9]*"):
        number = folder.rsplit("cpu", 1)[1]
        package = tree.whole(f"{folder}/topology/physical_package_id")
        core = tree.whole(f"{folder}/topology/core_id")
        if package is not None and core is not None and number.isdigit():
            threads.setdefault((package, core), []).append(int(number))
    return tuple(Core(package, core, tuple(sorted(found))) for (package, core), found in sorted(threads.items()))


CACHE_UNITS = {"": 1, "K": 2**10, "M": 2**20, "G": 2**30}
KIND_OF_CACHE = {"Data": CacheKind.DATA, "Instruction": CacheKind.INSTRUCTION, "Unified": CacheKind.UNIFIED}


def _caches(tree: Tree) -> tuple[Cache, ...]:
    """Each cache once, however many processors tell of it."""
    found: dict[Cache, None] = {}
    for folder in tree.folders(f"{CPU}/cpu[0-9]*/cache/index[0-9]*"):
        level, kind = tree.whole(f"{folder}/level"), KIND_OF_CACHE.get(tree.text(f"{folder}/type") or "")
        size = re.fullmatch(r"(\d{1,9})([KMG]?)", tree.text(f"{folder}/size") or "")
        sharing = tree.text(f"{folder}/shared_cpu_list") or ""
        try:
            threads = cpu_list(sharing)
        except ValueError:
            tree.unread.append(Unread(f"/{folder}/shared_cpu_list", Why.NONSENSE, f"{sharing[:40]!r}"))
            continue
        if level is not None and kind is not None and size is not None:
            found[Cache(level, kind, int(size[1]) * CACHE_UNITS[size[2]], threads)] = None
    return tuple(sorted(found, key=lambda cache: (cache.level, cache.kind.value, cache.threads)))


def _spds(tree: Tree) -> tuple[Spd, ...]:
    """Module contents where a driver publishes them."""
    found = []
    for path in tree.folders("sys/bus/i2c/devices/*/eeprom"):
        data = tree.data(path)
        spd = parse_spd(data) if data is not None else None
        if isinstance(spd, Unread):
            tree.unread.append(Unread(f"/{path}", spd.why, spd.detail))
        elif spd is not None:
            found.append(spd)
    return tuple(found)


def _graphics(tree: Tree) -> tuple[Graphics, ...]:
    found = []
    for folder in tree.folders("sys/bus/pci/devices/*"):
        kind = tree.whole(f"{folder}/class")
        if kind is not None and kind >> 16 == DISPLAY_CLASS:
            vendor, device = tree.whole(f"{folder}/vendor"), tree.whole(f"{folder}/device")
            if vendor is not None and device is not None:
                found.append(Graphics(folder.rsplit("/", 1)[1], vendor, device))
    return tuple(found)
