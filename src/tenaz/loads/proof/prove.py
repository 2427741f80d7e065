"""Runs march tests, in their machine code, on every fault, and counts what is found.

A fault counts as found when it is found whatever the array holds at first. ``direct`` lets every operation reach the
array: that is what theory speaks of. The other modes stand behind a cache, as on a real machine.
"""

import ctypes
from collections import OrderedDict
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from enum import StrEnum

from tenaz.loads.kernels.native import this_processor
from tenaz.loads.kernels.sweep import Shape, Sweep, SweepKernels
from tenaz.loads.kernels.visits import Copier
from tenaz.loads.march import KEPT, MARCH_TESTS, Element, Operation, Pass, lap_passes, paired, parse_march
from tenaz.loads.patterns import ALL_ONES, WORDS
from tenaz.loads.proof.faults import Fault, FaultyArray, Model, all_faults

CELL_BYTES = 8
RETAIN = "retain"
COPY, MOVES = "copy", "there and back, turned over, each move looked at"
WRITE, VERIFY = Sweep((Operation(False, 0),), True), Sweep((Operation(True, 0),), True)
CELLS = 6
CACHE_PART = 3
"""The cache of a mode holds one part in so many of the array."""


class ProofMode(StrEnum):
    """How operations reach the array."""

    DIRECT = "direct"
    CACHED = "cached"
    FLUSHED = "flushed"
    BLOCKS = "blocks"


@dataclass(frozen=True, slots=True)
class FoundFault:
    """Faults of one model found by one test in one mode, out of how many."""

    test: str
    mode: ProofMode
    model: Model
    found: int
    faults: int

    @property
    def part(self) -> float:
        """0 to 1."""
        return self.found / self.faults


