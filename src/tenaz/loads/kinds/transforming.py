"""``transform`` in a worker: Fourier transforms there and back over a block sized to a cache level.

What it strains: multiply-add units at full width, with loads and stores at the bandwidth of the chosen level.
"""

import ctypes
import hashlib
import struct
import time
from collections.abc import Callable, Iterator, Sequence
from itertools import chain
from random import SystemRandom

from tenaz.core.loads.plan import MismatchKind
from tenaz.loads.budget import transform_points
from tenaz.loads.kernels.fourier import Digest, FourierKernels, WrongPoint, flop_of_round_trip
from tenaz.loads.kernels.native import this_processor
from tenaz.loads.kernels.twiddles import factors, wrong_factors
from tenaz.loads.memory import Block
from tenaz.loads.spec import Spec
from tenaz.loads.tried import Checked, Plant, told
from tenaz.loads.worker import Line

CALL_S = 0.03
"""Length of one call into machine code that the number of rounds aims at: a stop is heard that soon."""

STAY_S, LONG_S = 2.0, 3600.0
"""How long a walk stays at each size; how long a load of one size works before it looks up."""

SEED = 0x7E4A2

SHORT_ROUND_S = 1e-3
"""Rounds as short as this are planted with errors in every lane, longer ones in one each time."""

WHOLE_BITS = 11
"""Of the whole numbers that a round begins with, beside their sign."""


def _bits(value: float) -> int:
    return int(struct.unpack("<Q", struct.pack("<d", value))[0])


