"""What is known of a machine: modules, processor, board, firmware; and what could not be read, with the reason.

Empty text and None mean unknown. Filled in from the running system, from a file, or by hand.
"""

import re
from dataclasses import dataclass, field
from enum import StrEnum

from tenaz.core.machine.spd import Spd

CHANNEL_NAMED = (
    re.compile(r"channel[ _-]?([a-z]|\d{1,2})(?![a-z])", re.IGNORECASE),
    re.compile(r"(?:^|[^a-z])([a-h])\d$", re.IGNORECASE),
)
"""How firmware names a module's channel: in words, or as a letter before the slot's number."""


SAME_RATE_MTS = 10
"""Rates that lie no further apart are one: firmware and tables round them in their own ways."""


class Why(StrEnum):
    """Why something could not be read."""

    MISSING = "not there"
    FORBIDDEN = "no permission"
    NONSENSE = "makes no sense"


@dataclass(frozen=True, slots=True)
class Unread:
    """One thing that could not be read: what, why, and what was found instead."""

    what: str
    why: Why
    detail: str = ""

    def show(self) -> str:
        """One line."""
        return f"{self.what}: {self.why}{f' ({self.detail})' if self.detail else ''}"


@dataclass(frozen=True, slots=True)
class MemoryModule:
    """One slot and what sits in it; ``size_bytes`` 0 is an empty slot.

    Data rates in MT/s: what the module is rated for, and what it runs at now.
    """

    slot: str
    size_bytes: int | None
    kind: str = ""
    maker: str = ""
    part: str = ""
    serial: str = ""
    ranks: int | None = None
    rated_mts: int | None = None
    present_mts: int | None = None
    voltage_mv: int | None = None
    bank: str = ""

    @property
    def fitted(self) -> bool:
        """Whether the slot holds a module."""
        return bool(self.size_bytes)

    @property
    def channel(self) -> str:
        """Letter or number of its channel as the firmware's names tell it; empty when they do not."""
        for name in (self.bank, self.slot):
            for pattern in CHANNEL_NAMED:
                if found := pattern.search(name):
                    return found[1].upper()
        return ""


class CacheKind(StrEnum):
    """What a cache holds."""

    DATA = "data"
    INSTRUCTION = "instruction"
    UNIFIED = "unified"


@dataclass(frozen=True, slots=True)
class Cache:
    """One cache, with the logical processors that it serves."""

    level: int
    kind: CacheKind
    size_bytes: int
    threads: tuple[int, ...]

    @property
    def name(self) -> str:
        """Like L1 or L3."""
        return f"L{self.level}"


@dataclass(frozen=True, slots=True)
class Core:
    """One core by the system's numbering, with the logical processors on it."""

    package: int
    core: int
    threads: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Graphics:
    """A graphics device on the PCI bus, by its numbers."""

    slot: str
    vendor_id: int
    device_id: int


GRAPHICS_POWER = "graphics_power_limit_pct"
"""The knob whose value the kernel tells of graphics cards."""


@dataclass(frozen=True, slots=True)
class KernelLimit:
    """A limit of the processor as the kernel tells it, by the knob that it is a value of (or a word of ours), with what
    is usual for this one (None: that is not told).
    """

    name: str
    value: int
    usual: int | None = None


@dataclass(frozen=True, slots=True)
class RegisterValue:
    """A knob's value that was read out of a memory controller's registers, and the file that says where it stands."""

    knob: str
    value: int
    by: str


@dataclass(frozen=True, slots=True)
class Machine:
    """One machine as it was read at one time. ``memory_spec_mts`` is the data rate that the processor's own data sheet
    allows, as somebody typed it.
    """

    processor: str = ""
    cores: tuple[Core, ...] = ()
    caches: tuple[Cache, ...] = ()
    cores_fitted: int | None = None
    base_mhz: int | None = None
    highest_mhz: int | None = None
    board: str = ""
    firmware: str = ""
    boot_mode: str = ""
    memory_bytes: int | None = None
    modules: tuple[MemoryModule, ...] = ()
    spds: tuple[Spd, ...] = ()
    graphics: tuple[Graphics, ...] = ()
    unread: tuple[Unread, ...] = field(default=())
    board_serial: str = ""
    limits: tuple[KernelLimit, ...] = ()
    registers: tuple[RegisterValue, ...] = ()
    memory_spec_mts: int | None = None


def show_bytes(count_bytes: int) -> str:
    """Like ``48 KiB`` or ``24 MiB``: for sizes of caches."""
    return f"{count_bytes / 2**20:.4g} MiB" if count_bytes >= 2**20 else f"{count_bytes / 2**10:.4g} KiB"


def show_gib(count_bytes: float) -> str:
    """Like ``23.5 GiB``."""
    return f"{count_bytes / 2**30:.1f} GiB"
