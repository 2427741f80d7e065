"""What is written where: a pattern gives each word of a block a value out of its offset.

Every pattern is linear: the value of a word is a function of its offset alone, exclusive-or a parameter. So one
function serves for a background and its complement, and for every seed.
"""

from dataclasses import dataclass
from enum import StrEnum

ALL_ONES = 0xFFFF_FFFF_FFFF_FFFF

HASH_BLOCK_BYTES = 256
"""So many bytes share one hash, which is arithmetic; each word of them has it turned and with a constant of its own."""
HASH_FACTORS = (0xBF58_476D_1CE4_E5B9, 0x94D0_49BB_1331_11EB)
HASH_SHIFTS = (30, 27, 31)
"""Finisher of a splittable generator (Steele, Lea, Flood 2014): a bijection in which each bit moves half of all."""
HASH_STEP = 0x9E37_79B9_7F4A_7C15
"""Odd, near 2^64 over the golden ratio: its multiples spread evenly."""
HASH_TURN = 23
"""Bits by which the next word is turned further: with 64 it has no common divisor, so that all 64 turns come."""


def hash_of(at: int) -> int:
    """The hash that a stretch of :data:`HASH_BLOCK_BYTES` at a byte offset shares."""
    word = (at + HASH_STEP) & ALL_ONES
    first, second, last = HASH_SHIFTS
    word = (word ^ word >> first) * HASH_FACTORS[0] & ALL_ONES
    word = (word ^ word >> second) * HASH_FACTORS[1] & ALL_ONES
    return word ^ word >> last


def hash_constant(place: int) -> int:
    """What the word at a place within such a stretch has of its own."""
    return (place + 1) * HASH_STEP & ALL_ONES


class PatternKind(StrEnum):
    """Where a word's value comes from."""

    WORDS = "words"
    CHECKER = "checker"
    ADDRESS = "address"
    HASH = "hash"


@dataclass(frozen=True, slots=True)
class Pattern:
    """A pattern; ``shift`` is the logarithm of a checker's squares in bytes (3: words, 6: cache lines)."""

    kind: PatternKind = PatternKind.WORDS
    shift: int = 0

    def at(self, offset: int) -> int:
        """The word at a byte offset, before the parameter."""
        if self.kind is PatternKind.WORDS:
            return 0
        if self.kind is PatternKind.CHECKER:
            return ALL_ONES if offset >> self.shift & 1 else 0
        if self.kind is PatternKind.ADDRESS:
            return offset
        place = offset % HASH_BLOCK_BYTES // 8
        word, turn = hash_of(offset - offset % HASH_BLOCK_BYTES), HASH_TURN * place % 64
        # Shifts of a word that is no multiple of eight keep their offset within it.
        turned = (word << turn | word >> (64 - turn)) & ALL_ONES if turn else word
        return turned ^ hash_constant(place)

    @property
    def name(self) -> str:
        """Part of a function's name."""
        return f"{self.kind}{self.shift or ''}"


@dataclass(frozen=True, slots=True)
class Filled:
    """A block filled with a pattern at a parameter."""

    pattern: Pattern
    word: int

    def at(self, offset: int) -> int:
        """The word at a byte offset."""
        return self.pattern.at(offset) ^ self.word


WORDS = Pattern()
"""Every word holds the parameter itself."""

LINE_SHIFT, ROW_SHIFT, WORD_SHIFT = 6, 13, 3
"""Cache lines of 64 bytes; rows of 8 KiB, the page of a common memory rank; words of 8 bytes."""
