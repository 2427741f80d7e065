"""Arithmetic on a card that must come back to where it began: whole numbers and floating point, all of it exact.

Each invocation takes its own numbers some rounds forward, by steps of which each can be undone, and the same rounds
back. Floating point goes by whole numbers below 2^24, where every product and sum is exact, so that the order of
operations or a fused multiply-add make no difference. Half-way there is a digest of all, which must be the same each
time; there roots, sines and powers are in it too, which are not exact and yet always the same on one card.
"""

import struct
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from tenaz.loads.graphics.digests import DIGEST_BYTES
from tenaz.loads.graphics.opened import OpenCard, Submissions
from tenaz.loads.graphics.programs import program

WORKGROUP = 64
MODULUS = 4093
"""A prime below 2^12: a product of two numbers below it, and one more, is below 2^24."""
FACTORS = (1234, 2777, 3011, 1999)
STEPS = (77, 1313, 2501, 3907)
OPERATIONS = 96
"""Of one round there and back, an invocation's: sums, products, shifts and comparisons, each counted once."""
MOST_TOLD = 32
_HEAD, _ENTRY, _ASK = struct.Struct("<4I"), struct.Struct("<4I4I4I"), struct.Struct("<4I")
NOBODY = 0xFFFF_FFFF


def code() -> str:
    """The program."""
    return program(
        "mixed",
        "rounds",
        UNDOING=", ".join(f"{pow(one, -1, MODULUS)}.0" for one in FACTORS),
        FACTORS=", ".join(f"{one}.0" for one in FACTORS),
        STEPS=", ".join(f"{one}.0" for one in STEPS),
        MODULUS=MODULUS,
        WORKGROUP=WORKGROUP,
        MOST_TOLD=MOST_TOLD,
    )


@dataclass(frozen=True, slots=True)
class NotBack:
    """An invocation whose numbers did not come back: which, and the first pair that differs as 64-bit words."""

    at: int
    expected: int
    read: int


@dataclass(frozen=True, slots=True)
class Reckoned:
    """What came of one submission: those that did not come back (all counted, some told), and the digests half-way of
    all workgroups, in their order.
    """

    wrong: int
    not_back: tuple[NotBack, ...]
    digests: bytes


def _reckoned(data: bytes) -> Reckoned:
    (wrong, *_) = _HEAD.unpack_from(data)
    told = []
    for number in range(min(wrong, MOST_TOLD)):
        at, _, _, _, *values = _ENTRY.unpack_from(data, _HEAD.size + number * _ENTRY.size)
        pairs = zip(values[:4], values[4:], strict=True)
        place, (expected, read) = next((k, pair) for k, pair in enumerate(pairs) if pair[0] != pair[1])
        told.append(NotBack(at * 4 + place, expected, read))
    told.sort(key=lambda one: one.at)
    return Reckoned(wrong, tuple(told), data[_HEAD.size + MOST_TOLD * _ENTRY.size :])


class Reckoner:
    """Runs rounds of arithmetic on a card, in so many workgroups."""

    def __init__(self, card: OpenCard, groups: int, change: Callable[[str], str] = lambda text: text) -> None:
        self._card, self.groups = card, groups
        size = _HEAD.size + MOST_TOLD * _ENTRY.size + groups * DIGEST_BYTES
        self.submissions = Submissions(card, size)
        self._program = card.program(change(code()))
        self._asked = [card.uniform(_ASK.size) for _ in self.submissions.answers]
        pairs = zip(self.submissions.answers, self._asked, strict=True)
        self._bound = [card.bound(self._program, pair) for pair in pairs]

    def run(self, rounds: int, seed: int, then: Callable[[Reckoned], None], spoilt: int = NOBODY) -> None:
        """So many rounds there and back; ``then`` is told what came of it, in order, while the next is under way. The
        numbers of the ``spoilt`` invocation get a wrong bit half-way.
        """
        slot = self.submissions.slot()
        self._card.device.queue.write_buffer(self._asked[slot], 0, _ASK.pack(rounds, seed, spoilt, 0))

        def encode(encoder: Any) -> None:
            compute = encoder.begin_compute_pass()
            compute.set_pipeline(self._program)
            compute.set_bind_group(0, self._bound[slot])
            compute.dispatch_workgroups(self.groups)
            compute.end()

        self.submissions.submit(encode, lambda data: then(_reckoned(data)))

    def operations(self, rounds: int) -> float:
        """What one submission does."""
        return float(self.groups * WORKGROUP * rounds * OPERATIONS)

    def drain(self) -> None:
        """Wait for all that is under way."""
        self.submissions.drain()
