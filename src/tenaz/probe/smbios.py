"""SMBIOS tables (DMTF DSP0134): entry points 2.1 and 3.0, and the structures that tell what a machine is made of.

Bytes in, values out. Tables written by firmware are often wrong: a structure whose length cannot be is where reading
ends, a string that is not there is empty, a field beyond a structure's length is None.
"""

from collections.abc import Iterator
from dataclasses import dataclass

from tenaz.core.machine.machine import MemoryModule, Unread, Why
from tenaz.probe.binary import Fields

HEADER_BYTES = 4
END_OF_TABLE = 127

MEMORY_KINDS = {
    0x12: "DDR",
    0x13: "DDR2",
    0x18: "DDR3",
    0x1A: "DDR4",
    0x1B: "LPDDR",
    0x1C: "LPDDR2",
    0x1D: "LPDDR3",
    0x1E: "LPDDR4",
    0x22: "DDR5",
    0x23: "LPDDR5",
}
ERROR_CORRECTION = {3: "none", 4: "parity", 5: "single-bit ECC", 6: "multi-bit ECC", 7: "CRC"}
UNKNOWN_STRINGS = ("unknown", "not specified", "none", "no dimm", "undefined", "to be filled by o.e.m.", "n/a")


@dataclass(frozen=True, slots=True)
class EntryPoint:
    """Where the table lies and how long it may be; ``version`` as (major, minor)."""

    version: tuple[int, int]
    table_bytes: int
    table_address: int
    structures: int | None


@dataclass(frozen=True, slots=True)
class Structure:
    """One structure: its type, handle, formatted area with header, and strings."""

    kind: int
    handle: int
    fields: Fields
    strings: tuple[str, ...]

    def text(self, offset: int) -> str:
        """The string whose number stands at an offset; empty for none, and for what firmware writes instead of none."""
        number = self.fields.byte(offset)
        if not number or number > len(self.strings):
            return ""
        found = self.strings[number - 1]
        return "" if found.lower() in UNKNOWN_STRINGS else found


@dataclass(frozen=True, slots=True)
class Firmware:
    """Type 0."""

    vendor: str
    version: str
    date: str
    uefi: bool | None


@dataclass(frozen=True, slots=True)
class Named:
    """Types 1 and 2: the system, and its board."""

    maker: str
    product: str
    version: str
    serial: str


@dataclass(frozen=True, slots=True)
class Processor:
    """Type 4; clocks in MHz, ``voltage_mv`` None where it is not said."""

    socket: str
    maker: str
    version: str
    external_clock_mhz: int | None
    highest_mhz: int | None
    present_mhz: int | None
    cores: int | None
    cores_enabled: int | None
    threads: int | None
    voltage_mv: int | None


@dataclass(frozen=True, slots=True)
class Cache:
    """Type 7."""

    name: str
    level: int
    size_bytes: int | None


@dataclass(frozen=True, slots=True)
class MemoryArray:
    """Type 16: the slots as a whole."""

    handle: int
    correction: str
    capacity_bytes: int | None
    slots: int | None


@dataclass(frozen=True, slots=True)
class AddressRange:
    """Types 19 and 20: physical addresses first to last, mapped by an array (19) or by one module (20)."""

    first: int
    last: int
    handle: int


@dataclass(frozen=True, slots=True)
class Smbios:
    """Everything taken from a table."""

    firmware: Firmware | None
    system: Named | None
    board: Named | None
    processors: tuple[Processor, ...]
    caches: tuple[Cache, ...]
    arrays: tuple[MemoryArray, ...]
    modules: tuple[MemoryModule, ...]
    array_ranges: tuple[AddressRange, ...]
    module_ranges: tuple[AddressRange, ...]
    unread: tuple[Unread, ...]


def parse_entry_point(data: bytes) -> EntryPoint | Unread:
    """Read an entry point of version 2.1 (``_SM_``) or 3.0 (``_SM3_``); its checksum must hold."""
    fields = Fields(data)
    if data.startswith(b"_SM3_"):
        length = fields.byte(0x06) or 0
        values = (fields.byte(0x07), fields.byte(0x08), fields.double_word(0x0C), fields.quad_word(0x10))
        structures = None
    elif data.startswith(b"_SM_"):
        length = fields.byte(0x05) or 0
        values = (fields.byte(0x06), fields.byte(0x07), fields.word(0x16), fields.double_word(0x18))
        structures = fields.word(0x1C)
    else:
        return Unread("SMBIOS entry point", Why.NONSENSE, "it begins with neither _SM_ nor _SM3_")
    major, minor, size, address = values
    if major is None or minor is None or size is None or address is None or length > len(data):
        return Unread("SMBIOS entry point", Why.NONSENSE, f"it ends after {len(data)} bytes")
    if sum(data[:length]) % 256:
        return Unread("SMBIOS entry point", Why.NONSENSE, "its checksum is wrong")
    return EntryPoint((major, minor), size, address, structures)


def structures_in(table: bytes) -> Iterator[Structure | Unread]:
    """Walk a table; where it cannot go on, the last item says why."""
    at = 0
    while at + HEADER_BYTES <= len(table):
        kind, length = table[at], table[at + 1]
        handle = int.from_bytes(table[at + 2 : at + 4], "little")
        if length < HEADER_BYTES or at + length > len(table):
            yield Unread(
                f"SMBIOS structure at {at:#x}", Why.NONSENSE, f"length {length} cannot be; the rest is left out"
            )
            return
        end = table.find(b"\x00\x00", at + length)
        if end < 0:
            yield Unread(f"SMBIOS structure at {at:#x}", Why.NONSENSE, "its strings never end; the rest is left out")
            return
        raw = table[at + length : end]
        strings = tuple(" ".join(_printable(part).split()) for part in raw.split(b"\x00")) if raw else ()
        yield Structure(kind, handle, Fields(table[at : at + length]), strings)
        if kind == END_OF_TABLE:
            return
        at = end + 2


