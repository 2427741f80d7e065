"""A block of this process's memory for a load: huge pages asked for, populated in pieces, locked as far as allowed."""

import ctypes
import mmap
from collections.abc import Callable

from tenaz.loads.budget import CHUNK_BYTES

HUGE_PAGE_BYTES = 2 * 1024 * 1024
POPULATE_BYTES = 16 * CHUNK_BYTES

_libc = ctypes.CDLL(None, use_errno=True)


class Block:
    """Private anonymous memory, aligned to a huge page. ``address`` and ``size`` are in bytes."""

    def __init__(self, size: int) -> None:
        self._map = mmap.mmap(-1, size + HUGE_PAGE_BYTES, flags=mmap.MAP_PRIVATE | mmap.MAP_ANONYMOUS)
        if hasattr(mmap, "MADV_HUGEPAGE"):
            self._map.madvise(mmap.MADV_HUGEPAGE)
        start = ctypes.addressof(ctypes.c_char.from_buffer(self._map))
        self.address = -(-start // HUGE_PAGE_BYTES) * HUGE_PAGE_BYTES
        self.size = size
        self.locked_bytes = 0

    def populate(self, go_on: Callable[[float], bool]) -> None:
        """Bring the pages in piece by piece, locking them where the system allows; stops when ``go_on`` says no.

        ``go_on`` is told the part done, 0 to 1. Where locking is refused the pages are touched all the same.
        """
        may_lock = True
        for offset in range(0, self.size, POPULATE_BYTES):
            length = min(POPULATE_BYTES, self.size - offset)
            at = ctypes.c_void_p(self.address + offset)
            if may_lock and _libc.mlock(at, ctypes.c_size_t(length)) == 0:
                self.locked_bytes += length
            else:
                may_lock = False
                ctypes.memset(at, 0, length)
            if not go_on((offset + length) / self.size):
                return
