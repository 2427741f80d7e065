"""The Memory picture: every address has its place, and what is owed is seen."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tenaz.core.machine.physical_memory import Laid, MemoryStretch, Span, covered
from tenaz.pictures.drawing.marks import Role
from tenaz.pictures.memory.cells import draw_memory
from tenaz.pictures.memory.model import MemoryPicture, grid

MIB, GIB = 1 << 20, 1 << 30
MEMORY = (Span(0, 0x9F000), Span(MIB, 2 * GIB), Span(4 * GIB, 6 * GIB))


def picture(*laps: float, wrong: tuple[int, ...] = ()) -> MemoryPicture:
    upper, lower = (Span(640 * MIB, 2 * GIB), Span(4 * GIB, 6 * GIB)), (Span(2 * MIB, 642 * MIB),)
    loads = [(Laid(MEMORY, kept, (kept,), 4 * GIB), (done,)) for kept, done in zip((upper, lower), laps, strict=False)]
    return MemoryPicture("memory of ridge", covered(loads), wrong)


def text(shown: MemoryPicture, width: int = 100, height: int = 40) -> str:
    return "\n".join("".join(run.text for run in row).rstrip() for row in draw_memory(shown, width, height).rows())


def test_two_starts_leave_hardly_anything() -> None:
    one, both = picture(3.0), picture(3.0, 1.2)
    assert "84.3 % of 4 GiB fitted" in text(one)
    assert "99.9 % of 4 GiB fitted" in text(both)
    assert "k    left to the system every time (639.6 MiB)" in text(one)
    assert "3" * 60 in text(both)
    assert "1" * 20 in text(both)
    assert "a cell is" in text(both)
    assert "0x100000000" in text(both)
    assert "nothing" not in text(both).lower()


def test_a_wrong_place_is_seen_wherever_it_is() -> None:
    assert text(picture(1.0, 1.0, wrong=(5 * GIB + 17, 5 * GIB + 18, 700 * MIB))).count("✗") == 2
    cells = draw_memory(picture(0.5), 100, 40)
    lit = {run.role for row in cells.rows() for run in row if "·" in run.text}
    assert lit == {Role.LIT}, "what was kept free and not gone over is owed"


@given(st.integers(20, 200), st.integers(8, 60))
def test_it_fits_whatever_room_there_is(width: int, height: int) -> None:
    shown = picture(2.0, 1.0)
    assert len(draw_memory(shown, width, height).rows()) == height
    size, rows = grid(shown, 32, max(2, height - 12))
    assert size & (size - 1) == 0
    assert len(rows) <= max(2, height - 12)
    kinds = {cell.kind for row in rows for cell in row.cells if cell is not None}
    assert MemoryStretch.TESTED in kinds


@pytest.mark.parametrize("height", [6, 30])
def test_where_nothing_is_known_it_says_what_would_tell(height: int) -> None:
    assert "as root" in text(MemoryPicture("memory", None, (), ("told to root only: run it as root",)), 80, height)
