"""Spans of addresses, what loads reached, and ranges that a start keeps free."""

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tenaz.core.base.errors import Refused
from tenaz.core.machine.kept_free import UNIT, Which, kernel_words, needed_bytes, ranges_for
from tenaz.core.machine.physical_memory import Laid, MemoryStretch, Span, bytes_of, common, covered, united, without

MIB, GIB = 1 << 20, 1 << 30
SPANS = st.lists(st.tuples(st.integers(0, 40), st.integers(0, 12)).map(lambda one: Span(one[0], sum(one))), max_size=8)


def addresses(spans: object) -> set[int]:
    return {at for span in spans for at in range(span.start, span.end)}  # type: ignore[attr-defined]


@given(SPANS, SPANS)
def test_spans_are_sets_of_addresses(some: list[Span], others: list[Span]) -> None:
    assert addresses(united(some)) == addresses(some)
    assert addresses(without(some, others)) == addresses(some) - addresses(others)
    assert addresses(common(some, others)) == addresses(some) & addresses(others)
    assert bytes_of(some) == len(addresses(some))
    for found in (united(some), without(some, others)):
        assert all(a.end < b.start for a, b in pairwise(found))


@given(st.lists(st.tuples(SPANS, SPANS, st.floats(0, 3)), max_size=4))
def test_covered_counts_whole_laps_of_each_address(loads: list[tuple[list[Span], list[Span], float]]) -> None:
    memory = (Span(0, 60),)
    known = [(Laid(memory, tuple(kept), (united(lane),), 60), (laps,)) for lane, kept, laps in loads]
    coverage = covered(known)
    if not loads:
        assert coverage is None
        return
    assert coverage is not None
    times = {at: sum(int(laps) for lane, _, laps in loads if at in addresses(lane)) for at in range(60)}
    told = {at: piece for piece in coverage.pieces for at in range(piece.span.start, piece.span.end)}
    free = addresses([span for _, kept, _ in loads for span in kept])
    for at in range(60):
        kind = MemoryStretch.TESTED if times[at] else MemoryStretch.NEVER if at in free else MemoryStretch.KERNEL
        assert (told[at].kind, told[at].times) == (kind, times[at])
    assert coverage.tested_bytes == sum(1 for at in times if times[at])


def test_small_holes_are_the_firmwares_and_large_ones_are_no_memory() -> None:
    memory = (Span(0, MIB), Span(2 * MIB, 100 * MIB), Span(4 * GIB, 5 * GIB))
    coverage = covered([(Laid(memory, (), (memory,)), (1.0,))])
    assert coverage is not None
    assert coverage.share == 1.0
    assert [one.span for one in coverage.pieces if one.kind is MemoryStretch.FIRMWARE] == [Span(MIB, 2 * MIB)]


MACHINES = {
    "2 GiB": (Span(0, 0x9F000), Span(MIB, 2047 * MIB)),
    "8 GiB": (Span(0, 0x9F000), Span(MIB, 2 * GIB), Span(4 * GIB, 10 * GIB)),
    "64 GiB in pieces": (
        Span(0, 0x9F000), Span(MIB, GIB), Span(GIB + MIB, 2 * GIB), Span(2 * GIB + 5 * MIB, 3 * GIB),
        Span(4 * GIB, 65 * GIB),
    ),
}  # fmt: skip


@pytest.mark.parametrize("memory", MACHINES.values(), ids=MACHINES)
@pytest.mark.parametrize("cores", [2, 16])
def test_two_starts_leave_almost_nothing_out(memory: tuple[Span, ...], cores: int) -> None:
    total = bytes_of(memory)
    needed = needed_bytes(total, cores)
    if total < 2 * needed:
        with pytest.raises(Refused, match="One start reaches most of it"):
            ranges_for(memory, cores, Which.UPPER)
        return
    reached = []
    for which in (Which.UPPER, Which.LOWER):
        ranges = ranges_for(memory, cores, which)
        assert 0 < len(ranges) <= 4
        assert all(one.start % UNIT == one.end % UNIT == 0 for one in ranges)
        assert common(ranges, memory) == united(ranges)
        assert bytes_of(without(memory, ranges)) >= needed * 0.99
        # The first huge page of each is taken up by what the kernel writes down about it.
        reached += [Span(one.start + UNIT, one.end) for one in ranges]
        assert kernel_words(ranges).count("!") == len(ranges)
    assert ranges_for(memory, cores, Which.NOTHING) == ()
    assert bytes_of(without(memory, reached)) <= 16 * MIB + 0.002 * total
