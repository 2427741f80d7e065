"""A card's memory gone over by programs that the card runs itself: each word written and verified there.

A word is 64 bits, two lanes of a vector. A sweep is at most one read and one write a word: what a program reads again
of what it has just written comes out of its registers, so elements with more operations are several sweeps. What
differs from what was expected is left as it stands, told with its place and value, and looked at once more.
"""

import struct
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from tenaz.loads.graphics.opened import OpenCard, Submissions
from tenaz.loads.graphics.programs import program
from tenaz.loads.march import Operation
from tenaz.loads.patterns import PatternKind

VECTOR_BYTES = 16
WORKGROUP = 64
EACH = 32
"""Vectors that one invocation goes over; its neighbours have those beside them."""
PIECE_VECTORS = WORKGROUP * EACH
PIECE_BYTES = PIECE_VECTORS * VECTOR_BYTES
"""What a workgroup goes over; a sweep goes over a multiple of it."""
MOST_PIECES = 32768
"""Of one sweep: more workgroups in a row no card promises to take."""
MOST_TOLD = 64
"""Wrong vectors told of one sweep; there may be more."""

_HEAD, _ENTRY = struct.Struct("<4I"), struct.Struct("<4I4Q")
ANSWER_BYTES = _HEAD.size + MOST_TOLD * _ENTRY.size
_ASK = struct.Struct("<QII6QII8x")

_PATTERNS = {
    PatternKind.WORDS: "return vec4<u32>(0u);",
    PatternKind.ADDRESS: """
    let low = ask.base.x + at * 16u;
    let high = ask.base.y + (at >> 28u) + select(0u, 1u, low < ask.base.x);
    return vec4<u32>(low, high, low | 8u, high);""",
    PatternKind.HASH: """
    let seed = at * 4u + (ask.base.x >> 4u) * 0x9E3779B9u + ask.base.y;
    return vec4<u32>(mixed(seed), mixed(seed + 1u), mixed(seed + 2u), mixed(seed + 3u));""",
}
"""A word's value by its place, before the parameter; see :mod:`tenaz.loads.patterns`, whose forms these are."""


@dataclass(frozen=True, slots=True)
class CardSweep:
    """A window or a part of it once through: what is read and then written of each word, which way, in which pattern.
    Values are 0 and 1 for background and complement, 2 for what stood there before, as in :mod:`tenaz.loads.march`.
    """

    reads: int | None
    writes: int | None
    ascending: bool = True
    pattern: PatternKind = PatternKind.WORDS

    @classmethod
    def of(cls, operations: tuple[Operation, ...], ascending: bool, pattern: PatternKind) -> "CardSweep":
        """Of at most one read and one write after it."""
        reads = next((one.value for one in operations if one.reads), None)
        writes = next((one.value for one in operations if not one.reads), None)
        return cls(reads, writes, ascending, pattern)

    @property
    def crossings(self) -> int:
        """Times that each byte is moved."""
        return (self.reads is not None) + (self.writes is not None)

    def code(self) -> str:
        """The program."""
        own = {
            "MOST_TOLD": MOST_TOLD, "PATTERN": _PATTERNS[self.pattern], "WORKGROUP": WORKGROUP, "EACH": EACH,
            "PIECE_VECTORS": PIECE_VECTORS, "PLACE": self._place,
        }  # fmt: skip
        if self.reads is None:
            return program("mixed", "words", "fill", **own, WRITTEN=self.writes)
        write = "" if self.writes is None else f"memory[at] = pattern(at) ^ ask.words[{self.writes}];"
        return program("mixed", "words", "verify", **own, READ=self.reads, WRITE=write)

    @property
    def _place(self) -> str:
        """Where the next vector lies."""
        place = f"begin + k * {WORKGROUP}u"
        return f"ask.first + {place}" if self.ascending else f"ask.first + ask.count - 1u - ({place})"


@dataclass(frozen=True, slots=True)
class WrongWord:
    """A word of a window that was not what it should be: its offset in bytes, what was expected, what was read."""

    offset: int
    expected: int
    read: int


