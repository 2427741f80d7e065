"""The board as one works on it: slots with modules by channel, cores, and what there is one of; ink by suspicion."""

from tenaz.core.base.amounts import show_chance
from tenaz.core.machine.machine import MemoryModule
from tenaz.core.parts.fitting import channel_of, name_of
from tenaz.core.parts.works import PartState
from tenaz.finding.causes import Part, Suspect
from tenaz.pictures.drawing.cells import Cells, clipped
from tenaz.pictures.drawing.marks import Role
from tenaz.pictures.find.model import OTHERS, FindPicture

SLOT_WIDTH, SLOT_ROWS, LABEL = 27, 4, 10
TILE = 7
ROOMY = 28
"""On a page that is lower, a slot is a line."""
STATE_ROLE = {
    PartState.GOOD: Role.HELD,
    PartState.BAD: Role.FAILED,
    PartState.SUSPECT: Role.LIT,
    PartState.REPLACED: Role.MEASURED,
    PartState.UNKNOWN: Role.UNKNOWN,
}
SHADES = " ░▒▓█"
WORTH = 0.02


def draw_parts(cells: Cells, picture: FindPicture, row: int, pointed: Suspect | None) -> int:
    """All parts from a row on; gives the next free row."""
    row = _slots(cells, picture, row, pointed)
    row = _aside(cells, picture, row)
    row = _cores(cells, picture, row, pointed)
    return _others(cells, picture, row, pointed) + 1


def ink(sure: float) -> Role:
    """Suspicion as ink."""
    return Role.FAILED if sure >= 0.5 else Role.LIT if sure >= 0.12 else Role.TEXT if sure >= WORTH else Role.FAINT


def shade(sure: float) -> str:
    """Suspicion without colour."""
    return SHADES[0 if sure < WORTH else 1 if sure < 0.12 else 2 if sure < 0.5 else 3 if sure < 0.9 else 4]


