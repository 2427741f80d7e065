"""``copy`` in a worker: bulk moves between two far regions, verified on both sides, each word written turned over.

What it strains: the bus at its turn-rounds, and the controller's queues: reads of one region between writes of another.
Whatever a move writes is the opposite, bit for bit, of what stands there, so that a lost write or a stuck cell shows;
at its end all that it wrote is read.
"""

from functools import partial
from itertools import chain

from tenaz.loads.budget import CHUNK_BYTES
from tenaz.loads.kernels.native import this_processor
from tenaz.loads.kernels.sweep import GROUP_BYTES, Sweep, SweepKernels
from tenaz.loads.kernels.visits import Copier
from tenaz.loads.looking import look_again, words_of
from tenaz.loads.march import Operation
from tenaz.loads.memory import Block
from tenaz.loads.patterns import ALL_ONES, Filled, Pattern, PatternKind
from tenaz.loads.planted import in_moves, in_sweeps
from tenaz.loads.spec import Spec
from tenaz.loads.tried import Checked
from tenaz.loads.worker import Line

PATTERN = Pattern(PatternKind.HASH)
WRITE = Sweep((Operation(False, 0),), True, PATTERN)
VERIFY = Sweep((Operation(True, 0),), True, PATTERN)
FIRST = (0, 0x5A5A_5A5A_5A5A_5A5A)
"""Of the two regions, what their patterns begin with: half of the bits of two words on one way differ."""
MOVED, READ = 0.75, 0.25
"""A move crosses the bus three times, the look at what it wrote once."""
PIECE_BYTES = CHUNK_BYTES // 2
"""So that the smallest block still has two regions."""
PIECE_GROUPS = PIECE_BYTES // GROUP_BYTES


class Moves:
    """Two regions of one block, and the parameter of what each holds."""

    def __init__(self, block: Block, copier: Copier, sweeps: SweepKernels, line: Line) -> None:
        self._copier, self._sweeps, self._line = copier, sweeps, line
        self.groups = block.size // 2 // PIECE_BYTES * PIECE_GROUPS
        self.regions = (block.address, block.address + self.groups * GROUP_BYTES)
        self._words = list(FIRST)
        self.moves = 0

    @property
    def _pieces(self) -> range:
        return range(0, self.groups, PIECE_GROUPS)

    def write(self) -> None:
        """Fill both regions."""
        for base, word in zip(self.regions, self._words, strict=True):
            for first in self._pieces:
                if self._line.stopping:
                    return
                self._sweeps.run(WRITE, base, first, first + PIECE_GROUPS, (word, 0, 0))
                self._line.worked(0.0, PIECE_BYTES, "writing")

    def move(self) -> bool:
        """Move everything to the other region and look at it there; False when stopped on the way."""
        way = self.moves % 2
        for first in self._pieces:
            if not self._move(way, first, first + PIECE_GROUPS):
                return False
            self._worked(MOVED * (first + PIECE_GROUPS) / self.groups, 3, ("there", "and back")[way])
        self._words[1 - way] ^= ALL_ONES
        for first in self._pieces:
            if not self._verify(1 - way, first, first + PIECE_GROUPS):
                return False
            part = (first + PIECE_GROUPS) / self.groups
            self._line.covered = max(self._line.covered, min(1.0, (self.moves + part) / 2))
            self._worked(MOVED + READ * part, 1, f"looking at what went {('there', 'back')[way]}")
        self.moves += 1
        return True

    def _worked(self, part: float, crossings: int, doing: str) -> None:
        self._line.worked((self.moves + part) / 2, crossings * PIECE_BYTES, doing)

    def _move(self, way: int, first: int, last: int) -> bool:
        base, to = self.regions[way], self.regions[1 - way]
        words = (self._words[way], self._words[1 - way])
        turn = words[0] ^ words[1] ^ ALL_ONES
        while first < last and not self._line.stopping:
            hit = self._copier.run(base, to, (first, last), words, turn)
            if hit is None:
                return True
            group, there = hit
            self._look(to if there else base, group, words[there])
            if not there and self._differs(to, group, words[1]):
                self._look(to, group, words[1])
            # What was looked at may go wrong again at once: the group is moved from here.
            self._put(to, group, words[1] ^ ALL_ONES)
            first = group + 1
        return not self._line.stopping

    def _verify(self, where: int, first: int, last: int) -> bool:
        base, word = self.regions[where], self._words[where]
        while first < last and not self._line.stopping:
            hit = self._sweeps.run(VERIFY, base, first, last, (word, 0, 0))
            if hit is None:
                return True
            self._look(base, hit.group, word)
            first = hit.group + 1
        return not self._line.stopping

    def _look(self, base: int, group: int, word: int) -> None:
        right = Filled(PATTERN, word)
        tell = partial(self._line.wrong_word, 1 + self.moves // 2, where="in a move")
        look_again(base, words_of(group, GROUP_BYTES), right, right, self._sweeps.flush, tell)

    def _differs(self, base: int, group: int, word: int) -> bool:
        return self._sweeps.run(VERIFY, base, group, group + 1, (word, 0, 0)) is not None

    def _put(self, base: int, group: int, word: int) -> None:
        self._sweeps.run(WRITE, base, group, group + 1, (word, 0, 0))


def run(spec: Spec, line: Line) -> float:
    """Lap after lap; a lap is there and back."""
    processor = this_processor()
    sweeps, copier = SweepKernels(processor, [WRITE, VERIFY]), Copier(processor, PATTERN)
    block = line.take_block()
    line.wait_for_go(address=block.address, bytes=block.size, locked=block.locked_bytes)
    moves = Moves(block, copier, sweeps, line)
    moves.write()
    in_move, in_sweep = in_moves(copier, moves.regions, moves.groups, PATTERN), in_sweeps(sweeps, block)
    line.check_by(Checked(lambda luck: chain(in_move(luck), in_sweep(luck))))
    while not line.stopping and moves.moves // 2 != spec.plan.laps:
        if not moves.move():
            break
    return moves.moves / 2