class Bus:
    """Between machine code and array: a cache that writes back and fetches what it writes to, or none. It may read
    ``ahead`` so many lines in the direction of the last two accesses, as prefetching does.
    """

    def __init__(self, cached_lines: int, cells: int = 1, ahead: int = 0) -> None:
        self.array = FaultyArray(1, None, 0)
        self._cells, self._ahead, self._last = cells, ahead, 0
        self._lines: OrderedDict[int, tuple[int, bool]] = OrderedDict()
        self._most = cached_lines
        self._callbacks = (
            ctypes.CFUNCTYPE(ctypes.c_uint64, ctypes.c_int64)(self._read),
            ctypes.CFUNCTYPE(None, ctypes.c_int64, ctypes.c_uint64)(self._write),
            ctypes.CFUNCTYPE(None, ctypes.c_int64)(self._flush),
        )

    @property
    def addresses(self) -> tuple[int, int, int]:
        """Where machine code finds read, write and flush."""
        read, write, flush = (ctypes.cast(one, ctypes.c_void_p).value or 0 for one in self._callbacks)
        return read, write, flush

    def attach(self, array: FaultyArray) -> None:
        """Another array, the cache empty."""
        self.array = array
        self._lines.clear()

    def _read(self, offset: int) -> int:
        return ALL_ONES if self._line(offset // CELL_BYTES) else 0

    def _write(self, offset: int, word: int) -> None:
        cell, value = offset // CELL_BYTES, int(word != 0)
        if not self._most:
            self.array.write(cell, value)
            return
        self._line(cell)
        self._lines[cell] = (value, True)

    def _line(self, cell: int) -> int:
        """The value of a cell, fetched where it is not cached."""
        if not self._most:
            return self.array.read(cell)
        if cell not in self._lines:
            self._fetch(cell)
        self._lines.move_to_end(cell)
        value = self._lines[cell][0]
        way = 1 if cell >= self._last else -1
        self._last = cell
        for step in range(1, self._ahead + 1):
            soon = cell + way * step
            if 0 <= soon < self._cells and soon not in self._lines:
                self._fetch(soon)
        return value

    def _fetch(self, cell: int) -> None:
        if len(self._lines) == self._most + self._ahead:
            self._drop(next(iter(self._lines)))
        self._lines[cell] = (self.array.read(cell), False)

    def _flush(self, offset: int) -> None:
        if offset // CELL_BYTES in self._lines:
            self._drop(offset // CELL_BYTES)

    def _drop(self, cell: int) -> None:
        value, changed = self._lines.pop(cell)
        if changed:
            self.array.write(cell, value)


class Prover:
    """One test in one mode, compiled once, run on any fault; ``pausing`` leaves the array alone before each pass."""

    def __init__(
        self, elements: tuple[Element, ...], mode: ProofMode, cells: int = CELLS, pausing: bool = False, ahead: int = 0
    ) -> None:
        self._cells, self._pausing = cells, pausing
        self._bus = Bus(0 if mode is ProofMode.DIRECT else max(1, cells // CACHE_PART), cells, ahead)
        shape = Shape(1, CELL_BYTES, self._bus.addresses)
        flushed = mode in (ProofMode.FLUSHED, ProofMode.BLOCKS)
        # As on memory, except that nothing is known of its first contents and one background is enough for single bits.
        passes = list(lap_passes(elements, (0,)))
        self._sweeps: list[tuple[Pass, Sweep]] = []
        for one in passes:
            parts = paired(one.operations) if mode is ProofMode.BLOCKS else (one.operations,)
            self._sweeps += [(one, Sweep(part, one.ascending, flushed=flushed)) for part in parts]
        self._kernels = SweepKernels(this_processor(), [sweep for _, sweep in self._sweeps], shape)

    def finds(self, fault: Fault | None) -> bool:
        """Whether the fault is found from either content."""
        return all(self._finds_from(fault, initially) for initially in (0, 1))

    def _finds_from(self, fault: Fault | None, initially: int) -> bool:
        array = FaultyArray(self._cells, fault, initially)
        self._bus.attach(array)
        for one, sweep in self._sweeps:
            if self._pausing:
                array.pause()
            if self._kernels.run(sweep, 0, 0, self._cells, one.words) is not None:
                return True
        return False


class CopyProver:
    """The load ``copy`` on any fault: there and back between two halves of the array, each looked at after the move.
    What it writes is the opposite of what stands there; a bit of one half is what the other's is, or its opposite: a
    fault counts as found when it is found with either.
    """

    def __init__(self, mode: ProofMode, cells: int = CELLS, ahead: int = 0) -> None:
        self._half = cells // 2
        self._bus = Bus(0 if mode is ProofMode.DIRECT else max(1, cells // CACHE_PART), 2 * self._half, ahead)
        shape = Shape(1, CELL_BYTES, self._bus.addresses)
        processor = this_processor()
        self._copier = Copier(processor, WORDS, shape)
        self._sweeps = SweepKernels(processor, [WRITE, VERIFY], shape)

    def finds(self, fault: Fault | None) -> bool:
        """Whether the fault is found, whatever the array and its halves hold at first."""
        firsts = ([0, 0], [0, ALL_ONES])
        return all(self._finds_from(fault, initially, list(words)) for initially in (0, 1) for words in firsts)

    def _finds_from(self, fault: Fault | None, initially: int, words: list[int]) -> bool:
        self._bus.attach(FaultyArray(2 * self._half, fault, initially))
        for half in (0, 1):
            self._sweep(WRITE, half, words[half])
        return any(self._moves(way, words) for way in (0, 1, 0, 1))

    def _moves(self, way: int, words: list[int]) -> bool:
        bases, to = (0, self._half * CELL_BYTES), 1 - way
        turn = words[0] ^ words[1] ^ ALL_ONES
        held = (words[way], words[to])
        if self._copier.run(bases[way], bases[to], (0, self._half), held, turn) is not None:
            return True
        words[to] ^= ALL_ONES
        return self._sweep(VERIFY, to, words[to])

    def _sweep(self, sweep: Sweep, half: int, word: int) -> bool:
        first = half * self._half
        return self._sweeps.run(sweep, 0, first, first + self._half, (word, 0, 0)) is not None


def prove(
    tests: Iterable[tuple[str, str]] = (*MARCH_TESTS.items(), (RETAIN, KEPT), (COPY, MOVES)),
    modes: Iterable[ProofMode] = tuple(ProofMode),
    cells: int = CELLS,
    progress: Callable[[str], object] = lambda _: None,
    ahead: int = 0,
) -> list[FoundFault]:
    """Count what each test finds in each mode. ``tests`` are names with notations; ``retain`` is done with pauses, and
    ``copy`` knows no modes: it is cached, or it reaches the array.
    """
    faults: dict[Model, list[Fault]] = {model: [] for model in Model}
    for fault in all_faults(cells):
        faults[fault.model].append(fault)
    table = []
    for name, notation in tests:
        for mode in modes:
            if name == COPY and mode not in (ProofMode.DIRECT, ProofMode.CACHED):
                continue
            progress(f"{name}, {mode}")
            prover = (
                CopyProver(mode, cells, ahead)
                if name == COPY
                else Prover(parse_march(notation), mode, cells, pausing=name == RETAIN, ahead=ahead)
            )
            for model, ones in faults.items():
                found = sum(prover.finds(fault) for fault in ones)
                table.append(FoundFault(name, mode, model, found, len(ones)))
    return table