class TransformBlock:
    """A block under transform: runs rounds, and looks at a wrong one again."""

    def __init__(self, kernels: FourierKernels, line: Line) -> None:
        self._kernels = kernels
        self._line = line
        self._memory = Block(kernels.block_bytes)
        self._data = self._memory.address
        self._round_s = 1e-4
        self._taken = 0
        self.laps = 0
        self.flop = flop_of_round_trip(kernels.points, kernels.lanes)

    def place(self, go_on: Callable[[float], bool]) -> None:
        """Bring its memory in."""
        self._memory.populate(go_on)

    @property
    def described(self) -> dict[str, int]:
        """Its memory, as the parent is told of it."""
        return {"address": self._memory.address, "bytes": self._memory.size, "locked": self._memory.locked_bytes}

    def learn(self) -> None:
        """Fill the block and learn the digest that every round must repeat."""
        table = self._kernels.table
        wrong_places = wrong_factors(self._kernels.points, table)
        right_table = factors(self._kernels.points) if wrong_places else table
        for place in wrong_places:
            found, right = _bits(table[place]), _bits(right_table[place])
            self._tell(table.buffer_info()[0] + 8 * place, right, found, found, f"factor {place} of the transform")
        self._reference, wrong = self._kernels.first_digest(self._data, SEED)
        self._tell_points(wrong, repeated=False)
        self._line.golden(f"transform {self.show()}", hashlib.sha256(bytes(self._reference)).hexdigest())

    def rounds(self, count: int, reference: Digest) -> None:
        """Run rounds; one that is wrong is told, and run once more to see whether it is wrong again."""
        outcome = self._kernels.rounds(self._data, SEED, count, reference)
        self.laps += outcome.good
        if outcome.good == count:
            return
        self.laps += 1
        again = self._kernels.rounds(self._data, SEED, 1, reference)
        self._tell_points(outcome.wrong, repeated=again.good == 0)
        if not outcome.wrong:
            lane = next((k for k in range(self._kernels.lanes) if outcome.digest[k] != reference[k]), 0)
            self._tell(
                self._data,
                reference[lane],
                outcome.digest[lane],
                again.digest[lane],
                f"digest of lane {lane}",
            )

    def _tell_points(self, wrong: list[WrongPoint], repeated: bool) -> None:
        for point in wrong:
            expected, read = _bits(point.expected), _bits(point.read)
            self._tell(
                self._data + 8 * point.slot,
                expected,
                read,
                read if repeated else expected,
                f"slot {point.slot}",
            )

    def _tell(self, address: int, expected: int, read: int, again: int, where: str) -> None:
        self._line.wrong_word(self.laps, address, (expected, read, again), MismatchKind.COMPUTED, where)

    def plants(self, luck: SystemRandom) -> Iterator[Plant]:
        """Errors in what a round begins with, and in the digest that it is to repeat; in each lane of the vectors while
        that is soon done.
        """
        lanes = range(self._kernels.lanes)
        if self._round_s > SHORT_ROUND_S:
            lanes = range(at := luck.randrange(len(lanes)), at + 1)
        for lane in lanes:
            yield lambda lane=lane: self._in_digest(lane, luck.randrange(64))  # type: ignore[misc]
            yield lambda lane=lane: self._in_input(lane, luck)  # type: ignore[misc]

    def _in_digest(self, lane: int, bit: int) -> str:
        wanted = self._reference.__class__(*self._reference)
        wanted[lane] ^= 1 << bit
        outcome = self._kernels.rounds(self._data, SEED, 1, wanted)
        found = not outcome.good and not outcome.wrong and outcome.digest[lane] ^ wanted[lane] == 1 << bit
        return "" if found else told(f"the digest of lane {lane}", bit)

    def _in_input(self, lane: int, luck: SystemRandom) -> str:
        slot = luck.randrange(self._kernels.slots // self._kernels.lanes) * self._kernels.lanes + lane
        bit = luck.randrange(WHOLE_BITS)
        held = ctypes.c_double.from_address(self._data + 8 * slot)
        right = held.value
        held.value = planted = float(int(right) ^ 1 << bit)
        outcome = self._kernels.rounds(self._data, SEED, 1, self._reference)
        found = any((one.slot, one.expected, round(one.read)) == (slot, right, planted) for one in outcome.wrong)
        return "" if found and held.value == right else told(f"slot {slot} of lane {lane}", bit)

    def work(self, most_s: float, laps: int | None = None) -> None:
        """Rounds for about a time, in calls short enough to hear a stop; ``laps`` ends it sooner."""
        until = time.monotonic() + most_s
        while not self._line.stopping and (now := time.monotonic()) < until and self.laps != laps:
            call_s = min(CALL_S, until - now)
            count = max(1, int(call_s / self._round_s))
            if laps is not None:
                count = min(count, laps - self.laps)
            before = self.laps
            self.rounds(count, self._reference)
            done = self.laps - before
            self._round_s = max(1e-9, (time.monotonic() - now) / max(1, done))
            self._line.worked(self.laps, done * self.flop, self.show)

    def burst(self, most_s: float) -> None:
        """Rounds for a moment, without a report; see :meth:`take_work`."""
        began, before = time.monotonic(), self.laps
        self.rounds(max(1, int(most_s / self._round_s)), self._reference)
        self._round_s = max(1e-9, (time.monotonic() - began) / max(1, self.laps - before))

    def take_work(self) -> float:
        """Operations done since this was last asked."""
        done, self._taken = self.laps - self._taken, self.laps
        return done * self.flop

    def show(self) -> str:
        """What it works on."""
        return f"{self._kernels.points} points × {self._kernels.lanes}"


def blocks_of(spec: Spec, line: Line) -> list[TransformBlock]:
    """A block for each size, from the plan's level to the one that it walks to."""
    processor = this_processor()
    lanes = processor.arithmetic_bits // 64
    points = transform_points(spec.plan.level, spec.size, lanes)
    last = transform_points(spec.plan.level_to, spec.size_to, lanes) if spec.plan.level_to else points
    sizes = [points]
    while sizes[-1] < last:
        sizes.append(min(last, 4 * sizes[-1]))
    return [TransformBlock(FourierKernels(processor, size), line) for size in sizes]


def checked(blocks: Sequence[TransformBlock]) -> Checked:
    """The check of blocks, tried."""
    return Checked(lambda luck: chain.from_iterable(block.plants(luck) for block in blocks))


def run(spec: Spec, line: Line) -> float:
    """Transform until told to stop or until the laps are done; a lap is a block once there and back. A walk stays for a
    while at each size.
    """
    blocks = blocks_of(spec, line)
    for block in blocks:
        block.place(line.preparing)
    line.wait_for_go(**blocks[-1].described)
    for block in blocks:
        block.learn()
    line.check_by(checked(blocks))
    while not line.stopping and sum(block.laps for block in blocks) != spec.plan.laps:
        for block in blocks:
            left = None if spec.plan.laps is None else spec.plan.laps - sum(b.laps for b in blocks if b is not block)
            block.work(STAY_S if len(blocks) > 1 else LONG_S, left)
    return float(sum(block.laps for block in blocks))
