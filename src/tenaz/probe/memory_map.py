"""Physical memory as firmware and kernel describe it, and the ranges that were kept from the kernel in this start."""

from dataclasses import dataclass
from pathlib import Path

from tenaz.core.machine.physical_memory import Span, Spans, united, without
from tenaz.probe.smbios import parse_smbios

FIRMWARE_MAP = "sys/firmware/memmap"
RANGES = "sys/bus/dax/devices"


@dataclass(frozen=True, slots=True)
class KeptFree:
    """A range of memory that the kernel does not use: the device that it is mapped from, and its addresses."""

    device: str
    span: Span


def firmware_memory(root: Path = Path("/")) -> Spans:
    """All memory that the firmware gives to a system; empty where the kernel does not tell."""
    found = []
    for entry in (root / FIRMWARE_MAP).glob("*"):
        try:
            if (entry / "type").read_text().strip() != "System RAM":
                continue
            start, end = (int((entry / name).read_text(), 16) for name in ("start", "end"))
        except (OSError, ValueError):
            continue
        found.append(Span(start, end + 1))
    return united(found)


def kept_free(root: Path = Path("/")) -> tuple[KeptFree, ...]:
    """The ranges that can be mapped, lowest first."""
    found, memory = [], firmware_memory(root)
    for entry in (root / RANGES).glob("dax*"):
        try:
            start = int((entry / "resource").read_text(), 16)
            size = int((entry / "size").read_text())
        except (OSError, ValueError):
            continue
        span = Span(start, start + size)
        # Where the firmware tells of no memory there is none, whatever this start was told to keep.
        if size and (root / "dev" / entry.name).exists() and not without([span], memory):
            found.append(KeptFree(f"/dev/{entry.name}", span))
    return tuple(sorted(found, key=lambda one: one.span))


def fitted_bytes(root: Path = Path("/")) -> int:
    """What the modules hold by the firmware's tables; 0 where they do not tell."""
    try:
        smbios = parse_smbios((root / "sys/firmware/dmi/tables/DMI").read_bytes())
    except OSError:
        return 0
    return sum(one.size_bytes or 0 for one in smbios.modules)


def lockdown(root: Path = Path("/")) -> bool:
    """Whether the kernel was started under Secure Boot and keeps hardware from programs."""
    try:
        return "[none]" not in (root / "sys/kernel/security/lockdown").read_text()
    except OSError:
        return False
