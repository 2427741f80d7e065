"""Looking again at a stretch of memory that mismatched, and putting it right."""

import ctypes
from collections.abc import Callable

from tenaz.core.loads.plan import MismatchKind
from tenaz.loads.patterns import Filled

WORD_BYTES = 8

Tell = Callable[[int, tuple[int, int, int], MismatchKind], None]
"""Told address, (expected, read, read again) and what that shows."""


def look_again(
    base: int, stretch: range, expected: Filled, right: Filled, flush: Callable[[int], None], tell: Tell
) -> None:
    """Tell each wrong word of a stretch, read once more from memory, and write every word as it has to be.

    ``stretch`` are byte offsets from ``base``, see :func:`words_of`; ``expected`` and ``right`` give the word at each.
    Where nothing is wrong at the second look, the comparison itself was: that is told too.
    """
    found = False
    for offset in stretch:
        word = ctypes.c_uint64.from_address(base + offset)
        wanted, read = expected.at(offset), word.value
        if read != wanted:
            flush(base + offset)
            again = word.value
            kind = MismatchKind.STORED if again == read else MismatchKind.ON_THE_WAY
            tell(base + offset, (wanted, read, again), kind)
            found = True
        word.value = right.at(offset)
    if not found:
        wanted = expected.at(stretch.start)
        tell(base + stretch.start, (wanted, wanted, wanted), MismatchKind.COMPARED)


def words_of(number: int, unit_bytes: int) -> range:
    """Offsets of the words of one group or line, by its number."""
    return range(number * unit_bytes, (number + 1) * unit_bytes, WORD_BYTES)
