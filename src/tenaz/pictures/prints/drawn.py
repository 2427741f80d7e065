"""Pictures that a card drew wrong: where in them, how often, when, and what the wrong pixels look like together."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from tenaz.core.loads.cards import Drawn, Tile
from tenaz.core.loads.kinds import TILE_PX
from tenaz.core.loads.plan import Mismatch

MAP = 16
"""Regions along each side of a picture."""
STRIPE_PART = 0.9
"""So much of all wrong pixels in one row or column makes a stripe of them."""
BLOCK_PART = 0.5


@dataclass(frozen=True, slots=True)
class WrongTile:
    """A tile that was kept: of which picture, when, and which of its pixels are wrong, row by row."""

    number: int
    at_s: float
    tile: Tile
    wrong: tuple[tuple[bool, ...], ...]

    @property
    def count(self) -> int:
        """How many pixels."""
        return sum(map(sum, self.wrong))

    def shape(self) -> str:
        """What they look like, in a word or two."""
        rows = [sum(row) for row in self.wrong]
        columns = [sum(row[x] for row in self.wrong) for x in range(self.tile.size)]
        if self.count <= 1:
            return "a dot"
        if max(rows) >= STRIPE_PART * self.count or max(columns) >= STRIPE_PART * self.count:
            return "a stripe"
        inside = [y for y, one in enumerate(rows) if one], [x for x, one in enumerate(columns) if one]
        area = (inside[0][-1] - inside[0][0] + 1) * (inside[1][-1] - inside[1][0] + 1)
        return "a block" if self.count >= BLOCK_PART * area and area > self.tile.size else "scattered dots"


@dataclass(frozen=True, slots=True)
class DrawnWrong:
    """``regions`` counts wrong pixels over a picture, ``MAP`` by ``MAP``, row by row; ``numbers`` by picture."""

    side: int
    card: int
    pixels: int
    regions: tuple[tuple[int, ...], ...]
    numbers: tuple[tuple[int, int], ...]
    times_s: tuple[float, ...]
    tiles: tuple[WrongTile, ...]


def drawn_wrong(mismatches: Sequence[Mismatch]) -> DrawnWrong | None:
    """What was drawn wrong; None where nothing was."""
    found = [(one, one.drawn) for one in mismatches if one.drawn is not None and one.card is not None]
    if not found:
        return None
    first, drawn = found[0]
    regions = [[0] * MAP for _ in range(MAP)]
    for _, one in found:
        row, column = (min(MAP - 1, at * MAP // max(1, one.side)) for at in (one.y, one.x))
        regions[row][column] += 1
    tiles = [kept for one, at in found if (kept := _tile(one, at)) is not None]
    return DrawnWrong(
        drawn.side,
        first.card or 0,
        len(found),
        tuple(map(tuple, regions)),
        tuple(sorted(Counter(one.number for _, one in found).items())),
        tuple(sorted({one.at_s for one, _ in found})),
        tuple(tiles),
    )


def _tile(one: Mismatch, drawn: Drawn) -> WrongTile | None:
    """What was kept of it; None: nothing, or it does not read any more."""
    tile = drawn.tile
    if tile is None or not 0 < tile.size <= TILE_PX:
        return None
    try:
        expected, read = tile.pixels
    except ValueError:
        return None
    row_bytes = 4 * tile.size
    wrong = tuple(
        tuple(expected[y * row_bytes + 4 * x :][:4] != read[y * row_bytes + 4 * x :][:4] for x in range(tile.size))
        for y in range(tile.size)
    )
    return WrongTile(drawn.number, one.at_s, tile, wrong)
