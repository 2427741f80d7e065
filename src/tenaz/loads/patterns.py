"""What is written where: a pattern gives each word of a block a value out of its offset.

Every pattern is linear: the value of a word is a function of its offset alone, exclusive-or a parameter. So one
function serves for a background and its complement, and for every seed.
"""

from dataclasses import dataclass
from enum import StrEnum

ALL_ONES = 0xFFFF_FFFF_FFFF_FFFF

HASH_SHIFTS = ((13, 7, 17), (9, 11, 19))
"""Left, right, left: two rounds of exclusive-or shifts (Marsaglia 2003), each of them a bijection of 64-bit words. The
first triple is his; two rounds are needed because offsets are small numbers.
"""


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
        word = offset
        for left, right, last in HASH_SHIFTS:
            word ^= word << left & ALL_ONES
            word ^= word >> right
            word ^= word << last & ALL_ONES
        return word

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
