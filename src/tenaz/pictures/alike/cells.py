"""The Alike picture in terminal cells: a line a knob, from the grid's easiest value to its hardest."""

from collections import Counter

from tenaz.pictures.alike.model import AlikePicture, KnobAlike, PartAlike
from tenaz.pictures.drawing.blank import draw_blank
from tenaz.pictures.drawing.cells import Cells, clipped, wrapped
from tenaz.pictures.drawing.marks import Role

NAME, TOLD = 22, 34
LEAST_BAR = 16
NOTHING = (
    "Nothing is known of the parts of this rig: it says none, or no other rig of the workshop has them. Parts are told "
    "in the rig's form, or read from the machine."
)
KEY = "r›e   say what it is made of"


def draw_alike(picture: AlikePicture | None, width: int, height: int, skip: int = 0) -> Cells:
    """As many parts as have room, ``skip`` of them scrolled away."""
    cells = Cells(width, height)
    if picture is None:
        cells.put(0, 0, "looking it up …", Role.UNKNOWN)
        return cells
    if not picture.parts:
        return draw_blank(cells, NOTHING, KEY)
    if width < NAME + TOLD + LEAST_BAR:
        cells.put(0, 0, "too little room for rigs alike", Role.UNKNOWN)
        return cells
    side = "in simulation" if picture.simulated else "on real machines"
    head = f"where the edge of one more such rig lies, for {picture.tolerance}; by this workshop's rigs, {side}"
    cells.put(0, 0, clipped(head, width), Role.TEXT)
    cells.put(
        0,
        1,
        "├──┼──┤ four in five, and the middle   ● this rig held   • others held   ┊ it came with   harder →",
        Role.FAINT,
    )
    row = 3
    for part in picture.parts[skip:]:
        if row >= height:
            break
        row = _part(cells, part, row, picture.least_rigs) + 1
    return cells


def _part(cells: Cells, part: PartAlike, row: int, least: int) -> int:
    count = len(part.rigs)
    others = f"{count} other rig{'s' if count != 1 else ''} with it: {', '.join(part.rigs)}"
    cells.put(0, row, clipped(f"{part.part} · {others}", cells.width), Role.LIT)
    row += 1
    for knob in part.knobs:
        _knob(cells, knob, row)
        row += 1
    if part.too_few:
        told = f"too few tell anything yet (under {least} rigs): {', '.join(part.too_few)}"
        for line in wrapped(told, cells.width - 2):
            cells.put(2, row, line, Role.FAINT)
            row += 1
    return row


def _knob(cells: Cells, knob: KnobAlike, row: int) -> None:
    cells.put(2, row, clipped(knob.label, NAME - 3), Role.TEXT)
    told = f"{knob.stretch}, {knob.rigs} rigs"
    cells.put(NAME, row, clipped(told, TOLD - 2), Role.MEASURED)
    start, room = NAME + TOLD, cells.width - NAME - TOLD - 1

    def at(place: float) -> int:
        return start + round(max(0.0, min(1.0, place)) * room)

    low, middle, high = map(at, knob.places)
    for column in range(low, high + 1):
        cells.put(column, row, "─", Role.MEASURED)
    cells.put(low, row, "├", Role.MEASURED)
    cells.put(high, row, "┤", Role.MEASURED)
    cells.put(middle, row, "┼", Role.MEASURED)
    if knob.came is not None:
        cells.put(at(knob.came), row, "┊", Role.FAINT)
    for _, place in knob.others:
        cells.put(at(place), row, "•", Role.TEXT)
    if knob.mine_at is not None:
        cells.put(at(knob.mine_at), row, "●", Role.HELD)


def alike_lines(picture: AlikePicture) -> list[str]:
    """The same in words, for a terminal that is no screen."""
    lines = []
    for part in picture.parts:
        lines.append(f"{part.part}: {len(part.rigs)} rigs{', ' + ', '.join(part.rigs) if part.rigs else ''}")
        for knob in part.knobs:
            held = ", ".join(f"{value} ×{count}" for value, count in Counter(value for value, _ in knob.others).items())
            mine = (f"; they held at {held}" if held else "") + (f", {picture.rig} at {knob.mine}" if knob.mine else "")
            lines.append(
                f"  {knob.label}: {knob.stretch} ({knob.confidence:.0%}), in the middle {knob.middle}, by {knob.rigs} "
                f"rigs{mine}"
            )
        if part.too_few:
            lines.append(f"  told by fewer than {picture.least_rigs} rigs: {', '.join(part.too_few)}")
    return lines
