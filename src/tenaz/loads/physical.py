"""Physical addresses of this process's memory, where the system grants them (as root)."""

import os
import struct
from pathlib import Path

PAGE_BYTES = os.sysconf("SC_PAGE_SIZE")
FRAME_BITS = (1 << 55) - 1
PRESENT = 1 << 63


def physical_address(address: int, pagemap: Path = Path("/proc/self/pagemap")) -> int | None:
    """Where a virtual address lies, or None: not granted, not present, or no such file."""
    try:
        with pagemap.open("rb", buffering=0) as pages:
            pages.seek(8 * (address // PAGE_BYTES))
            (entry,) = struct.unpack("<Q", pages.read(8))
    except (OSError, struct.error, OverflowError):
        return None
    frame = entry & FRAME_BITS
    return frame * PAGE_BYTES + address % PAGE_BYTES if entry & PRESENT and frame else None
