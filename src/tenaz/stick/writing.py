"""A stick written to a device, looked at again, and made an ordinary one once more."""

import fcntl
import hashlib
import os
import time
from collections.abc import Callable
from pathlib import Path

from tenaz.core.base.amounts import show_bytes
from tenaz.core.base.errors import Refused
from tenaz.stick import partitions
from tenaz.stick.cache import Cancelled
from tenaz.stick.devices import Device, device, same_device
from tenaz.stick.image import BOOK_BYTES, Plan, Step, chunks
from tenaz.stick.making import StickMaker

BLKFLSBUF, BLKRRPART = 0x1261, 0x125F
LEAST_CLUSTERS = 66_000
MOST_BOOK_BYTES, BESIDE_BYTES, ALIGN_BYTES = 1 << 30, 512 << 20, 4 << 20
"""The book's part at most; what everything else on a stick needs, and something to spare."""


def write_device(maker: StickMaker, path: Path, name: str, on_step: Callable[[Step], None]) -> int:
    """Make a stick of a device whose ``name`` was typed, and read it all back; gives its bytes.

    Raises:
        Refused: the device must not be erased, is too small, or does not hold what was written.
        Cancelled: told to stop; the device then holds nothing that starts.
    """
    found = device(path)
    _check_name(found, name)

    def use(plan: Plan) -> None:
        if found.size_bytes < plan.bytes:
            raise Refused(f"{found.show()} is too small: a stick is {show_bytes(plan.bytes)}.")
        write(plan, path, on_step, maker, lambda disk: same_device(disk, found))

    written = 0

    def counted(plan: Plan) -> None:
        nonlocal written
        use(plan)
        written = plan.bytes

    maker.make(counted, book_bytes_for(found.size_bytes))
    return written


