"""A block of memory for a load: ranges that were kept from the kernel first, then this process's own, in huge pages."""

import ctypes
import mmap
import os
from collections.abc import Callable, Iterable, Sequence

from tenaz.core.base.errors import Refused
from tenaz.core.machine.physical_memory import Span, Spans, united
from tenaz.loads.budget import CHUNK_BYTES
from tenaz.loads.physical import physical_address, physical_spans
from tenaz.loads.spec import Part

HUGE_PAGE_BYTES = 2 * 1024 * 1024
POPULATE_BYTES = 16 * CHUNK_BYTES
A_LITTLE = 0.1
MAP_FIXED, MAP_NORESERVE = 0x10, 0x4000

_libc = ctypes.CDLL(None, use_errno=True)
_libc.mmap.restype = ctypes.c_void_p
_libc.mmap.argtypes = [
    ctypes.c_void_p, ctypes.c_size_t, ctypes.c_int, ctypes.c_int, ctypes.c_int, ctypes.c_long,
]  # fmt: skip


class Block:
    """Memory aligned to a huge page: ``parts`` of ranges kept free one after the other, then private anonymous memory.
    ``address`` and ``size`` are in bytes.

    Raises:
        Refused: a range cannot be mapped.
    """

    def __init__(self, size: int, parts: Sequence[Part] = ()) -> None:
        # Most of it may come to lie in ranges that are not the kernel's to count.
        flags = mmap.MAP_PRIVATE | mmap.MAP_ANONYMOUS | MAP_NORESERVE
        self._map = mmap.mmap(-1, size + HUGE_PAGE_BYTES, flags=flags)
        if hasattr(mmap, "MADV_HUGEPAGE"):
            self._map.madvise(mmap.MADV_HUGEPAGE)
        start = ctypes.addressof(ctypes.c_char.from_buffer(self._map))
        self.address = -(-start // HUGE_PAGE_BYTES) * HUGE_PAGE_BYTES
        self.size = size
        self._parts = tuple(parts)
        self._own_from = sum(part.size for part in parts)
        self.locked_bytes = 0
        at = self.address
        for part in self._parts:
            _map_over(at, part)
            at += part.size

    def populate(self, go_on: Callable[[float], bool]) -> None:
        """Bring the pages in piece by piece, locking them where the system allows; stops when ``go_on`` says no.

        ``go_on`` is told the part done, 0 to 1. Where locking is refused the pages are touched all the same. A range
        kept free is there as it is, and cannot be taken away.
        """
        may_lock = True
        self.locked_bytes = self._own_from
        for offset in range(self._own_from, self.size, POPULATE_BYTES):
            length = min(POPULATE_BYTES, self.size - offset)
            at = ctypes.c_void_p(self.address + offset)
            if may_lock and _libc.mlock(at, ctypes.c_size_t(length)) == 0:
                self.locked_bytes += length
            else:
                may_lock = False
                ctypes.memset(at, 0, length)
            if not go_on((offset + length) / self.size):
                return

    def in_small_pages(self) -> float | None:
        """The part of its own memory that lies in small pages, where that is more than a little; None: hardly any, or
        the system does not tell.
        """
        own = self.size - self._own_from
        huge = huge_bytes(self.address + self._own_from, own) if own else None
        small = 0.0 if huge is None else 1 - huge / own
        return small if small > A_LITTLE else None

    def physical(self, address: int) -> int | None:
        """Where an address of this process lies in physical memory; None: not known."""
        at = address - self.address
        for part in self._parts:
            if 0 <= at < part.size:
                return part.start + at
            at -= part.size
        return physical_address(address)

    def spans(self, go_on: Callable[[], bool] = lambda: True) -> Spans:
        """All of it in physical memory, as far as the system tells."""
        kept = [Span(part.start, part.start + part.size) for part in self._parts]
        own = physical_spans(self.address + self._own_from, self.size - self._own_from, go_on)
        return united((*kept, *own))


def huge_bytes(address: int, size: int) -> int | None:
    """How much of a stretch of this process's memory lies in huge pages; None where the system does not tell."""
    try:
        with open("/proc/self/smaps", encoding="ascii", errors="replace") as file:  # noqa: PTH123 - not a path of ours
            return _huge_among(file, address, address + size)
    except OSError:
        return None


def _huge_among(lines: Iterable[str], first: int, last: int) -> int:
    found, inside = 0, False
    for line in lines:
        start, _, rest = line.partition("-")
        if rest and rest[0] in "0123456789abcdef" and " " not in start and ":" not in start:
            end = rest.split(maxsplit=1)[0]
            inside = int(start, 16) < last and int(end, 16) > first
        elif inside and line.startswith("AnonHugePages:"):
            found += int(line.split()[1]) * 1024
    return min(found, last - first)


def _map_over(address: int, part: Part) -> None:
    try:
        handle = os.open(part.device, os.O_RDWR | os.O_CLOEXEC)
    except OSError as error:
        raise Refused(f"The range {part.device} that was kept free cannot be opened: {error.strerror}.") from error
    try:
        protection = mmap.PROT_READ | mmap.PROT_WRITE
        got = _libc.mmap(address, part.size, protection, mmap.MAP_SHARED | MAP_FIXED, handle, part.offset)
        if got != address:
            why = os.strerror(ctypes.get_errno())
            raise Refused(f"The range {part.device} that was kept free cannot be mapped: {why}.")
    finally:
        os.close(handle)
