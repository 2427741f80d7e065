"""``copy`` in a worker: bulk moves between two far regions, verified as they are read, turned over as they are written.

What it strains: the bus at its turn-rounds, and the controller's queues: reads of one region between writes of another.
"""

from functools import partial

from tenaz.loads.budget import CHUNK_BYTES
from tenaz.loads.kernels.native import this_processor
from tenaz.loads.kernels.sweep import GROUP_BYTES, Sweep, SweepKernels
from tenaz.loads.kernels.visits import Copier
from tenaz.loads.looking import look_again, words_of
from tenaz.loads.march import Operation
from tenaz.loads.memory import Block
from tenaz.loads.patterns import ALL_ONES, Filled, Pattern, PatternKind
from tenaz.loads.spec import Spec
from tenaz.loads.worker import Line

PATTERN = Pattern(PatternKind.HASH)
WRITE = Sweep((Operation(False, 0),), True, PATTERN)
PIECE_BYTES = CHUNK_BYTES // 2
"""So that the smallest block still has two regions."""
PIECE_GROUPS = PIECE_BYTES // GROUP_BYTES


class Moves:
    """Two regions of one block, and the parameter of what each holds."""

    def __init__(self, block: Block, copier: Copier, sweeps: SweepKernels, line: Line) -> None:
        self._copier, self._sweeps, self._line = copier, sweeps, line
        self._groups = block.size // 2 // PIECE_BYTES * PIECE_GROUPS
        self._regions = (block.address, block.address + self._groups * GROUP_BYTES)
        self._words = [0, ALL_ONES]
        self.moves = 0

    def write(self) -> None:
        """Fill both regions."""
        for base, word in zip(self._regions, self._words, strict=True):
            for first in range(0, self._groups, PIECE_GROUPS):
                if self._line.stopping:
                    return
                self._sweeps.run(WRITE, base, first, first + PIECE_GROUPS, (word, 0, 0))
                self._line.worked(0.0, PIECE_BYTES, "writing")

    def move(self) -> bool:
        """Move everything to the other region; False when stopped on the way."""
        way = self.moves % 2
        for first in range(0, self._groups, PIECE_GROUPS):
            if self._line.stopping:
                return False
            self._piece(way, first, first + PIECE_GROUPS)
            laps = (self.moves + (first + PIECE_GROUPS) / self._groups) / 2
            self._line.worked(laps, 3 * PIECE_BYTES, ("there", "and back")[way])
        self.moves += 1
        self._words[1 - way] = self._words[way] ^ ALL_ONES
        return True

    def _piece(self, way: int, first: int, last: int) -> None:
        base, to = self._regions[way], self._regions[1 - way]
        words = (self._words[way], self._words[1 - way])
        while hit := self._copier.run(base, to, (first, last), words, ALL_ONES):
            group, there = hit
            self._look(to if there else base, group, words[there])
            # What was looked at is right again, so the move can be made from there.
            first = group

    def _look(self, base: int, group: int, word: int) -> None:
        right = Filled(PATTERN, word)
        tell = partial(self._line.wrong_word, 1 + self.moves // 2, where="in a move")
        look_again(base, words_of(group, GROUP_BYTES), right, right, self._sweeps.flush, tell)


def run(spec: Spec, line: Line) -> float:
    """Lap after lap; a lap is there and back."""
    processor = this_processor()
    sweeps, copier = SweepKernels(processor, [WRITE]), Copier(processor, PATTERN)
    block = line.take_block()
    line.wait_for_go(address=block.address, bytes=block.size, locked=block.locked_bytes)
    moves = Moves(block, copier, sweeps, line)
    moves.write()
    while not line.stopping and moves.moves // 2 != spec.plan.laps:
        if not moves.move():
            break
    return moves.moves / 2