def book_bytes_for(medium_bytes: int) -> int:
    """How large the part is that holds the book: it grows with the medium, up to what years fill."""
    return max(BOOK_BYTES, min(MOST_BOOK_BYTES, (medium_bytes - BESIDE_BYTES) // 2 // ALIGN_BYTES * ALIGN_BYTES))


def write(
    plan: Plan,
    path: Path,
    on_step: Callable[[Step], None],
    maker: StickMaker,
    check: Callable[[int], None] = lambda _: None,
) -> None:
    """Write all of it, its first sectors last, so that what was stopped half-way does not start; then read it back.
    ``check`` looks at the very descriptor that is written to, before anything is.

    Raises:
        Refused: the device is not the one that was meant, is in use, or cannot be written.
    """
    began_s = time.monotonic()

    def tell(doing: str, part: float) -> None:
        spent_s = time.monotonic() - began_s
        on_step(Step(doing, part, spent_s * (1 - part) / part if part > 0.02 else None))

    sums: list[tuple[int, int, bytes]] = []
    try:
        with _Opened(path) as disk:
            check(disk)
            head: list[tuple[int, bytes]] = []
            for offset, data in chunks(plan):
                if maker.stop.is_set():
                    raise Cancelled
                sums.append((offset, len(data), hashlib.sha256(data).digest()))
                if offset == 0:
                    head.append((offset, data))
                    data = bytes(len(data))  # noqa: PLW2901 - what stands there until the last
                _write_at(disk, offset, data)
                tell(f"writing {path}", 0.5 * offset / plan.bytes)
            os.fsync(disk)
            for offset, data in head:
                _write_at(disk, offset, data)
            os.fsync(disk)
            _forget_cached(disk)
            for offset, length, digest in sums:
                if maker.stop.is_set():
                    raise Cancelled
                if hashlib.sha256(_read_at(disk, offset, length)).digest() != digest:
                    raise Refused(
                        f"{path} does not hold what was written to it, at {show_bytes(offset)}: the medium is worn out "
                        f"or not what it says. Use another."
                    )
                tell(f"reading {path} again", 0.5 + 0.5 * offset / plan.bytes)
            _look_again(disk)
    except OSError as error:
        raise Refused(f"{path} cannot be written: {error.strerror}. {_remedy(error)}") from error


def restore(path: Path, name: str) -> str:
    """Make an ordinary stick of a device again: one partition over all of it, to be formatted by any system.

    Raises:
        Refused: the device must not be erased.
    """
    found = device(path)
    _check_name(found, name)
    sectors = found.size_bytes // partitions.SECTOR_BYTES
    only = partitions.Partition(
        "data", partitions.PLAIN_DATA, partitions.ALIGN_SECTORS, sectors - 2 * partitions.ALIGN_SECTORS
    )
    first, last = partitions.tables([only], sectors, f"restored {found.name} {found.size_bytes}")
    try:
        with _Opened(path) as disk:
            same_device(disk, found)
            _write_at(disk, 0, first.ljust(partitions.ALIGN_SECTORS * partitions.SECTOR_BYTES, b"\0"))
            _write_at(disk, only.offset, empty_fat(only.sectors))
            _write_at(disk, found.size_bytes - len(last), last)
            os.fsync(disk)
            _look_again(disk)
    except OSError as error:
        raise Refused(f"{path} cannot be written: {error.strerror}. {_remedy(error)}") from error
    return f"{path} is an ordinary stick again: one empty partition of {show_bytes(only.bytes)}."


def empty_fat(sectors: int) -> bytes:
    """The beginning of an empty FAT32 file system over so many sectors: boot sector, its copy, both tables' first
    sectors and an empty folder; everything between is zero (FAT specification 1.03).
    """
    reserved, tables = 32, 2
    per_cluster = 64
    # With fewer clusters than that it would be taken for another kind of FAT.
    while per_cluster > 1 and (sectors - reserved) // per_cluster < LEAST_CLUSTERS:
        per_cluster //= 2
    clusters = (sectors - reserved) // per_cluster
    table = -(-(clusters + 2) * 4 // partitions.SECTOR_BYTES)
    boot = bytearray(partitions.SECTOR_BYTES)
    boot[0:11] = b"\xeb\x58\x90TENAZ   "
    fields = (
        (11, 2, 512), (13, 1, per_cluster), (14, 2, reserved), (16, 1, tables), (21, 1, 0xF8), (24, 2, 63),
        (26, 2, 255), (28, 4, partitions.ALIGN_SECTORS), (32, 4, sectors), (36, 4, table), (44, 4, 2), (48, 2, 1),
        (50, 2, 6), (64, 1, 0x80), (66, 1, 0x29), (67, 4, sectors & 0xFFFFFFFF),
    )  # fmt: skip
    for at, size, value in fields:
        boot[at : at + size] = value.to_bytes(size, "little")
    boot[71:90] = b"NO NAME    FAT32   "
    boot[510:512] = b"\x55\xaa"
    info = bytearray(partitions.SECTOR_BYTES)
    for at, value in ((0, 0x41615252), (484, 0x61417272), (488, 0xFFFFFFFF), (492, 0xFFFFFFFF), (508, 0xAA550000)):
        info[at : at + 4] = value.to_bytes(4, "little")
    start = bytes(boot) + bytes(info)
    whole = start + bytes(4 * partitions.SECTOR_BYTES) + start
    whole = whole.ljust(reserved * partitions.SECTOR_BYTES, b"\0")
    first = b"".join(value.to_bytes(4, "little") for value in (0x0FFFFFF8, 0x0FFFFFFF, 0x0FFFFFFF))
    return whole + tables * first.ljust(table * partitions.SECTOR_BYTES, b"\0") + bytes(64 * partitions.SECTOR_BYTES)


class _Opened:
    """A device opened so that nobody else has it; the kernel refuses what is mounted."""

    def __init__(self, path: Path) -> None:
        self._path = path
        self._handle = -1

    def __enter__(self) -> int:
        self._handle = os.open(self._path, os.O_RDWR | os.O_EXCL | os.O_CLOEXEC)
        return self._handle

    def __exit__(self, *_: object) -> None:
        os.close(self._handle)


def _check_name(found: Device, name: str) -> None:
    if name.strip() != found.name:
        raise Refused(f"{found.show()}: all of it would be erased. If it is meant, type its name: {found.name}")


def _remedy(error: OSError) -> str:
    return "Run it as root (sudo)." if isinstance(error, PermissionError) else "Nothing that starts was left on it."


def _write_at(disk: int, offset: int, data: bytes) -> None:
    done = 0
    while done < len(data):
        done += os.pwrite(disk, data[done:], offset + done)


def _read_at(disk: int, offset: int, length: int) -> bytes:
    found = b""
    while len(found) < length:
        part = os.pread(disk, length - len(found), offset + len(found))
        if not part:
            break
        found += part
    return found


def _forget_cached(disk: int) -> None:
    """Have the kernel forget what it holds of the device: what is read then comes from the medium."""
    try:
        fcntl.ioctl(disk, BLKFLSBUF)
    except OSError:
        os.posix_fadvise(disk, 0, 0, os.POSIX_FADV_DONTNEED)


def _look_again(disk: int) -> None:
    """Have the kernel look at the partitions again, where the device is one."""
    try:
        fcntl.ioctl(disk, BLKRRPART)
    except OSError:
        return
