"""How much memory a load may take, and how large a block fits a cache level."""

import os

from tenaz.core.errors import Refused
from tenaz.core.loading import CacheLevel
from tenaz.core.machine import show_gib

CHUNK_BYTES = 8 * 1024 * 1024
"""Unit in which memory is taken and swept: a few milliseconds of work, so that a stop is heard at once."""

LEAST_RESERVE_BYTES = 512 * 1024 * 1024
RESERVE_SHARE = 0.05
"""Kept for the system: the larger of the two. Less than that and a desktop begins to drop its caches or to kill."""

WORKER_BYTES = 96 * 1024 * 1024
"""What a worker process itself needs beside the block: interpreter, code generator, machine code."""


def bytes_per_worker(share: float, workers: int, total_bytes: int, available_bytes: int) -> int:
    """Divide a share of all memory over the workers, in whole chunks.

    Raises:
        Refused: when the system would be left too little, with the figure that would be allowed now.
    """
    if not 0 < share <= 1:
        raise Refused(f"share {share:.0%} is not a part of memory; give more than 0% and at most 100%.")
    reserve = max(LEAST_RESERVE_BYTES, RESERVE_SHARE * total_bytes)
    allowed = max(0.0, available_bytes - reserve - workers * WORKER_BYTES)
    asked = share * total_bytes
    if asked > allowed:
        percent = int(100 * allowed / total_bytes)
        remedy = f"use --share {percent}% or less" if percent else "close other programs first"
        raise Refused(
            f"{share:.0%} of memory is {show_gib(asked)}, but {show_gib(available_bytes)} of {show_gib(total_bytes)} "
            f"are free and the system needs {show_gib(reserve)} of them; at most {percent}% ({show_gib(allowed)}) "
            f"would be allowed now: {remedy}."
        )
    each = int(asked / workers) // CHUNK_BYTES * CHUNK_BYTES
    if each == 0:
        raise Refused(
            f"{share:.1%} of memory is {show_gib(asked)}: too little for {workers} workers of "
            f"{CHUNK_BYTES // 2**20} MiB; use a larger share."
        )
    return each


def transform_points(level: CacheLevel, cache_bytes: int, lanes: int) -> int:
    """The transform length (a power of two) whose block strains a cache level.

    The largest block of at most three quarters of that cache; for memory, the smallest of at least twice the last
    level (whose size ``cache_bytes`` then is). ``lanes`` complex doubles stand side by side at each point.
    """
    point_bytes = 16 * lanes
    points = 16
    if level is CacheLevel.MEMORY:
        while points * point_bytes < 2 * cache_bytes:
            points *= 2
        return points
    while points * 2 * point_bytes <= 0.75 * cache_bytes:
        points *= 2
    return points


def worker_cores(workers: int | None, usable: tuple[int, ...]) -> tuple[int, ...]:
    """Which core each worker runs on: one worker a core, in turn.

    Raises:
        Refused: for a number of workers below one or beyond four for each core.
    """
    count = len(usable) if workers is None else workers
    if not 1 <= count <= 4 * len(usable):
        raise Refused(f"{count} workers on {len(usable)} usable cores; give 1 to {4 * len(usable)}.")
    return tuple(usable[k % len(usable)] for k in range(count))


def be_considerate(niceness: int = 10) -> None:
    """Run behind the interface, and be the first to go when memory runs out after all."""
    os.nice(niceness)
    try:
        with open("/proc/self/oom_score_adj", "w") as score:  # noqa: PTH123 - a kernel file, not a path of ours
            score.write("1000")
    except OSError:
        pass
