"""``transform`` in a worker: Fourier transforms there and back over a block sized to a cache level.

What it strains: multiply-add units at full width, with loads and stores at the bandwidth of the chosen level.
"""

import struct
import time

from tenaz.core.loading import Mismatch, MismatchKind
from tenaz.loads.budget import transform_points
from tenaz.loads.kernels.fourier import Digest, FourierKernels, WrongPoint, flop_of_round_trip
from tenaz.loads.kernels.native import this_processor
from tenaz.loads.memory import Block
from tenaz.loads.spec import Spec
from tenaz.loads.worker import Line

CALL_S = 0.03
"""Length of one call into machine code that the number of rounds aims at: a stop is heard that soon."""

SEED = 0x7E4A2


def _bits(value: float) -> int:
    return int(struct.unpack("<Q", struct.pack("<d", value))[0])


class TransformBlock:
    """A block under transform: runs rounds, and looks at a wrong one again."""

    def __init__(self, kernels: FourierKernels, data: int, line: Line) -> None:
        self._kernels = kernels
        self._data = data
        self._line = line
        self.laps = 0

    def first_digest(self) -> Digest:
        """Fill the block and learn the digest that every round must repeat."""
        digest, wrong = self._kernels.first_digest(self._data, SEED)
        self._tell_points(wrong, repeated=False)
        return digest

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
        self._line.wrong(
            Mismatch(
                worker=self._line.spec.worker,
                at_s=self._line.elapsed_s(),
                lap=self.laps,
                address=address,
                expected=expected,
                read=read,
                read_again=again,
                kind=MismatchKind.COMPUTED,
                where=where,
            )
        )


def run_transform(spec: Spec, line: Line) -> float:
    """Transform until told to stop or until the laps are done; a lap is the block once there and back."""
    processor = this_processor()
    lanes = processor.arithmetic_bits // 64
    kernels = FourierKernels(processor, transform_points(spec.level, spec.size, lanes))
    block = Block(kernels.block_bytes)
    block.populate(line.preparing)
    line.wait_for_go(address=block.address, bytes=block.size, locked=block.locked_bytes)
    running = TransformBlock(kernels, block.address, line)
    reference = running.first_digest()
    flop = flop_of_round_trip(kernels.points, kernels.lanes)
    count = 1
    while not line.stopping and running.laps != spec.laps:
        if spec.laps is not None:
            count = min(count, spec.laps - running.laps)
        before, started = running.laps, time.monotonic()
        running.rounds(count, reference)
        took = time.monotonic() - started
        done = running.laps - before
        line.worked(running.laps, done * flop, lambda: f"{kernels.points} points × {kernels.lanes}")
        count = max(1, int(done * CALL_S / max(took, 1e-6)))
    return float(running.laps)
