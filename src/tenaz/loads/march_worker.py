"""``march`` in a worker: passes of a march test over a block, each mismatch looked at twice.

What it strains: the cell array and the controller's streaming reads, writes and turn-rounds, through the caches.
Blocks are far larger than the last-level cache, so each pass reaches the memory; repeated operations on one word
inside a pass would not, and the test has none. Addresses are walked in virtual order.
"""

import ctypes

from tenaz.core.loading import Mismatch, MismatchKind
from tenaz.loads.budget import CHUNK_BYTES
from tenaz.loads.kernels.native import this_processor
from tenaz.loads.kernels.sweep import GROUP_BYTES, Sweep, SweepKernels
from tenaz.loads.march import MARCH_C_MINUS, Pass, lap_passes, last_word, parse_march
from tenaz.loads.memory import Block
from tenaz.loads.spec import Spec
from tenaz.loads.worker import Line

WORD_BYTES = 8
CHUNK_GROUPS = CHUNK_BYTES // GROUP_BYTES


class MarchBlock:
    """A block under test, and how far the load is in it."""

    def __init__(self, block: Block, kernels: SweepKernels, line: Line) -> None:
        self._block = block
        self._kernels = kernels
        self._line = line
        self._lap = 1
        self._passes_done = 0
        self._passes_in_lap = 1

    def lap(self, number: int, passes: list[Pass]) -> bool:
        """One lap; False when stopped on the way."""
        self._lap, self._passes_done, self._passes_in_lap = number, 0, len(passes)
        for one in passes:
            if not self._pass(one):
                return False
            self._passes_done += 1
        return True

    def laps_done(self, part_of_pass: float) -> float:
        """Laps as a fraction."""
        return self._lap - 1 + (self._passes_done + part_of_pass) / self._passes_in_lap

    def _pass(self, one: Pass) -> bool:
        chunks = self._block.size // CHUNK_BYTES
        order = range(chunks) if one.ascending else range(chunks - 1, -1, -1)
        for done, chunk in enumerate(order):
            if self._line.stopping:
                return False
            self._sweep_chunk(one, chunk * CHUNK_GROUPS, (chunk + 1) * CHUNK_GROUPS)
            self._line.worked(
                self.laps_done((done + 1) / chunks),
                CHUNK_BYTES * one.traffic,
                one.show,
            )
        return True

    def _sweep_chunk(self, one: Pass, first: int, last: int) -> None:
        sweep = Sweep(one.expected is not None, one.written is not None, one.ascending)
        expected, written = one.expected or 0, one.written or 0
        while first < last and not self._line.stopping:
            hit = self._kernels.run(sweep, self._block.address, first, last, expected, written)
            if hit is None:
                return
            self._examine(one, hit)
            first, last = (hit + 1, last) if one.ascending else (first, hit)

    def _examine(self, one: Pass, group: int) -> None:
        """Look again at a group that mismatched, tell what is wrong, and write it as if it had been right."""
        assert one.expected is not None
        start = self._block.address + group * GROUP_BYTES
        found = False
        for address in range(start, start + GROUP_BYTES, WORD_BYTES):
            word = ctypes.c_uint64.from_address(address)
            read = word.value
            if read != one.expected:
                self._kernels.flush(address)
                again = word.value
                kind = MismatchKind.STORED if again == read else MismatchKind.ON_THE_WAY
                self._tell(one, address, read, again, kind)
                found = True
            word.value = one.expected if one.written is None else one.written
        if not found:
            self._tell(one, start, one.expected, one.expected, MismatchKind.COMPARED)

    def _tell(self, one: Pass, address: int, read: int, again: int, kind: MismatchKind) -> None:
        assert one.expected is not None
        self._line.wrong(
            Mismatch(
                worker=self._line.spec.worker,
                at_s=self._line.elapsed_s(),
                lap=self._lap,
                address=address,
                expected=one.expected,
                read=read,
                read_again=again,
                kind=kind,
                where=one.show(),
            )
        )


def run_march(spec: Spec, line: Line) -> float:
    """Run March C− over all backgrounds, lap after lap; gives the laps done."""
    kernels = SweepKernels(this_processor())
    block = Block(spec.size)
    block.populate(line.preparing)
    line.wait_for_go(address=block.address, bytes=block.size, locked=block.locked_bytes)
    elements = parse_march(MARCH_C_MINUS)
    marched = MarchBlock(block, kernels, line)
    number, holds = 0, None
    while not line.stopping and number != spec.laps:
        number += 1
        if not marched.lap(number, list(lap_passes(elements, holds=holds))):
            return marched.laps_done(0.0)
        holds = last_word(elements)
    return float(number)
