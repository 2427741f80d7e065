"""The Prints picture in terminal cells."""

from tenaz.core.loads.plan import show_duration
from tenaz.finding.prints.features import LANES, Print
from tenaz.pictures.drawing.cells import Cells, wrapped
from tenaz.pictures.drawing.marks import Role
from tenaz.pictures.prints.drawn_cells import draw_drawn
from tenaz.pictures.prints.model import PrintsPicture, Region

SHADES = " ·+#"
"""None, one, a few, many wrong bits."""
FEW = 4
ADDRESS, GROUP = 15, 8


def draw_prints(picture: PrintsPicture, width: int, height: int) -> Cells:
    """Lanes across in bytes, address regions down, a letter's shade for how many; under it what it points to."""
    cells = Cells(width, height)
    cells.put(0, 0, picture.title, Role.TEXT)
    found = picture.found
    if found is None:
        cells.put(0, 2, "No wrong value was found in this trial: there is no error pattern.", Role.UNKNOWN)
        return cells
    row = 2
    if picture.drawn is not None:
        row = draw_drawn(cells, picture.drawn, row)
    if picture.regions:
        row = _map(cells, picture, row)
    for line in _facts(found) if picture.drawn is None else _seen(found):
        cells.put(0, row, line, Role.TEXT)
        row += 1
    row += 1
    if not picture.suspicions and not picture.on_cards:
        cells.put(0, row, "too little to point anywhere yet", Role.UNKNOWN)
        row += 1
    for suspicion in picture.suspicions:
        for line in wrapped(suspicion.show(), width):
            cells.put(0, row, line, Role.LIT)
            row += 1
        for line in wrapped(suspicion.try_next, width - 4):
            cells.put(4, row, line, Role.FAINT)
            row += 1
    row += 1
    for mismatch in picture.last[-max(0, height - row) :] if row < height else ():
        cells.put(0, row, mismatch.show()[:width], Role.FAILED)
        row += 1
    return cells


def _column(lane: int, width: int) -> int:
    """Highest lane on the left; a gap between bytes where there is room."""
    place = LANES - 1 - lane
    return ADDRESS + place + (place // GROUP if width >= ADDRESS + LANES + LANES // GROUP else 0)


def _map(cells: Cells, picture: PrintsPicture, row: int) -> int:
    cells.put(0, row, "the card's" if picture.on_cards else "physical" if picture.physical else "address", Role.FAINT)
    for lane in range(LANES - 1, -1, -GROUP):
        cells.put(_column(lane, cells.width), row, str(lane), Role.FAINT)
    row += 1
    for region in picture.regions:
        _region(cells, region, row)
        row += 1
    cells.put(ADDRESS, row, "data lanes 63 to 0   · one   + a few   # many wrong bits", Role.FAINT)
    return row + 2


def _region(cells: Cells, region: Region, row: int) -> None:
    any_wrong = sum(region.lanes)
    cells.put(0, row, f"{region.first:#x}", Role.TEXT if any_wrong else Role.FRAME)
    for lane, count in enumerate(region.lanes):
        shade = SHADES[min(len(SHADES) - 1, count if count < 2 else 2 if count <= FEW else 3)]
        cells.put(_column(lane, cells.width), row, shade if count else "┄", Role.FAILED if count else Role.FRAME)


def _facts(found: Print) -> list[str]:
    seen = ", ".join(f"{count} {kind}" for kind, count in found.seen.items())
    where = f" on {_many(found.words, 'word')} in {_many(found.pages, 'page')}"
    first = f"{found.count} wrong: {seen}{where if found.words else ''}"
    lanes = ", ".join(map(str, found.busiest_lanes()))
    ways = f"{found.rising} read 1 for 0, {found.falling} read 0 for 1"
    bits = f"{_many(found.bits, 'bit')}, {ways}; busiest lanes: {lanes or 'none'}"
    cores = ", ".join(f"core {core}: {count}" for core, count in sorted(found.cores.items()))
    when = f"from {show_duration(found.first_s)} to {show_duration(found.last_s)} of the load"
    if found.temperatures_c:
        when += f", at {min(found.temperatures_c):.0f} to {max(found.temperatures_c):.0f} °C"
    return [first, bits, when + (f"; {cores}" if cores else "")]


def _seen(found: Print) -> list[str]:
    """Of pictures: how warm it was, and what second looks showed."""
    seen = ", ".join(f"{count} {kind}" for kind, count in found.seen.items())
    if found.temperatures_c:
        seen += f", at {min(found.temperatures_c):.0f} to {max(found.temperatures_c):.0f} °C"
    return [seen]


def _many(count: int, what: str) -> str:
    return f"{count} {what}{'s' if count != 1 else ''}"
