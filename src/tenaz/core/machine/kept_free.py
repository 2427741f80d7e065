"""Which memory the next start keeps free of the kernel: two starts between them leave almost nothing out."""

from enum import StrEnum

from tenaz.core.base.errors import Refused
from tenaz.core.machine.physical_memory import Span, Spans, bytes_of

UNIT = 2 << 20
"""A huge page: ranges begin and end at one."""
HEAD = UNIT
"""The first huge page of each range holds what the kernel writes down about it."""
MOST_RANGES = 4
"""The kernel moves out of the way of so many; with more it stays where it is."""
LEAST_RANGE = 16 << 20
LOWEST = UNIT
KERNEL_BYTES, WORKER_BYTES, BOOKKEEPING_SHARE = 448 << 20, 80 << 20, 0.005
"""What a start needs for itself: kernel, Tenaz and its files; for each core a worker; for each page a line."""


class Which(StrEnum):
    """What a start keeps free: nothing, all above the kernel's part, or the part where the kernel usually is."""

    NOTHING = "nothing"
    UPPER = "upper"
    LOWER = "lower"

    @property
    def next(self) -> "Which":
        """What the start after this one keeps free, when memory is gone over in turns."""
        return Which.LOWER if self is Which.UPPER else Which.UPPER


def needed_bytes(total_bytes: int, cores: int) -> int:
    """What the kernel and Tenaz need for themselves."""
    return _up(int(KERNEL_BYTES + cores * WORKER_BYTES + BOOKKEEPING_SHARE * total_bytes))


def ranges_for(memory: Spans, cores: int, which: Which) -> Spans:
    """The ranges that a start is to keep free.

    Raises:
        Refused: the machine has too little memory to be divided; says how much it would take.
    """
    if which is Which.NOTHING:
        return ()
    total = bytes_of(memory)
    needed = needed_bytes(total, cores)
    if total < 2 * needed:
        raise Refused(
            f"This machine's {total >> 20} MiB cannot be divided over two starts: {needed >> 20} MiB are needed for "
            f"kernel and Tenaz each time. One start reaches most of it."
        )
    border = _border(memory, needed)
    if which is Which.UPPER:
        found = [Span(max(_up(span.start), border), _down(span.end)) for span in memory]
    else:
        # Over the border, so that the head of the upper range is gone over too.
        found = [Span(max(_up(span.start), LOWEST), min(_down(span.end), border + 2 * UNIT)) for span in memory]
    large = sorted((one for one in found if one.bytes >= LEAST_RANGE), key=lambda one: -one.bytes)
    return tuple(sorted(large[:MOST_RANGES]))


def kernel_words(ranges: Spans) -> str:
    """What the kernel is told, empty for none: these addresses are memory that it must not use."""
    return "memmap=" + ",".join(f"{one.bytes:#x}!{one.start:#x}" for one in ranges) if ranges else ""


def _border(memory: Spans, needed: int) -> int:
    """The address below which there is as much memory as is needed."""
    left = needed
    for span in memory:
        if span.bytes >= left:
            return _up(span.start + left)
        left -= span.bytes
    raise AssertionError("there is more memory than is needed")


def _up(number: int) -> int:
    return -(-number // UNIT) * UNIT


def _down(number: int) -> int:
    return number // UNIT * UNIT
