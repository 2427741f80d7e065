"""How much memory a load may take, and how large a block fits a cache level."""

import os
from dataclasses import dataclass

from tenaz.core.base.errors import Refused
from tenaz.core.loads.plan import CacheLevel
from tenaz.core.machine.machine import show_gib

CHUNK_BYTES = 8 * 1024 * 1024
"""Unit in which memory is taken and swept: a few milliseconds of work, so that a stop is heard at once."""

LEAST_RESERVE_BYTES = 512 * 1024 * 1024
RESERVE_SHARE = 0.05
"""Kept for the system: the larger of the two. Less than that and a desktop begins to drop its caches or to kill."""

WORKER_BYTES = 96 * 1024 * 1024
"""What a worker process itself needs beside the block: interpreter, code generator, machine code."""


@dataclass(frozen=True, slots=True)
class Spared:
    """What is left alone by loads, in bytes: ``least`` or a ``share`` of all memory, whichever is more, and so much for
    each worker.
    """

    least: int = LEAST_RESERVE_BYTES
    share: float = RESERVE_SHARE
    worker: int = WORKER_BYTES


BESIDE_OTHERS = Spared()
ALONE = Spared(40 * 1024 * 1024, 0.005, 64 * 1024 * 1024)
"""Where nothing but Tenaz runs: what the kernel needs not to be in distress."""

ALL = 1.0
"""As a share: all that is to be had, whatever that is."""


def bytes_per_worker(
    share: float, workers: int, total_bytes: int, available_bytes: int, spared: Spared = BESIDE_OTHERS
) -> int:
    """Divide a share of all memory over the workers, in whole chunks.

    Raises:
        Refused: when the system would be left too little, with the figure that would be allowed now.
    """
    if not 0 < share <= ALL:
        raise Refused(f"share {share:.0%} is not a part of memory; give more than 0% and at most 100%.")
    reserve = max(spared.least, spared.share * total_bytes)
    allowed = max(0.0, available_bytes - reserve - workers * spared.worker)
    asked = share * total_bytes
    if share == ALL and allowed >= workers * CHUNK_BYTES:
        asked = allowed
    if asked > allowed:
        percent = int(100 * allowed / total_bytes)
        remedy = f"use --share {percent}% or less" if percent else "close other programs first"
        raise Refused(
            f"{share:.0%} of memory is {show_gib(asked)}, but {show_gib(available_bytes)} of {show_gib(total_bytes)} "
            f"are free and the system needs {show_gib(reserve)} of them; at most {percent}% ({show_gib(allowed)}) "
            f"would be allowed now: {remedy}."
        )
    # Rounded: a share that was made of a size must come to that size again, whatever the machine has.
    each = round(asked / workers) // CHUNK_BYTES * CHUNK_BYTES
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
    os.setpriority(os.PRIO_PROCESS, 0, max(niceness, os.getpriority(os.PRIO_PROCESS, 0)))
    try:
        with open("/proc/self/oom_score_adj", "w") as score:  # noqa: PTH123 - a kernel file, not a path of ours
            score.write("1000")
    except OSError:
        pass
