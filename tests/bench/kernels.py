"""Kernels as ratios to limits of the same, interleaved run: memory loads to plain loops, CPU loads to multiply-adds."""

import statistics
import time
from collections.abc import Callable

import numpy as np

from tenaz.core.loads.plan import CacheLevel
from tenaz.loads.budget import CHUNK_BYTES, transform_points
from tenaz.loads.kernels.fourier import FourierKernels, flop_of_round_trip
from tenaz.loads.kernels.native import this_processor
from tenaz.loads.kernels.sweep import GROUP_BYTES, Sweep, SweepKernels
from tenaz.loads.kernels.variants import measured
from tenaz.loads.kinds.solving import Products, Systems, flop_of_product, flop_of_system
from tenaz.loads.march import Operation
from tenaz.loads.memory import Block
from tenaz.loads.patterns import ALL_ONES, WORDS, Pattern, PatternKind
from tenaz.loads.swept import FLUSHED_BLOCK_BYTES
from tenaz.probe.here import read_machine
from tenaz.probe.system import caches, memory
from tests.bench.limits import FusedPeak, plain_loops

ROUNDS = 15
BEYOND, INSIDE = 4, 8
"""Blocks are so many times as large as the last cache, and such a part of it."""
LARGEST_BYTES, SMALLEST_BYTES = 4 << 30, 64 << 20
DISTURBED = 1.05
"""A round whose wall time exceeds its thread's CPU time by more was disturbed, and is done again."""

READ, WRITE, BACK = Operation(True, 0), Operation(False, 1), Operation(False, 0)


def rate(work: Callable[[], object], amount: float) -> float:
    """Amount a second of an undisturbed run, in 10⁹."""
    for _ in range(20):
        wall, cpu = time.perf_counter(), time.thread_time()
        work()
        wall, cpu = time.perf_counter() - wall, time.thread_time() - cpu
        if wall <= DISTURBED * cpu:
            break
    return amount / wall / 1e9


