"""``march`` traffic as a ratio to the fastest plain loop, interleaved in the same run."""

import statistics
import time
from collections.abc import Callable

from tenaz.loads.kernels.native import this_processor
from tenaz.loads.kernels.sweep import GROUP_BYTES, Sweep, SweepKernels
from tenaz.loads.march import ALL_ONES, MARCH_C_MINUS, lap_passes, last_word, parse_march
from tenaz.loads.memory import Block
from tests.bench.limits import plain_loops

ROUNDS = 15
BLOCK_BYTES = 512 * 2**20
DISTURBED = 1.05
"""A round whose wall time exceeds its thread's CPU time by more was disturbed, and is done again."""


def gb_s(work: Callable[[], object], traffic_bytes: float) -> float:
    """Rate of an undisturbed run."""
    for _ in range(20):
        wall, cpu = time.perf_counter(), time.thread_time()
        work()
        wall, cpu = time.perf_counter() - wall, time.thread_time() - cpu
        if wall <= DISTURBED * cpu:
            break
    return traffic_bytes / wall / 1e9


def report() -> None:
    """Print the ratio of each direction, of reading, and of whole laps."""
    block = Block(BLOCK_BYTES)
    block.populate(lambda _: True)
    kernels, loops = SweepKernels(this_processor()), plain_loops()
    elements = parse_march(MARCH_C_MINUS)
    groups = BLOCK_BYTES // GROUP_BYTES
    word = last_word(elements)
    kernels.run(Sweep(False, True, True), block.address, 0, groups, 0, word)

    def turn(ascending: bool) -> Callable[[], object]:
        def work() -> None:
            nonlocal word
            hit = kernels.run(Sweep(True, True, ascending), block.address, 0, groups, word, word ^ ALL_ONES)
            assert hit is None
            word ^= ALL_ONES

        return work

    def lap() -> None:
        nonlocal word
        for one in lap_passes(elements, holds=word):
            sweep = Sweep(one.expected is not None, one.written is not None, one.ascending)
            hit = kernels.run(sweep, block.address, 0, groups, one.expected or 0, one.written or 0)
            assert hit is None
        word = last_word(elements)

    lap_traffic = sum(one.traffic for one in lap_passes(elements, holds=word)) * BLOCK_BYTES
    ratios: dict[str, list[float]] = {}
    limits = []
    for _ in range(ROUNDS):
        limit = 0.0
        for loop in loops.values():
            limit = max(limit, gb_s(lambda loop=loop: loop(block.address, BLOCK_BYTES), 2 * BLOCK_BYTES))  # type: ignore[misc]
        # The loops turned every bit over once each; put the word back in order before it is compared.
        word ^= ALL_ONES * (len(loops) % 2)
        kernels.run(Sweep(False, True, True), block.address, 0, groups, 0, word)
        limits.append(limit)
        for name, work, traffic in (
            ("read, write ⇑", turn(True), 2.0 * BLOCK_BYTES),
            ("read, write ⇓", turn(False), 2.0 * BLOCK_BYTES),
            ("a whole lap", lap, lap_traffic),
        ):
            ratios.setdefault(name, []).append(gb_s(work, traffic) / limit)
    print(f"march, one core, {BLOCK_BYTES >> 20} MiB, {ROUNDS} interleaved rounds")
    print(f"  limit: fastest of {len(loops)} plain in-place loops, median {statistics.median(limits):.1f} GB/s")
    for name, found in ratios.items():
        print(f"  {name:<16} {statistics.median(found):.2f} of the limit  (from {min(found):.2f} to {max(found):.2f})")
