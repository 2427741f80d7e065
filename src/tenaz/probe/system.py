"""What the operating system says about processor, caches and memory."""

import os
import re
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import psutil

FALLBACK_CACHE_BYTES = {1: 32 * 1024, 2: 512 * 1024, 3: 8 * 1024 * 1024}
"""Taken where the system does not publish a cache's size; small, so that a load sized by them still fits."""


MOST_PROCESSORS = 65536
"""A list of processors that is longer is nonsense."""


@dataclass(frozen=True, slots=True)
class Caches:
    """Data cache sizes in bytes that one core can count on: a shared cache is divided by those that share it."""

    l1_bytes: int
    l2_bytes: int
    l3_bytes: int


@dataclass(frozen=True, slots=True)
class Memory:
    """Memory in bytes: all that the system may use, and what is free for programs now."""

    total_bytes: int
    available_bytes: int


def processor_model(cpuinfo: Path = Path("/proc/cpuinfo")) -> str:
    """Model name as the system reports it; empty when it does not say."""
    try:
        text = cpuinfo.read_text(errors="replace")
    except OSError:
        return ""
    found = re.search(r"^model name\s*:\s*(.+)$", text, re.MULTILINE)
    return " ".join(found[1].split()) if found else ""


def usable_cores() -> tuple[int, ...]:
    """Numbers of the logical processors that this process may run on."""
    return tuple(sorted(os.sched_getaffinity(0)))


def sibling_threads(
    cores: tuple[int, ...], root: Path = Path("/sys/devices/system/cpu")
) -> tuple[tuple[int, ...], ...]:
    """Those of the processors that share a core, group by group; empty when the kernel does not say."""
    groups = set()
    for core in cores:
        try:
            named = cpu_list((root / f"cpu{core}" / "topology" / "thread_siblings_list").read_text())
        except (OSError, ValueError):
            return ()
        groups.add(tuple(one for one in named if one in cores))
    return tuple(sorted(groups))


def memory(groups: Path = Path("/sys/fs/cgroup"), told: Path = Path("/proc/self/cgroup")) -> Memory:
    """Total and available memory, within the limits of the control groups that this process is in: its own and every
    one above it, of the present form and of the older one.
    """
    seen = psutil.virtual_memory()
    total, available = seen.total, seen.available
    for limit, used in _group_limits(groups, told):
        if limit < seen.total:
            total, available = min(total, limit), min(available, max(0, limit - used))
    return Memory(total, available)


def _group_limits(groups: Path, told: Path) -> Iterator[tuple[int, int]]:
    """Limit and use, in bytes, of each control group that limits memory."""
    try:
        lines = told.read_text().splitlines()
    except OSError:
        lines = ["0::/"]
    for line in lines:
        number, _, rest = line.partition(":")
        kinds, _, path = rest.partition(":")
        if number == "0" and not kinds:
            root, names = groups, ("memory.max", "memory.current")
        elif "memory" in kinds.split(","):
            root, names = groups / "memory", ("memory.limit_in_bytes", "memory.usage_in_bytes")
        else:
            continue
        # Within a container its own group may stand at the top, whatever its path is said to be.
        own = root / path.strip("/")
        for folder in dict.fromkeys((own, *(one for one in own.parents if one.is_relative_to(root)), root)):
            try:
                yield tuple(int((folder / name).read_text()) for name in names)  # type: ignore[misc]
            except (OSError, ValueError):
                continue


def caches(core: int = 0, root: Path = Path("/sys/devices/system/cpu")) -> Caches:
    """Sizes of the data caches of a core, from the kernel's cache description."""
    size = dict(FALLBACK_CACHE_BYTES)
    for index in sorted((root / f"cpu{core}" / "cache").glob("index*")):
        try:
            level = int((index / "level").read_text())
            kind = (index / "type").read_text().strip()
            found = re.fullmatch(r"(\d+)([KM]?)", (index / "size").read_text().strip())
            sharers = len(cpu_list((index / "shared_cpu_list").read_text()))
        except (OSError, ValueError):
            continue
        if found and kind in ("Data", "Unified") and level in size:
            size[level] = int(found[1]) * {"": 1, "K": 1024, "M": 1024 * 1024}[found[2]] // max(1, sharers)
    return Caches(size[1], size[2], size[3])


def cpu_list(text: str) -> tuple[int, ...]:
    """The processors that a list like ``0-3,8`` names.

    Raises:
        ValueError: it is no such list, or one longer than any machine.
    """
    named: list[int] = []
    for part in text.strip().split(","):
        low, _, high = part.partition("-")
        first, last = int(low), int(high or low)
        if last - first >= MOST_PROCESSORS:
            raise ValueError(f"{part!r} is more than {MOST_PROCESSORS} processors")
        named += range(first, last + 1)
    return tuple(named)


def boot_id(source: Path = Path("/proc/sys/kernel/random/boot_id")) -> str:
    """The kernel's random name for this boot: tells a restart of the machine from a restart of a program."""
    try:
        return source.read_text().strip()
    except OSError:
        return f"since-{psutil.boot_time():.0f}"


def temperature_c() -> float | None:
    """The hottest plausible sensor that the system publishes, or None."""
    try:
        readings = psutil.sensors_temperatures()
    except (AttributeError, OSError):
        return None
    values = [s.current for group in readings.values() for s in group if 0 < (s.current or 0) < 130]
    return max(values, default=None)