class MemoryBench:
    """One block, the passes over it, and the limits of each kind of traffic."""

    def __init__(self, size: int) -> None:
        self.size = size
        self.block = Block(size)
        self.block.populate(lambda _: True)
        self.kernels = SweepKernels(this_processor())
        patterns = (WORDS, Pattern(PatternKind.ADDRESS), Pattern(PatternKind.HASH))
        sweeps = [Sweep(operations, True, pattern) for operations in ((READ,), (READ, WRITE)) for pattern in patterns]
        self.shapes = measured(self.kernels, sweeps, self.block.address, size)
        self.loops = {way: plain_loops(way) for way in ("w", "r", "rw")}

    def limit(self, way: str) -> float:
        """The fastest of the plain loops now."""
        traffic = len(way) * self.size
        return max(
            rate(lambda loop=loop: loop(self.block.address, self.size), traffic)  # type: ignore[misc]
            for loop in self.loops[way].values()
        )

    def fill(self, pattern: Pattern) -> None:
        """What every pass finds."""
        self.kernels.run(Sweep((BACK,), True, pattern), self.block.address, 0, self.size // GROUP_BYTES, (0, 0, 0))

    def swept(self, way: str, ascending: bool, pattern: Pattern = WORDS, flushed: bool = False) -> float:
        """GB/s of a pass; one that writes is followed by the pass back."""
        operations = {"w": (BACK,), "r": (READ,), "rw": (READ, WRITE)}[way]
        sweep = Sweep(operations, ascending, pattern, flushed)
        words = [(0, ALL_ONES, 0), (ALL_ONES, 0, 0)]
        self.fill(pattern)

        def work() -> None:
            for word in words if way == "rw" else words[:1]:
                hit = self.kernels.run(sweep, self.block.address, 0, self.size // GROUP_BYTES, word)
                assert hit is None

        work()
        return rate(work, len(way) * self.size * (2 if way == "rw" else 1))

    def blocks(self) -> float:
        """GB/s of an element of two steps in flushed blocks."""
        there, back = Sweep((READ, WRITE), True, WORDS, True), (ALL_ONES, 0, 0)
        groups = FLUSHED_BLOCK_BYTES // GROUP_BYTES
        self.fill(WORDS)

        def work() -> None:
            for first in range(0, self.size // GROUP_BYTES, groups):
                for word in ((0, ALL_ONES, 0), back):
                    assert self.kernels.run(there, self.block.address, first, first + groups, word) is None

        # As if each block crossed the bus once: what the steps cost against one pass is the point.
        return rate(work, 2 * self.size)


def memory_report() -> None:
    """Print the ratio of every kind of pass to the limit of its traffic, well beyond the last cache and well inside."""
    last = max((one.size_bytes for one in read_machine().caches if one.level == 3), default=caches().l3_bytes)
    half = memory().available_bytes // 2
    print(f"the last cache holds {last >> 20} MiB")
    _memory_report("beyond it", min(LARGEST_BYTES, half, max(512 << 20, BEYOND * last)) // CHUNK_BYTES * CHUNK_BYTES)
    _memory_report("inside it", max(SMALLEST_BYTES, last // INSIDE) // CHUNK_BYTES * CHUNK_BYTES)


def _memory_report(where: str, size: int) -> None:
    bench = MemoryBench(size)
    address, hashed = Pattern(PatternKind.ADDRESS), Pattern(PatternKind.HASH)
    works: dict[str, tuple[str, float, Callable[[], float]]] = {
        "write": ("w", 0.93, lambda: bench.swept("w", True)),
        "read and verify": ("r", 0.95, lambda: bench.swept("r", True)),
        "verify and write, ascending": ("rw", 0.95, lambda: bench.swept("rw", True)),
        "address pattern, verify and write": ("rw", 0.93, lambda: bench.swept("rw", True, address)),
        "hash pattern, verify and write": ("rw", 0.90, lambda: bench.swept("rw", True, hashed)),
        "flushed element": ("rw", 0.75, lambda: bench.swept("rw", True, WORDS, True)),
        "two steps in flushed blocks of 1 MiB": ("rw", 0.33, bench.blocks),
    }
    found: dict[str, list[float]] = {name: [] for name in [*works, "descending against ascending"]}
    limits: dict[str, list[float]] = {way: [] for way in bench.loops}
    for _ in range(ROUNDS):
        for name, (way, _, work) in works.items():
            limit = bench.limit(way)
            limits[way].append(limit)
            found[name].append(work() / limit)
        up = bench.swept("rw", True)
        found["descending against ascending"].append(bench.swept("rw", False) / up)
    print(
        f"memory, one core, {size >> 20} MiB, {where}, {ROUNDS} interleaved rounds; limits are the fastest plain loops:"
    )
    print("  " + ", ".join(f"{way} {statistics.median(one):.1f} GB/s" for way, one in limits.items()))
    print(f"  measured fastest: {bench.shapes}")
    bars = {name: bar for name, (_, bar, _) in works.items()} | {"descending against ascending": 0.93}
    for name, ratios in found.items():
        _print(name, ratios, bars[name])


def cpu_report() -> None:
    """Print the ratio of every CPU load to the multiply-adds that the core can do."""
    peak, processor, sizes = FusedPeak(), this_processor(), caches()
    lanes = processor.arithmetic_bits // 64
    works: dict[str, tuple[float, Callable[[], float]]] = {}
    numpy_ratios: dict[str, list[float]] = {}
    for level, size, bar in ((CacheLevel.L1, sizes.l1_bytes, 0.22), (CacheLevel.L2, sizes.l2_bytes, 0.20)):
        kernels = FourierKernels(processor, transform_points(level, size, lanes))
        works[f"transform in {level}"] = (bar, _transform(kernels))
        numpy_ratios[f"transform in {level} against numpy's"] = []
    products, systems = Products(), Systems()
    products.wrong()
    works["exact product"] = (0.6, lambda: rate(products.wrong, flop_of_product(len(products.left))))
    size = len(systems.right)
    works[f"system of {size}"] = (0.38, lambda: rate(systems.wrong, flop_of_system(size)))
    found: dict[str, list[float]] = {name: [] for name in works}
    peaks = []
    for _ in range(ROUNDS):
        for name, (_, work) in works.items():
            peaks.append(limit := rate(peak.run, peak.flop))
            found[name].append((mine := work()) / limit)
            if name.startswith("transform"):
                points = transform_points(
                    CacheLevel(name[-2:]), sizes.l1_bytes if "L1" in name else sizes.l2_bytes, lanes
                )
                numpy_ratios[f"{name} against numpy's"].append(mine / _numpy_rate(points, lanes))
    print(
        f"CPU, one core, {ROUNDS} interleaved rounds; multiply-adds in registers {statistics.median(peaks):.1f} GFLOP/s"
    )
    for name, ratios in found.items():
        _print(name, ratios, works[name][0])
    for name, ratios in numpy_ratios.items():
        _print(name, ratios, 5.0)


def _transform(kernels: FourierKernels) -> Callable[[], float]:
    block = Block(kernels.block_bytes)
    block.populate(lambda _: True)
    reference, wrong = kernels.first_digest(block.address, 1)
    assert not wrong
    flop = flop_of_round_trip(kernels.points, kernels.lanes)
    count = max(1, int(2e8 / flop))

    def run() -> float:
        def work(_keep: Block = block) -> None:
            assert kernels.rounds(block.address, 1, count, reference).good == count

        return rate(work, flop * count)

    return run


def _numpy_rate(points: int, lanes: int) -> float:
    """numpy's transforms there and back of as many numbers, counted as the same operations."""
    data = np.random.default_rng(1).standard_normal((lanes, points)) + 0j
    count = max(1, int(4e7 / flop_of_round_trip(points, lanes)))

    def work() -> None:
        for _ in range(count):
            np.fft.ifft(np.fft.fft(data))

    return rate(work, flop_of_round_trip(points, lanes) * count)


def _print(name: str, ratios: list[float], bar: float) -> None:
    median = statistics.median(ratios)
    verdict = "ok  " if median >= bar else "LOW "
    print(f"  {verdict}{name:<38} {median:5.2f}  (bar {bar:.2f}; from {min(ratios):.2f} to {max(ratios):.2f})")


def report() -> None:
    """Print both."""
    memory_report()
    cpu_report()
