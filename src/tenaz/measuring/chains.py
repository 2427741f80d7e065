"""Reads that each wait for the one before: the latency of whatever level the block fits into.

A block's lines are tied into one ring. At random over all of it, every step is a line that nobody foresaw: with small
pages it also waits for the translation, with huge ones hardly. Row by row, all lines of one stretch of 8 KiB (a row of
a DRAM bank has as many) come before those of the next, so that most steps find their row open.
"""

import ctypes
import mmap
from enum import StrEnum

import numpy as np

from tenaz.loads.kernels.native import NativeModule
from tenaz.loads.memory import HUGE_PAGE_BYTES, huge_bytes

LINE_BYTES = 64
ROW_BYTES = 8192
UNROLLED = 16
SEED = 4099
MOSTLY = 0.9


class Order(StrEnum):
    """In which order a ring visits its lines."""

    RANDOM = "random"
    ROWS = "row by row"


class Pages(StrEnum):
    """Of which pages a block is."""

    HUGE = "huge pages"
    SMALL = "small pages"


class Ring:
    """A block of ``size`` bytes whose lines are tied into one ring."""

    def __init__(self, size: int, order: Order, pages: Pages) -> None:
        self._map = mmap.mmap(-1, size + (2 << 20), flags=mmap.MAP_PRIVATE | mmap.MAP_ANONYMOUS)
        advice = getattr(mmap, "MADV_HUGEPAGE" if pages is Pages.HUGE else "MADV_NOHUGEPAGE", None)
        if advice is not None:
            self._map.madvise(advice)
        start = ctypes.addressof(ctypes.c_char.from_buffer(self._map))
        self.start = -(-start // (2 << 20)) * (2 << 20)
        self.lines = size // LINE_BYTES
        words = np.frombuffer(self._map, np.uint64, self.lines * 8, self.start - start)
        visits = visit_order(self.lines, order)
        words[visits.astype(np.int64) * 8] = self.start + np.roll(visits, -1) * LINE_BYTES
        large = size >= HUGE_PAGE_BYTES
        told = huge_bytes(self.start, size)
        huge = pages is Pages.HUGE and (not large or told is None or told >= MOSTLY * size)
        self.pages = Pages.HUGE if huge else Pages.SMALL
        """What the system gave; of a block smaller than a huge page it makes no difference."""


def visit_order(lines: int, order: Order) -> "np.ndarray[tuple[int], np.dtype[np.uint64]]":
    """All lines, each once."""
    chosen = np.random.Generator(np.random.PCG64(SEED))
    in_row = ROW_BYTES // LINE_BYTES
    if order is Order.RANDOM or lines <= in_row:
        return chosen.permutation(lines).astype(np.uint64)
    rows = chosen.permutation(lines // in_row)
    within = np.argsort(chosen.random((len(rows), in_row)), axis=1)
    return (rows[:, None] * in_row + within).ravel().astype(np.uint64)


class Chase:
    """Goes round rings."""

    def __init__(self) -> None:
        self._module = NativeModule(chase_ir())
        self._run = self._module.function("chase", ctypes.c_int64, [ctypes.c_void_p, ctypes.c_int64])
        self._at: dict[int, int] = {}

    def run(self, ring: Ring, steps: int) -> int:
        """Go on from where it was left; gives the steps made, which are a multiple of :data:`UNROLLED`."""
        turns = max(1, steps // UNROLLED)
        self._at[ring.start] = self._run(self._at.get(ring.start, ring.start), turns)
        return turns * UNROLLED


def chase_ir() -> str:
    """IR of ``i64 chase(ptr at, i64 turns)``: so many turns of reads that each give the address of the next."""
    lines = [
        "define i64 @chase(ptr %at, i64 %turns) {",
        "entry:",
        "  br label %body",
        "body:",
        "  %k = phi i64 [ 0, %entry ], [ %k1, %body ]",
        f"  %p0 = phi ptr [ %at, %entry ], [ %p{UNROLLED}, %body ]",
        *(f"  %p{k + 1} = load ptr, ptr %p{k}, align 8" for k in range(UNROLLED)),
        "  %k1 = add i64 %k, 1",
        "  %over = icmp eq i64 %k1, %turns",
        "  br i1 %over, label %done, label %body",
        "done:",
        f"  %end = ptrtoint ptr %p{UNROLLED} to i64",
        "  ret i64 %end",
        "}",
    ]
    return "\n".join(lines)
