"""Memory divided over workers, with ranges that were kept from the kernel; and blocks that lie in them."""

from itertools import pairwise
from pathlib import Path

import pytest

from tenaz.core.base.errors import Refused
from tenaz.core.machine.physical_memory import Span
from tenaz.loads.budget import ALONE, BESIDE_OTHERS, CHUNK_BYTES, Spared
from tenaz.loads.division import UNIT, divided
from tenaz.loads.kernels.native import this_processor
from tenaz.loads.kernels.sweep import GROUP_BYTES, SweepKernels
from tenaz.loads.kinds.permuting import WRITE
from tenaz.loads.memory import Block
from tenaz.loads.physical import physical_spans
from tenaz.loads.spec import Part

MIB, GIB = 1 << 20, 1 << 30
RANGES = (Part("/dev/x", 0, 1390 * MIB, 642 * MIB), Part("/dev/y", 0, 6 * MIB, 4096 * MIB))


def test_without_ranges_all_is_what_the_system_can_spare() -> None:
    (one, two) = divided(1.0, 2, 8 * GIB, 6 * GIB, BESIDE_OTHERS, ())
    assert one == two
    assert one.parts == ()
    spared = 512 * MIB + 2 * 96 * MIB
    assert 0 <= 6 * GIB - spared - 2 * one.size < 2 * CHUNK_BYTES
    with pytest.raises(Refused, match="at most 66%"):
        divided(0.9, 2, 8 * GIB, 6 * GIB, BESIDE_OTHERS, ())


@pytest.mark.parametrize("workers", [1, 2, 3, 7])
@pytest.mark.parametrize("room", [100 * MIB, 1200 * MIB])
def test_all_of_it_takes_every_byte_of_the_ranges_once(workers: int, room: int) -> None:
    found = divided(1.0, workers, 8 * GIB, room, ALONE, RANGES)
    parts = [part for one in found for part in one.parts]
    assert sum(part.size for part in parts) == sum(one.size for one in RANGES)
    spans = sorted(Span(part.start, part.start + part.size) for part in parts)
    assert all(a.end <= b.start for a, b in pairwise(spans))
    for part in parts:
        whole = next(one for one in RANGES if one.device == part.device)
        assert part.start - whole.start == part.offset
        assert part.offset % UNIT == 0
    for one in found:
        assert one.size % CHUNK_BYTES == 0
        assert one.size >= sum(part.size for part in one.parts)


def test_a_share_takes_ranges_first_and_no_more_than_asked() -> None:
    total = 8 * GIB
    found = divided(0.1, 2, total, 6 * GIB, Spared(), RANGES)
    ranged = sum(part.size for one in found for part in one.parts)
    assert ranged <= 0.1 * total < ranged + 3 * UNIT
    with pytest.raises(Refused, match="not a part of memory"):
        divided(1.2, 2, total, 6 * GIB, Spared(), RANGES)


def test_a_block_lies_in_its_ranges_and_says_where(tmp_path: Path) -> None:
    one, two = tmp_path / "one", tmp_path / "two"
    for path in (one, two):
        path.write_bytes(bytes(8 * MIB))
    parts = (Part(str(one), 2 * MIB, 4 * MIB, 100 * GIB), Part(str(two), 0, 2 * MIB, 200 * GIB))
    block = Block(CHUNK_BYTES, parts)
    block.populate(lambda _: True)
    SweepKernels(this_processor(), [WRITE]).run(WRITE, block.address, 0, CHUNK_BYTES // GROUP_BYTES, (7, 0, 0))
    assert block.physical(block.address + 3 * MIB) == 100 * GIB + 3 * MIB
    assert block.physical(block.address + 5 * MIB) == 200 * GIB + MIB
    assert set(block.spans()) >= {Span(100 * GIB, 100 * GIB + 4 * MIB), Span(200 * GIB, 200 * GIB + 2 * MIB)}
    # What was written through the block stands in the ranges, and nowhere else of them.
    first, second = one.read_bytes(), two.read_bytes()
    assert not any(first[: 2 * MIB])
    assert not any(first[6 * MIB :])
    assert not any(second[2 * MIB :])
    assert first[2 * MIB : 6 * MIB].count(0) < 4 * MIB
    assert second[: 2 * MIB].count(0) < 2 * MIB
    with pytest.raises(Refused, match="cannot be opened"):
        Block(CHUNK_BYTES, (Part(str(tmp_path / "none"), 0, 2 * MIB, 0),))


def test_runs_of_pages_are_told_as_spans(tmp_path: Path) -> None:
    present, frames = 1 << 63, [5, 6, 7, 0, 9, 20, 21]
    pagemap = tmp_path / "pagemap"
    pagemap.write_bytes(b"".join((present | one if one else 0).to_bytes(8, "little") for one in frames))
    page = 4096
    assert physical_spans(0, len(frames) * page, pagemap=pagemap) == (
        Span(5 * page, 8 * page), Span(9 * page, 10 * page), Span(20 * page, 22 * page),
    )  # fmt: skip
    assert physical_spans(0, page, pagemap=tmp_path / "none") == ()