@dataclass(frozen=True, slots=True)
class SweepAnswer:
    """What a sweep found: how many vectors were wrong, the words of those that were told, and the offsets from which on
    something had come wrong that was right when it was looked at again.
    """

    vectors: int
    words: tuple[WrongWord, ...]
    on_the_way: tuple[int, ...] = ()


def _answer(data: bytes) -> SweepAnswer:
    (vectors, *_) = _HEAD.unpack_from(data)
    words, on_the_way = [], []
    for number in range(min(vectors, MOST_TOLD)):
        at, _, _, _, *values = _ENTRY.unpack_from(data, _HEAD.size + number * _ENTRY.size)
        if values[:2] == values[2:]:
            on_the_way.append(at * VECTOR_BYTES)
        for half in range(2):
            if values[half] != values[2 + half]:
                words.append(WrongWord(at * VECTOR_BYTES + 8 * half, values[half], values[2 + half]))
    return SweepAnswer(vectors, tuple(sorted(words, key=lambda one: one.offset)), tuple(sorted(on_the_way)))


class Window:
    """A stretch of the card's memory that programs see at once. ``base`` is its offset in all that is gone over."""

    def __init__(self, buffer: Any, base: int, size: int) -> None:
        self.buffer, self.base, self.size = buffer, base, size


class Sweeper:
    """Runs sweeps over windows of a card; what each found is told to ``then``, in order, while the next runs."""

    def __init__(self, card: OpenCard, change: Callable[[str], str] = lambda code: code) -> None:
        self._card, self._change = card, change
        self._programs: dict[CardSweep, Any] = {}
        self._bound: dict[tuple[CardSweep, int, int], Any] = {}
        self.submissions = Submissions(card, ANSWER_BYTES)
        self._asked = [card.uniform(_ASK.size) for _ in self.submissions.answers]

    def prepare(self, sweep: CardSweep) -> None:
        """Have its program ready."""
        if sweep not in self._programs:
            self._programs[sweep] = self._card.program(self._change(sweep.code()))

    def run(
        self,
        sweep: CardSweep,
        window: Window,
        part: tuple[int, int],
        words: tuple[int, int, int],
        then: Callable[[SweepAnswer], None] = lambda _: None,
    ) -> None:
        """One sweep over a part of a window, from one byte up to another, both multiples of :data:`PIECE_BYTES`."""
        self.prepare(sweep)
        slot = self.submissions.slot()
        first, count = part[0] // VECTOR_BYTES, (part[1] - part[0]) // VECTOR_BYTES
        doubled = [word for one in words for word in (one, one)]
        self._card.device.queue.write_buffer(self._asked[slot], 0, _ASK.pack(window.base, first, count, *doubled, 0, 0))
        key = (sweep, id(window), slot)
        if key not in self._bound:
            resources = [window.buffer, self.submissions.answers[slot], self._asked[slot]]
            if sweep.reads is None:
                resources = [resources[0], None, resources[2]]
            self._bound[key] = self._card.bound(self._programs[sweep], resources)

        def encode(encoder: Any) -> None:
            compute = encoder.begin_compute_pass()
            compute.set_pipeline(self._programs[sweep])
            compute.set_bind_group(0, self._bound[key])
            compute.dispatch_workgroups(count // PIECE_VECTORS)
            compute.end()

        self.submissions.submit(encode, lambda data: then(_answer(data)))

    def drain(self) -> None:
        """Wait for all that is under way."""
        self.submissions.drain()

    def read(self, window: Window, offset: int, size: int) -> bytes:
        """What stands there, fetched."""
        return bytes(self._card.device.queue.read_buffer(window.buffer, offset, size))

    def write(self, window: Window, offset: int, data: bytes) -> None:
        """Put something there."""
        self._card.device.queue.write_buffer(window.buffer, offset, data)


def pieces(size: int, step: int) -> Iterator[tuple[int, int]]:
    """Parts of a window, one after the other."""
    for first in range(0, size, step):
        yield first, min(size, first + step)
