"""Physical addresses of this process's memory, where the system grants them (as root)."""

import mmap
import struct
from array import array
from collections.abc import Callable
from pathlib import Path

from tenaz.core.machine.physical_memory import Span, Spans, united

PAGE_BYTES = mmap.PAGESIZE
FRAME_BITS = (1 << 55) - 1
PRESENT = 1 << 63
READ_PAGES = 1 << 15
MOST_SPANS = 200_000
"""Memory in more pieces than this is told as far as that."""
PAGEMAP = Path("/proc/self/pagemap")


def physical_address(address: int, pagemap: Path = PAGEMAP) -> int | None:
    """Where a virtual address lies, or None: not granted, not present, or no such file."""
    try:
        with pagemap.open("rb", buffering=0) as pages:
            pages.seek(8 * (address // PAGE_BYTES))
            (entry,) = struct.unpack("<Q", pages.read(8))
    except (OSError, struct.error, OverflowError):
        return None
    frame = entry & FRAME_BITS
    return frame * PAGE_BYTES + address % PAGE_BYTES if entry & PRESENT and frame else None


def physical_spans(address: int, size: int, go_on: Callable[[], bool] = lambda: True, pagemap: Path = PAGEMAP) -> Spans:
    """Where whole pages of a stretch of virtual memory lie; empty where that is not granted."""
    found: list[Span] = []
    first, count = address // PAGE_BYTES, size // PAGE_BYTES
    try:
        with pagemap.open("rb", buffering=0) as pages:
            for at in range(first, first + count, READ_PAGES):
                if not go_on() or len(found) > MOST_SPANS:
                    break
                pages.seek(8 * at)
                entries = array("Q", pages.read(8 * min(READ_PAGES, first + count - at)))
                found += _runs(entries)
    except (OSError, OverflowError, ValueError):
        return ()
    return united(found)


def _runs(entries: "array[int]") -> list[Span]:
    """Frames that follow each other as one span."""
    found: list[Span] = []
    start = expected = 0
    for entry in entries:
        frame = entry & FRAME_BITS if entry & PRESENT else 0
        if frame != expected or not frame:
            if start:
                found.append(Span(start * PAGE_BYTES, expected * PAGE_BYTES))
            start = frame
        expected = frame + 1 if frame else 0
    if start:
        found.append(Span(start * PAGE_BYTES, expected * PAGE_BYTES))
    return found
