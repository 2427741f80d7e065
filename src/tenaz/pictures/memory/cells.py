"""The Memory picture in terminal cells."""

from tenaz.core.machine.physical_memory import Coverage, MemoryStretch
from tenaz.pictures.drawing.cells import Cells, wrapped
from tenaz.pictures.drawing.marks import Role
from tenaz.pictures.memory.model import Cell, MemoryPicture, grid, shares

ADDRESS = 14
MOST_COLUMNS = 64
MANY = 10

SIGNS = {MemoryStretch.KERNEL: "k", MemoryStretch.NEVER: "·", MemoryStretch.FIRMWARE: "f"}
ROLES = {
    MemoryStretch.TESTED: Role.HELD,
    MemoryStretch.KERNEL: Role.MEASURED,
    MemoryStretch.NEVER: Role.LIT,
    MemoryStretch.FIRMWARE: Role.FRAME,
}
"""Never reached is what is still owed, so it is lit."""


def draw_memory(picture: MemoryPicture, width: int, height: int) -> Cells:
    """How much of what is fitted was gone over, in large; the map; what its signs mean; what would reach more."""
    cells = Cells(width, height)
    cells.put(0, 0, picture.title, Role.TEXT)
    words = [line for text in picture.words for line in wrapped(text, width)]
    if picture.coverage is None:
        for below, line in enumerate(words, 2):
            cells.put(0, below, line, Role.UNKNOWN)
        return cells
    coverage = picture.coverage
    cells.put(0, 1, _headline(coverage), Role.HELD if coverage.share > 0.0 else Role.LIT)
    legend = _legend(coverage)
    columns = _columns(width)
    rows_left = max(1, height - 5 - len(legend) - len(words))
    size, rows = grid(picture, columns, rows_left)
    at = 3
    for row in rows:
        cells.put(0, at, f"{row.start:#x}", Role.FAINT)
        for column, cell in enumerate(row.cells):
            if cell is not None:
                sign, role = _sign(cell)
                cells.put(ADDRESS + column, at, sign, role)
        at += 1
    cells.put(ADDRESS, at, f"a cell is {_size(size)} of physical addresses", Role.FAINT)
    at += 2
    for text, role in legend:
        cells.put(0, at, text, role)
        at += 1
    for line in words:
        cells.put(0, at, line, Role.TEXT)
        at += 1
    return cells


def _headline(coverage: Coverage) -> str:
    # Never more than it was: what is not all is not 100.
    percent = int(1000 * coverage.share) / 10
    return f"{percent:.1f} % of {_size(coverage.fitted_bytes)} fitted gone over at least once"


def _size(count_bytes: int) -> str:
    """As many figures as one reads."""
    for unit, size in (("GiB", 1 << 30), ("MiB", 1 << 20)):
        if count_bytes >= size:
            return f"{count_bytes / size:.4g} {unit}"
    return f"{count_bytes / 1024:.0f} KiB"


def _columns(width: int) -> int:
    columns = 8
    while columns * 2 <= min(MOST_COLUMNS, width - ADDRESS):
        columns *= 2
    return columns


def _sign(cell: Cell) -> tuple[str, Role]:
    if cell.wrong:
        return "✗", Role.FAILED
    if cell.kind is not MemoryStretch.TESTED:
        return SIGNS[cell.kind], ROLES[cell.kind]
    if not cell.whole:
        return "◐", Role.LIT
    return (str(cell.times) if cell.times < MANY else "+"), Role.HELD


def _legend(coverage: Coverage) -> list[tuple[str, Role]]:
    lines = []
    for kind, size in shares(coverage):
        if kind is MemoryStretch.TESTED:
            lines.append((f"1…9  {kind}, so often   + more   ◐ not all of it   ({_size(size)})", Role.HELD))
        else:
            lines.append((f"{SIGNS[kind]}    {kind} ({_size(size)})", ROLES[kind]))
    return lines
