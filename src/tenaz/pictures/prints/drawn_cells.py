"""A card's wrong pictures in terminal cells: a map of the picture at the left, tiles that were kept at the right."""

from itertools import zip_longest

from tenaz.core.loads.plan import show_clock
from tenaz.pictures.drawing.cells import Cells, clipped
from tenaz.pictures.drawing.marks import Role
from tenaz.pictures.prints.drawn import MAP, DrawnWrong, WrongTile

SHADES = " ·+#"
FEW = 4
REGION_COLUMNS = 2
TILES_AT = MAP * REGION_COLUMNS + 4
HALVES = {(True, True): "█", (True, False): "▀", (False, True): "▄"}
GAP = 3


def draw_drawn(cells: Cells, found: DrawnWrong, row: int) -> int:
    """Draw it from a row on; gives the row beneath."""
    top = row
    cells.put(0, row, f"where in pictures of {found.side}²", Role.FAINT)
    row += 1
    cells.put(0, row, f"┌{'─' * (MAP * REGION_COLUMNS)}┐", Role.FRAME)
    for region in found.regions:
        row += 1
        cells.put(0, row, "│", Role.FRAME)
        cells.put(1 + MAP * REGION_COLUMNS, row, "│", Role.FRAME)
        for place, count in enumerate(region):
            shade = SHADES[min(len(SHADES) - 1, count if count < 2 else 2 if count <= FEW else 3)]
            cells.put(1 + place * REGION_COLUMNS, row, shade * REGION_COLUMNS, Role.FAILED)
    cells.put(0, row + 1, f"└{'─' * (MAP * REGION_COLUMNS)}┘", Role.FRAME)
    _tiles(cells, found, top)
    row += 2
    cells.put(0, row, "· one   + a few   # many wrong pixels; at the right tiles as they were wrong", Role.FAINT)
    for line in _facts(found):
        row += 1
        cells.put(0, row, line, Role.TEXT)
    return row + 2


def _tiles(cells: Cells, found: DrawnWrong, top: int) -> None:
    """As many as there is room for, the first ones."""
    column = TILES_AT
    for tile in found.tiles:
        if column + tile.tile.size > cells.width:
            break
        words = f"picture {tile.number}, {tile.tile.x},{tile.tile.y}: {tile.shape()}"
        cells.put(column, top, clipped(words, tile.tile.size + GAP - 1), Role.FAINT)
        _tile(cells, tile, column, top + 1)
        column += tile.tile.size + GAP


def _tile(cells: Cells, tile: WrongTile, column: int, top: int) -> None:
    """Two rows of pixels in a row of cells; what is right is a faint ground."""
    upper, lower = tile.wrong[::2], tile.wrong[1::2]
    for nth, (above, below) in enumerate(zip_longest(upper, lower, fillvalue=(False,) * tile.tile.size)):
        for x, pair in enumerate(zip(above, below, strict=True)):
            if any(pair):
                cells.put(column + x, top + nth, HALVES[pair], Role.FAILED)
            else:
                cells.put(column + x, top + nth, "·" if x % 8 == 0 and nth % 4 == 0 else " ", Role.FRAME)


def _facts(found: DrawnWrong) -> list[str]:
    times = found.times_s
    when = f"once, at {show_clock(times[0])}"
    if len(times) > 1:
        when = f"{len(times)} times, from {show_clock(times[0])} to {show_clock(times[-1])}"
    pictures = ", ".join(f"{count} in picture {number}" for number, count in found.numbers)
    shapes = sorted({tile.shape() for tile in found.tiles})
    lines = [f"card {found.card}: {found.pixels} wrong pixel{'s' if found.pixels != 1 else ''} told, {when}", pictures]
    return [*lines, f"they look like {', '.join(shapes)}"] if shapes else lines
