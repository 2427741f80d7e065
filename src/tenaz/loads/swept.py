"""A block of memory under passes: swept in pieces, in a stated mode, each mismatch looked at twice.

What it strains: the cell array and the controller's streaming reads, writes and turn-rounds. Blocks are far larger than
the last-level cache, so each pass reaches the memory; what an element repeats on a cell does so only in the mode
``blocks``, which see :class:`tenaz.core.loads.plan.MarchMode`.
"""

import time
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import partial

from tenaz.core.loads.plan import MarchMode
from tenaz.loads.budget import CHUNK_BYTES
from tenaz.loads.kernels.sweep import GROUP_BYTES, Hit, Sweep, SweepKernels
from tenaz.loads.looking import look_again, words_of
from tenaz.loads.march import HELD_BEFORE, Pass, paired
from tenaz.loads.memory import Block
from tenaz.loads.patterns import WORDS, Filled, Pattern
from tenaz.loads.worker import Line

FLUSHED_BLOCK_BYTES = 1024 * 1024
"""Smaller blocks lose speed to the fence at their ends."""

LISTEN_EVERY_S = 0.1


@dataclass(frozen=True, slots=True)
class SweepStep:
    """A pass over the block with its pattern, and that of what stood there ``before``, where it was another;
    ``pause_s``: how long the block is left alone before.
    """

    one: Pass
    pattern: Pattern = WORDS
    pause_s: float = 0.0
    before: Pattern | None = None

    def show(self) -> str:
        """The pass, and how long the block was left alone before."""
        return self.one.show() + (f" after {self.pause_s:g} s alone" if self.pause_s else "")


def sweeps_of(steps: Iterable[SweepStep], mode: MarchMode) -> Iterator[Sweep]:
    """The machine code that steps need."""
    for step in steps:
        parts = paired(step.one.operations) if mode is MarchMode.BLOCKS else (step.one.operations,)
        for part in parts:
            before = step.before if any(one.value == HELD_BEFORE for one in part) else None
            yield Sweep(part, step.one.ascending, step.pattern, mode is not MarchMode.CACHED, before)


class SweptBlock:
    """A block under test, and how far the load is in it."""

    def __init__(self, block: Block, kernels: SweepKernels, line: Line, mode: MarchMode) -> None:
        self._block, self._kernels, self._line, self._mode = block, kernels, line, mode
        self._lap = 1
        self._steps_done, self._steps_in_lap = 0, 1
        self._verified, self._pauses, self._waited = 0.0, 0, 0

    def lap(self, number: int, steps: list[SweepStep]) -> bool:
        """One lap; False when stopped on the way."""
        self._lap, self._steps_done, self._steps_in_lap = number, 0, len(steps)
        self._pauses = sum(step.pause_s > 0 for step in steps)
        for step in steps:
            if not self._pause(step.pause_s) or not self._pass(step):
                return False
            self._steps_done += 1
            self._waited += step.pause_s > 0
        return True

    def _cover(self, step: SweepStep, part: float) -> None:
        """Tell how much has been verified, a part of a pass being done. Where the block is to be left alone, only what
        is read after that says anything.
        """
        if self._lap > 1 or not step.one.operations[0].reads:
            return
        if self._pauses:
            covered = (self._waited + part * (step.pause_s > 0)) / self._pauses
        else:
            self._verified = max(self._verified, part)
            covered = min(self._verified, self.laps_done(part))
        self._line.covered = max(self._line.covered, covered)

    def laps_done(self, part_of_pass: float) -> float:
        """Laps as a fraction."""
        return self._lap - 1 + (self._steps_done + part_of_pass) / self._steps_in_lap

    def _pause(self, pause_s: float) -> bool:
        """Leave the block alone; False when stopped meanwhile."""
        until = time.monotonic() + pause_s
        while (left := until - time.monotonic()) > 0 and not self._line.stopping:
            words = f"waiting {pause_s:g} s, {left:.0f} left"
            self._line.worked(self.laps_done(0.0), 0.0, words)
            self._line.pause(min(LISTEN_EVERY_S, left))
        return not self._line.stopping

    def _pass(self, step: SweepStep) -> bool:
        """A pass, piece by piece, so that a stop is heard at once."""
        piece = FLUSHED_BLOCK_BYTES if self._mode is MarchMode.BLOCKS else CHUNK_BYTES
        pieces = self._block.size // piece
        groups = piece // GROUP_BYTES
        order = range(pieces) if step.one.ascending else range(pieces - 1, -1, -1)
        parts = list(sweeps_of([step], self._mode))
        traffic = step.one.paired_traffic if self._mode is MarchMode.BLOCKS else step.one.traffic
        for done, at in enumerate(order):
            if self._line.stopping:
                return False
            for part in parts:
                self._sweep(step, part, at * groups, (at + 1) * groups)
            self._cover(step, (done + 1) / pieces)
            self._line.worked(self.laps_done((done + 1) / pieces), piece * traffic, step.one.show)
        return True

    def _sweep(self, step: SweepStep, sweep: Sweep, first: int, last: int) -> None:
        while first < last and not self._line.stopping:
            hit = self._kernels.run(sweep, self._block.address, first, last, step.one.words)
            if hit is None:
                return
            self._examine(step, sweep, hit)
            first, last = (hit.group + 1, last) if sweep.ascending else (first, hit.group)

    def _examine(self, step: SweepStep, sweep: Sweep, hit: Hit) -> None:
        """Look again at a group that mismatched, tell what is wrong, and finish it as if it had been right."""
        read_value = sweep.operations[hit.operation].value
        left = [one.value for one in sweep.operations[hit.operation :] if not one.reads]
        final_value = left[-1] if left else read_value
        words = step.one.words
        look_again(
            self._block.address,
            words_of(hit.group, GROUP_BYTES),
            Filled(sweep.pattern_of(read_value), words[read_value]),
            Filled(sweep.pattern_of(final_value), words[final_value]),
            self._kernels.flush,
            partial(self._line.wrong_word, self._lap, where=step.show()),
        )
