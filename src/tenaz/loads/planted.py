"""Errors planted in a block of memory under load, to try what looks for them: see :mod:`tenaz.loads.tried`.

A stretch of the block itself is filled with what the check expects there, one bit of one word is turned over, the same
machine code as ever is asked, and what stood there before is put back. Each word of a group has its turn: a check is
made of several comparisons, of which each could be blind alone.
"""

import ctypes
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from random import SystemRandom

from tenaz.core.loads.plan import MismatchKind
from tenaz.loads.kernels.sweep import GROUP_BYTES, LINE_BYTES, Sweep, SweepKernels
from tenaz.loads.kernels.visits import Copier, Permutation
from tenaz.loads.looking import WORD_BYTES, look_again, words_of
from tenaz.loads.memory import Block
from tenaz.loads.patterns import ALL_ONES, Filled, Pattern
from tenaz.loads.tried import Plant, told

Words = ctypes.Array[ctypes.c_uint64]


@contextmanager
def borrowed(address: int, size: int) -> Iterator[Words]:
    """The words at an address; what they held is put back at the end."""
    words = (ctypes.c_uint64 * (size // WORD_BYTES)).from_address(address)
    held = bytes(words)
    try:
        yield words
    finally:
        ctypes.memmove(address, held, size)


def fill(words: Words, stretch: range, filled: Filled) -> None:
    """Write what is expected at the offsets of a stretch."""
    for place, offset in enumerate(stretch):
        words[place] = filled.at(offset)


def each_missed(words: Words, luck: SystemRandom, finds: Callable[[int, int], bool], where: str) -> str:
    """Turn over one bit of each word in turn, and back; in words, the first that is not found. ``finds`` is told the
    place of the word and the bit.
    """
    for place in range(len(words)):
        bit = luck.randrange(64)
        words[place] ^= 1 << bit
        found = finds(place, bit)
        words[place] ^= 1 << bit
        if not found:
            return told(f"word {place} of {where}", bit)
    return ""


def in_sweeps(kernels: SweepKernels, block: Block) -> Callable[[SystemRandom], Iterator[Plant]]:
    """Errors before each pass that begins by reading; of one of them each time, that the bit is named as well."""

    def plants(luck: SystemRandom) -> Iterator[Plant]:
        reading = [sweep for sweep in kernels.compiled if sweep.operations[0].reads]
        named = luck.choice(reading) if reading else None
        for sweep in reading:
            yield lambda sweep=sweep: _in_sweep(kernels, block, sweep, luck, sweep is named)  # type: ignore[misc]

    return plants


def _in_sweep(kernels: SweepKernels, block: Block, sweep: Sweep, luck: SystemRandom, named: bool) -> str:
    # As many as the code compares together, so that this is tried too.
    many = kernels.together(sweep)
    group = luck.randrange(block.size // (many * GROUP_BYTES)) * many
    params = (luck.getrandbits(64), luck.getrandbits(64), luck.getrandbits(64))
    read = sweep.operations[0].value
    stretch, expected = words_of(group // many, many * GROUP_BYTES), Filled(sweep.pattern_of(read), params[read])
    with borrowed(block.address + group * GROUP_BYTES, many * GROUP_BYTES) as words:
        fill(words, stretch, expected)
        laid = bytes(words)

        def finds(place: int, bit: int) -> bool:
            hit = kernels.run(sweep, block.address, group, group + many, params)
            if many > 1:
                # What came before it was done by the way: all is laid anew, with the bit as it was turned over.
                ctypes.memmove(block.address + group * GROUP_BYTES, laid, len(laid))
                words[place] ^= 1 << bit
            return hit is not None and (hit.group, hit.operation) == (group + place * WORD_BYTES // GROUP_BYTES, 0)

        missed = each_missed(words, luck, finds, sweep.symbol)
        if missed or not named:
            return missed
        return _unnamed(block.address, words, stretch, expected, kernels.flush, luck)


def _unnamed(
    base: int, words: Words, stretch: range, expected: Filled, flush: Callable[[int], None], luck: SystemRandom
) -> str:
    """Whether the second look names the very bit that was turned over."""
    place, bit = luck.randrange(len(words)), luck.randrange(64)
    right = words[place]
    words[place] = right ^ 1 << bit
    seen: list[tuple[int, int]] = []

    def tell(address: int, read: tuple[int, int, int], _kind: MismatchKind) -> None:
        seen.append((address, read[0] ^ read[1]))

    look_again(base, stretch, expected, expected, flush, tell)
    named = (base + stretch[place], 1 << bit) in seen and words[place] == right
    return "" if named else told(f"word {place}, looked at again,", bit)


def in_lines(
    visits: Permutation, block: Block, pattern: Pattern, kernels: SweepKernels
) -> Callable[[SystemRandom], Iterator[Plant]]:
    """Errors in a line that is visited next."""

    def plant(luck: SystemRandom) -> str:
        line = luck.randrange(block.size // LINE_BYTES)
        word = luck.getrandbits(64)
        stretch, expected = words_of(line, LINE_BYTES), Filled(pattern, word)
        with borrowed(block.address + line * LINE_BYTES, LINE_BYTES) as words:
            fill(words, stretch, expected)
            missed = each_missed(
                words, luck, lambda _place, _bit: visits.finds(block.address, line, word, word ^ ALL_ONES), "a line"
            )
            return missed or _unnamed(block.address, words, stretch, expected, kernels.flush, luck)

    return lambda luck: iter([lambda: plant(luck)])


def in_moves(
    copier: Copier, regions: tuple[int, int], groups: int, pattern: Pattern
) -> Callable[[SystemRandom], Iterator[Plant]]:
    """Errors in a group that is moved next, and in the one that it is moved to."""

    def plant(luck: SystemRandom, there: bool) -> str:
        group = luck.randrange(groups)
        params = (luck.getrandbits(64), luck.getrandbits(64))
        stretch = words_of(group, GROUP_BYTES)
        base, to = regions
        with (
            borrowed(base + group * GROUP_BYTES, GROUP_BYTES) as source,
            borrowed(to + group * GROUP_BYTES, GROUP_BYTES) as target,
        ):
            fill(source, stretch, Filled(pattern, params[0]))
            fill(target, stretch, Filled(pattern, params[1]))

            def finds(_place: int, _bit: int) -> bool:
                return copier.run(base, to, (group, group + 1), params, 0) == (group, there)

            return each_missed(target if there else source, luck, finds, "the target" if there else "the source")

    def plants(luck: SystemRandom) -> Iterator[Plant]:
        yield lambda: plant(luck, False)
        yield lambda: plant(luck, True)

    return plants
