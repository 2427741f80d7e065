"""The Memory picture: physical addresses in order, a cell for each stretch, with how often it was gone over."""

from collections.abc import Sequence
from dataclasses import dataclass

from tenaz.core.machine.physical_memory import Coverage, MemoryStretch, Piece

LEAST_CELL = 1 << 20


@dataclass(frozen=True, slots=True)
class MemoryPicture:
    """What was reached (None: nothing is known), and at which physical addresses something was wrong; ``words`` say how
    it came about, and what would reach more.
    """

    rig: str
    coverage: Coverage | None
    wrong: tuple[int, ...] = ()
    words: tuple[str, ...] = ()

    @property
    def title(self) -> str:
        """Whose memory it is."""
        return f"physical memory: {self.rig}"


@dataclass(frozen=True, slots=True)
class Cell:
    """A stretch of addresses: what most of its memory is, how often the least of that was gone over, whether all of its
    memory was, and how many addresses in it were wrong.
    """

    kind: MemoryStretch
    times: int
    whole: bool
    wrong: int


@dataclass(frozen=True, slots=True)
class Row:
    """Cells from an address on; None where there is no memory."""

    start: int
    cells: tuple[Cell | None, ...]


def cell_bytes(coverage: Coverage, cells: int) -> int:
    """The smallest power of two that divides all addresses over at most so many cells, rows without memory aside."""
    size = LEAST_CELL
    while sum(piece.span.bytes for piece in coverage.pieces) / size > max(1, cells):
        size *= 2
    return size


def grid(picture: MemoryPicture, columns: int, rows: int) -> tuple[int, tuple[Row, ...]]:
    """The bytes of a cell, and the rows that hold any memory."""
    assert picture.coverage is not None
    size = cell_bytes(picture.coverage, columns * rows)
    while True:
        found = _rows(picture, columns, size)
        if len(found) <= rows or rows < 1:
            return size, found
        size *= 2


def _rows(picture: MemoryPicture, columns: int, size: int) -> tuple[Row, ...]:
    assert picture.coverage is not None
    held: dict[int, list[tuple[int, Piece]]] = {}
    for piece in picture.coverage.pieces:
        for at in range(piece.span.start // size, -(-piece.span.end // size)):
            within = min(piece.span.end, (at + 1) * size) - max(piece.span.start, at * size)
            held.setdefault(at, []).append((within, piece))
    wrong: dict[int, int] = {}
    for address in picture.wrong:
        wrong[address // size] = wrong.get(address // size, 0) + 1
    starts = sorted({at // columns for at in (*held, *wrong)})
    return tuple(
        Row(
            row * columns * size,
            tuple(
                _cell(held.get(at, []), wrong.get(at, 0)) if at in held or at in wrong else None
                for at in range(row * columns, (row + 1) * columns)
            ),
        )
        for row in starts
    )


def _cell(parts: Sequence[tuple[int, Piece]], wrong: int) -> Cell:
    by_kind: dict[MemoryStretch, int] = {}
    for size, piece in parts:
        by_kind[piece.kind] = by_kind.get(piece.kind, 0) + size
    tested = [piece.times for _, piece in parts if piece.kind is MemoryStretch.TESTED]
    kind = max(by_kind, key=lambda one: by_kind[one], default=MemoryStretch.NEVER)
    missed = by_kind.get(MemoryStretch.NEVER, 0) + by_kind.get(MemoryStretch.KERNEL, 0)
    return Cell(kind, min(tested, default=0), not missed, wrong)


def shares(coverage: Coverage) -> tuple[tuple[MemoryStretch, int], ...]:
    """Bytes of each kind, those that there are."""
    found = ((kind, coverage.bytes_that_are(kind)) for kind in MemoryStretch)
    return tuple((kind, size) for kind, size in found if size)