def parse_smbios(table: bytes) -> Smbios:
    """Read a whole table; never raises, whatever the bytes."""
    found: dict[int, list[Structure]] = {}
    unread = []
    for item in structures_in(table):
        if isinstance(item, Unread):
            unread.append(item)
        else:
            found.setdefault(item.kind, []).append(item)
    return Smbios(
        firmware=next((_firmware(s) for s in found.get(0, ())), None),
        system=next((_named(s) for s in found.get(1, ())), None),
        board=next((_named(s) for s in found.get(2, ())), None),
        processors=tuple(_processor(s) for s in found.get(4, ())),
        caches=tuple(_cache(s) for s in found.get(7, ())),
        arrays=tuple(_array(s) for s in found.get(16, ())),
        modules=tuple(_module(s) for s in found.get(17, ())),
        array_ranges=_ranges(found.get(19, ()), handle_at=0x0C, extended_at=0x0F),
        module_ranges=_ranges(found.get(20, ()), handle_at=0x0C, extended_at=0x13),
        unread=tuple(unread),
    )


def _printable(raw: bytes) -> str:
    return "".join(chr(b) if 32 <= b < 127 else " " for b in raw)


def _known(value: int | None, *unknown: int) -> int | None:
    """None for the codes that mean unknown."""
    return None if value is None or value in unknown else value


def _firmware(s: Structure) -> Firmware:
    second = s.fields.byte(0x13)
    return Firmware(s.text(0x04), s.text(0x05), s.text(0x08), None if second is None else bool(second & 0x08))


def _named(s: Structure) -> Named:
    return Named(s.text(0x04), s.text(0x05), s.text(0x06), s.text(0x07))


def _processor(s: Structure) -> Processor:
    def count(short: int, long: int) -> int | None:
        # 0xFF in the byte sends to the word that version 3.0 added.
        value = _known(s.fields.byte(short), 0)
        return _known(s.fields.word(long), 0, 0xFFFF) if value == 0xFF else value

    voltage = s.fields.byte(0x11)
    return Processor(
        socket=s.text(0x04),
        maker=s.text(0x07),
        version=s.text(0x10),
        external_clock_mhz=_known(s.fields.word(0x12), 0),
        highest_mhz=_known(s.fields.word(0x14), 0),
        present_mhz=_known(s.fields.word(0x16), 0),
        cores=count(0x23, 0x2A),
        cores_enabled=count(0x24, 0x2C),
        threads=count(0x25, 0x2E),
        # With bit 7 set the other bits are tenths of a volt; without it they only say what the socket could do.
        voltage_mv=(voltage & 0x7F) * 100 if voltage is not None and voltage & 0x80 else None,
    )


def _cache(s: Structure) -> Cache:
    size = s.fields.word(0x09)
    if size == 0xFFFF:
        wide = s.fields.double_word(0x17)
        size_bytes = None if wide is None else (wide & 0x7FFFFFFF) * (64 if wide >> 31 else 1) * 1024
    else:
        size_bytes = None if size is None else (size & 0x7FFF) * (64 if size >> 15 else 1) * 1024
    return Cache(s.text(0x04), ((s.fields.word(0x05) or 0) & 0x07) + 1, size_bytes)


def _array(s: Structure) -> MemoryArray:
    kib = s.fields.double_word(0x07)
    capacity = s.fields.quad_word(0x0F) if kib == 0x80000000 else None if kib is None else kib * 1024
    return MemoryArray(s.handle, ERROR_CORRECTION.get(s.fields.byte(0x06) or 0, ""), capacity, s.fields.word(0x0D))


def _module(s: Structure) -> MemoryModule:
    def rate(short: int, long: int) -> int | None:
        value = _known(s.fields.word(short), 0)
        return _known(s.fields.double_word(long), 0) if value == 0xFFFF else value

    return MemoryModule(
        slot=s.text(0x10),
        bank=s.text(0x11),
        size_bytes=_module_bytes(s.fields),
        kind=MEMORY_KINDS.get(s.fields.byte(0x12) or 0, ""),
        maker=s.text(0x17),
        serial=s.text(0x18),
        part=s.text(0x1A),
        ranks=_known(s.fields.bits(0x1B, 3, 0), 0),
        rated_mts=rate(0x15, 0x54),
        present_mts=rate(0x20, 0x58),
        voltage_mv=_known(s.fields.word(0x26), 0),
    )


def _module_bytes(fields: Fields) -> int | None:
    """0 is an empty slot; the word's bit 15 makes it KiB, 0x7FFF sends to the extended size in MiB."""
    size = fields.word(0x0C)
    if size is None or size == 0xFFFF:
        return None
    if size == 0x7FFF:
        wide = fields.double_word(0x1C)
        return None if wide is None else (wide & 0x7FFFFFFF) << 20
    return (size & 0x7FFF) << 10 if size & 0x8000 else size << 20


def _ranges(structures: "list[Structure] | tuple[()]", handle_at: int, extended_at: int) -> tuple[AddressRange, ...]:
    ranges = []
    for s in structures:
        first, last = s.fields.double_word(0x04), s.fields.double_word(0x08)
        handle = s.fields.word(handle_at)
        if first == 0xFFFFFFFF:
            first, last = s.fields.quad_word(extended_at), s.fields.quad_word(extended_at + 8)
        elif first is not None and last is not None:
            first, last = first << 10, (last << 10) + 1023
        if first is not None and last is not None and handle is not None and first <= last:
            ranges.append(AddressRange(first, last, handle))
    return tuple(ranges)
