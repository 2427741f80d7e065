"""Looking again at a stretch of memory that mismatched, and putting it right."""

import ctypes
from collections.abc import Callable

from tenaz.core.loading import MismatchKind

WORD_BYTES = 8

Tell = Callable[[int, tuple[int, int, int], MismatchKind], None]
"""Told address, (expected, read, read again) and what that shows."""


def look_again(
    start: int,
    length: int,
    expected: Callable[[int], int],
    right: Callable[[int], int],
    flush: Callable[[int], None],
    tell: Tell,
) -> None:
    """Tell each wrong word of a stretch, read once more from memory, and write every word as it has to be.

    ``expected`` and ``right`` give a word by its offset in the stretch. Where nothing is wrong at the second look, the
    comparison itself was: that is told too.
    """
    found = False
    for offset in range(0, length, WORD_BYTES):
        word = ctypes.c_uint64.from_address(start + offset)
        wanted, read = expected(offset), word.value
        if read != wanted:
            flush(start + offset)
            again = word.value
            kind = MismatchKind.STORED if again == read else MismatchKind.ON_THE_WAY
            tell(start + offset, (wanted, read, again), kind)
            found = True
        word.value = right(offset)
    if not found:
        wanted = expected(0)
        tell(start, (wanted, wanted, wanted), MismatchKind.COMPARED)
