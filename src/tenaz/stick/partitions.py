"""The table of partitions: GPT as the UEFI specification (2.10, chapter 5) has it, with a protective MBR before it."""

import struct
import uuid
import zlib
from collections.abc import Sequence
from dataclasses import dataclass

SECTOR_BYTES = 512
ALIGN_SECTORS = 2048
ENTRIES, ENTRY_BYTES = 128, 128
TABLE_SECTORS = ENTRIES * ENTRY_BYTES // SECTOR_BYTES

BIOS_BOOT = uuid.UUID("21686148-6449-6e6f-744e-656564454649")
EFI_SYSTEM = uuid.UUID("c12a7328-f81f-11d2-ba4b-00a0c93ec93b")
PLAIN_DATA = uuid.UUID("ebd0a0a2-b9e5-4433-87c0-68b6b72699c7")
LINUX_DATA = uuid.UUID("0fc63daf-8483-4772-8e79-3d69d8477de4")


@dataclass(frozen=True, slots=True)
class Partition:
    """A part of a disk: ``first`` and ``sectors`` of 512 bytes."""

    name: str
    type: uuid.UUID
    first: int
    sectors: int

    @property
    def offset(self) -> int:
        """Bytes from the disk's beginning."""
        return self.first * SECTOR_BYTES

    @property
    def bytes(self) -> int:
        """Its size."""
        return self.sectors * SECTOR_BYTES


def laid_out(parts: Sequence[tuple[str, uuid.UUID, int]]) -> tuple[Partition, ...]:
    """Partitions of a name, a type and at least so many bytes, one after the other, each beginning at a whole MiB."""
    at, found = ALIGN_SECTORS, list[Partition]()
    for name, kind, size in parts:
        sectors = -(-size // (ALIGN_SECTORS * SECTOR_BYTES)) * ALIGN_SECTORS
        found.append(Partition(name, kind, at, sectors))
        at += sectors
    return tuple(found)


def disk_sectors(partitions: Sequence[Partition]) -> int:
    """The least sectors of a disk that holds them and both tables."""
    last = max(one.first + one.sectors for one in partitions)
    return last + ALIGN_SECTORS


def tables(partitions: Sequence[Partition], sectors: int, seed: str) -> tuple[bytes, bytes]:
    """What stands in the first 34 sectors of a disk of so many, and in its last 33. The identities of the disk and of
    its partitions follow from ``seed``.
    """
    disk = uuid.uuid5(uuid.NAMESPACE_OID, seed)
    entries = b"".join(_entry(one, uuid.uuid5(disk, one.name)) for one in partitions).ljust(
        ENTRIES * ENTRY_BYTES, b"\0"
    )
    last = sectors - 1
    first = _header(disk, entries, 1, last, 2, sectors)
    second = _header(disk, entries, last, 1, last - TABLE_SECTORS, sectors)
    return _protective(sectors) + first + entries, entries + second


def _entry(one: Partition, identity: uuid.UUID) -> bytes:
    name = one.name.encode("utf-16-le").ljust(72, b"\0")
    last = one.first + one.sectors - 1
    return one.type.bytes_le + identity.bytes_le + struct.pack("<QQQ", one.first, last, 0) + name


def _header(disk: uuid.UUID, entries: bytes, at: int, other: int, table: int, sectors: int) -> bytes:
    def packed(checksum: int) -> bytes:
        return struct.pack(
            "<8sIIIIQQQQ16sQIII",
            b"EFI PART", 0x00010000, 92, checksum, 0, at, other, 2 + TABLE_SECTORS, sectors - TABLE_SECTORS - 2,
            disk.bytes_le, table, ENTRIES, ENTRY_BYTES, zlib.crc32(entries),
        )  # fmt: skip

    return packed(zlib.crc32(packed(0))).ljust(SECTOR_BYTES, b"\0")


ACTIVE = 0x80


def _protective(sectors: int) -> bytes:
    """The first sector: one partition over all, so that old programs leave the disk alone. It is marked active: old
    firmware starts from no disk without such a mark, and newer one does not heed it (UEFI 2.10, 5.2.3).
    """
    entry = struct.pack("<B3sB3sII", ACTIVE, b"\0\x02\0", 0xEE, b"\xff\xff\xff", 1, min(sectors - 1, 0xFFFFFFFF))
    return bytes(446) + entry + bytes(48) + b"\x55\xaa"
