"""Memory divided over workers: ranges that were kept free as a whole, and of the system's own what may be taken."""

from collections.abc import Sequence
from dataclasses import dataclass

from tenaz.core.base.errors import Refused
from tenaz.loads.budget import ALL, CHUNK_BYTES, Spared, bytes_per_worker
from tenaz.loads.spec import Part

UNIT = 2 * 1024 * 1024
"""Ranges are divided at huge pages."""


@dataclass(frozen=True, slots=True)
class WorkerMemory:
    """What one worker gets: a block of so many bytes, its first ``parts`` in ranges kept free."""

    size: int
    parts: tuple[Part, ...] = ()


def divided(
    share: float, workers: int, total_bytes: int, available_bytes: int, spared: Spared, kept_free: Sequence[Part]
) -> tuple[WorkerMemory, ...]:
    """What each worker gets of a share of all memory (ranges kept free belong to it, and are taken first).

    Raises:
        Refused: so much is not to be had.
    """
    if not kept_free:
        each = bytes_per_worker(share, workers, total_bytes, available_bytes, spared)
        return (WorkerMemory(each),) * workers
    if not 0 < share <= ALL:
        raise Refused(f"share {share:.0%} is not a part of memory; give more than 0% and at most 100%.")
    kept_bytes = sum(part.size for part in kept_free)
    from_ranges = min(kept_bytes, int(share * total_bytes)) // UNIT // workers * UNIT
    cut = _cut(kept_free, [from_ranges + (kept_bytes - from_ranges * workers if share == ALL and k == 0 else 0)
                           for k in range(workers)])  # fmt: skip
    own = 0
    system_bytes = total_bytes - kept_bytes
    reserve = max(spared.least, spared.share * total_bytes) + workers * spared.worker
    room = max(0, int(available_bytes - reserve))
    wanted = room if share == ALL else max(0, int(share * total_bytes) - kept_bytes)
    own = min(room, wanted, system_bytes) // workers
    found = []
    for parts in cut:
        ranged = sum(part.size for part in parts)
        # A block is a whole number of chunks, so its own memory fills up what the ranges leave of one.
        size = (ranged + own) // CHUNK_BYTES * CHUNK_BYTES
        if size < ranged:
            size += CHUNK_BYTES
        found.append(WorkerMemory(size, parts))
    return tuple(found)


def _cut(ranges: Sequence[Part], sizes: Sequence[int]) -> list[tuple[Part, ...]]:
    """Ranges one after the other, cut into stretches of these sizes."""
    left = list(ranges)
    found: list[tuple[Part, ...]] = []
    for size in sizes:
        mine: list[Part] = []
        wanted = size
        while wanted and left:
            first = left.pop(0)
            taken = min(wanted, first.size)
            mine.append(Part(first.device, first.offset, taken, first.start))
            wanted -= taken
            if taken < first.size:
                rest = first.size - taken
                left.insert(0, Part(first.device, first.offset + taken, rest, first.start + taken))
        found.append(tuple(mine))
    return found