def _slots(cells: Cells, picture: FindPicture, row: int, pointed: Suspect | None) -> int:
    channels: dict[str, list[MemoryModule]] = {}
    for one in picture.fitting.modules:
        channels.setdefault(channel_of(one), []).append(one)
    if cells.height < ROOMY:
        return _slots_in_brief(cells, picture, row, pointed)
    across = max(1, (cells.width - LABEL) // SLOT_WIDTH)
    for channel, slots in channels.items():
        sure = picture.sure_of(Suspect(Part.CHANNEL, channel))
        cells.put(0, row + 1, f"channel {channel}", ink(sure) if sure >= WORTH else Role.FAINT)
        if sure >= WORTH:
            cells.put(0, row + 2, f"{show_chance(sure)}", ink(sure))
        for number, slot in enumerate(slots):
            left, top = LABEL + number % across * SLOT_WIDTH, row + number // across * SLOT_ROWS
            _slot(cells, picture, slot, left, top, pointed)
        row += (len(slots) + across - 1) // across * SLOT_ROWS
    return row


def _slots_in_brief(cells: Cells, picture: FindPicture, row: int, pointed: Suspect | None) -> int:
    """A line a slot."""
    for slot in picture.fitting.modules:
        here = Suspect(Part.SLOT, slot.slot)
        of_slot = picture.sure_of(here, Suspect(Part.CONTACT, slot.slot))
        first, last = ("║", "║") if pointed == here else ("│", "│")
        told = f"{shade(of_slot)} {show_chance(of_slot)}" if of_slot >= WORTH else ""
        cells.put(0, row, f"{first} {slot.slot:<6} {told:<7}{last}", Role.LIT if pointed == here else ink(of_slot))
        if slot.fitted:
            name = name_of(slot)
            sure, state = picture.sure_of(Suspect(Part.MODULE, name)), picture.label_of("module", name)
            words = f"{name}  {(slot.size_bytes or 0) / 2**30:.0f} GiB"
            told = f"{shade(sure)} {show_chance(sure)}" if sure >= WORTH else ""
            cells.put(19, row, f"{words}  {told}", ink(sure))
            cells.put(19 + max(24, len(words) + 10), row, state.value, STATE_ROLE[state])
        else:
            cells.put(19, row, "empty", Role.UNKNOWN)
        cells.aim(0, row, cells.width, ("part", _number(picture, here)))
        row += 1
    return row


def _slot(cells: Cells, picture: FindPicture, slot: MemoryModule, left: int, top: int, pointed: Suspect | None) -> None:
    """A slot: its frame is inked by the suspicion on slot and contact, what sits in it by that on the module."""
    inner, here = SLOT_WIDTH - 3, Suspect(Part.SLOT, slot.slot)
    of_slot = picture.sure_of(here, Suspect(Part.CONTACT, slot.slot))
    frame = Role.LIT if pointed == here else ink(of_slot) if slot.fitted or of_slot >= WORTH else Role.FRAME
    light = pointed == here
    corner, bar, side = ("╔╗╚╝", "═", "║") if light else ("┌┐└┘", "─", "│")
    told = f" {slot.slot} " + (f"{bar} {show_chance(of_slot)} slot or contact " if of_slot >= WORTH else "")
    cells.put(left, top, corner[0] + told[:inner].ljust(inner, bar) + corner[1], frame)
    for line in (1, 2):
        cells.put(left, top + line, side, frame)
        cells.put(left + inner + 1, top + line, side, frame)
    state = picture.label_of("slot", slot.slot)
    below = f" {state} " if state is not PartState.UNKNOWN else ""
    cells.put(left, top + 3, corner[2] + below.ljust(inner, bar) + corner[3], frame)
    cells.aim(left, top, SLOT_WIDTH - 1, ("part", _number(picture, here)), SLOT_ROWS)
    if not slot.fitted:
        cells.put(left + 2, top + 1, "empty", Role.UNKNOWN)
        return
    name = name_of(slot)
    sure = picture.sure_of(Suspect(Part.MODULE, name))
    cells.put(left + 2, top + 1, clipped(f"{name}  {(slot.size_bytes or 0) / 2**30:.0f} GiB", inner - 2), ink(sure))
    mark = picture.label_of("module", name)
    shown = f"{shade(sure) * 4} {show_chance(sure)}" if sure >= WORTH else ""
    cells.put(left + 2, top + 2, shown, ink(sure))
    spare = name in picture.fitting.spares
    word = "known good" if spare and mark is PartState.UNKNOWN else mark.value
    cells.put_right(left + inner + 1, top + 2, word, Role.HELD if spare else STATE_ROLE[mark])


def _aside(cells: Cells, picture: FindPicture, row: int) -> int:
    if not picture.fitting.aside:
        return row
    told = []
    for one in picture.fitting.aside:
        name = name_of(one)
        mark, sure = picture.label_of("module", name), picture.sure_of(Suspect(Part.MODULE, name))
        words = f" {mark}" if mark is not PartState.UNKNOWN else f" {show_chance(sure)}" if sure >= WORTH else ""
        told.append(f"{name}{words}")
    cells.put(0, row, "aside", Role.FAINT)
    cells.put(LABEL, row, clipped("   ".join(told), cells.width - LABEL), Role.TEXT)
    return row + 1


def _cores(cells: Cells, picture: FindPicture, row: int, pointed: Suspect | None) -> int:
    count = picture.rig.cores_known
    if not count:
        return row
    across = max(1, (cells.width - LABEL) // TILE)
    cells.put(0, row, "cores", Role.FAINT)
    for core in range(count):
        here = Suspect(Part.CORE, str(core))
        sure, off = picture.sure_of(here), core in picture.fitting.cores_off
        left, top = LABEL + core % across * TILE, row + core // across
        words = "off" if off else f"{show_chance(sure)}" if sure >= WORTH else ""
        first, last = ("»", "«") if pointed == here else ("[", "]")
        text = f"{first}{core:>2}{shade(sure)}{words}"
        role = Role.LIT if pointed == here else Role.UNKNOWN if off else ink(sure) if sure >= WORTH else Role.MEASURED
        state = picture.label_of("core", str(core))
        role = STATE_ROLE[state] if state in (PartState.BAD, PartState.GOOD) else role
        cells.put(left, top, f"{text[: TILE - 1]}{last}"[:TILE], role)
        cells.aim(left, top, TILE, ("part", _number(picture, here)))
    return row + (count + across - 1) // across


def _others(cells: Cells, picture: FindPicture, row: int, pointed: Suspect | None) -> int:
    """Cooler, supply, controller, board."""
    column = 0
    extra = {Part.COOLER: picture.fitting.cleanings, Part.SUPPLY: picture.fitting.supplies}
    words = {Part.COOLER: "cleaned", Part.SUPPLY: "another one"}
    for part in OTHERS:
        here = Suspect(part)
        sure, state = picture.sure_of(here), picture.label_of(part.value)
        told = f"{shade(sure)} {show_chance(sure)}" if sure >= WORTH else ""
        done = words[part] if extra.get(part) else ""
        mark = state.value if state is not PartState.UNKNOWN else ""
        inside = " ".join(one for one in (part.value, told, done, mark) if one)
        text = f"»{inside}«" if pointed == here else f"({inside})"
        usual = ink(sure) if sure >= WORTH else Role.MEASURED
        role = Role.LIT if pointed == here else STATE_ROLE[state] if mark else usual
        cells.put(column, row, text, role)
        cells.aim(column, row, len(text), ("part", _number(picture, here)))
        column += len(text) + 2
    if picture.fitting.fan:
        cells.put(column, row, "(fan on)", Role.MEASURED)
    return row + 1


def _number(picture: FindPicture, thing: Suspect) -> int:
    return picture.things.index(thing)
