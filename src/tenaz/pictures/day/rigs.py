"""All rigs of the workshop on the Day page, a line each: state, what waits or was found, what comes next."""

from collections.abc import Sequence
from dataclasses import dataclass

from tenaz.core.rigs.rig_line import RigLine
from tenaz.pictures.drawing.cells import Cells, clipped
from tenaz.pictures.drawing.marks import Role

LONGEST_NAME, LONGEST_STATE = 20, 48
GAP = 2


@dataclass(frozen=True, slots=True)
class RigsPicture:
    """Those with something waiting first; ``at`` is the place pointed at, ``in_hand`` the name of the one worked on."""

    lines: tuple[RigLine, ...]
    at: int
    in_hand: str


def in_order(lines: Sequence[RigLine]) -> tuple[RigLine, ...]:
    """What waits for somebody first, then what runs, then what was found overnight, then the others as they came."""
    return tuple(sorted(lines, key=lambda one: (not one.waits, not one.running, not one.found)))


def _sign(one: RigLine) -> tuple[str, Role]:
    if one.running:
        return "◐", Role.LIT
    return ("?", Role.LIT) if one.waits else ("✗", Role.FAILED) if one.failed else ("·", Role.FAINT)


def _state(one: RigLine) -> str:
    """What runs now goes before how it stood; who works on it elsewhere stands before both."""
    return f"{one.held_by}: {one.running or one.state}" if one.held_by else one.running or one.state


def put_rigs(cells: Cells, top: int, rows: int, picture: RigsPicture) -> int:
    """Draw as many as have room, the one pointed at among them; gives the row beneath."""
    if not picture.lines:
        return top
    rows = max(1, min(rows, len(picture.lines)))
    first = max(0, min(picture.at - rows // 2, len(picture.lines) - rows))
    name_at, state_at = 4, 4 + GAP + min(LONGEST_NAME, max(len(one.name) for one in picture.lines))
    told_at = state_at + GAP + min(LONGEST_STATE, max(len(_state(one)) for one in picture.lines))
    for place in range(first, first + rows):
        one, row = picture.lines[place], top + place - first
        here = one.name == picture.in_hand
        cells.put(0, row, "▸" if place == picture.at else " ", Role.LIT)
        sign, role = _sign(one)
        cells.put(2, row, sign, role)
        cells.put(name_at, row, clipped(one.name, LONGEST_NAME), Role.LIT if here else Role.TEXT)
        cells.put(state_at, row, clipped(_state(one), max(0, min(LONGEST_STATE, cells.width - state_at))), Role.TEXT)
        told = " · ".join(part for part in (one.waits_for, one.found, one.next_step) if part)
        cells.put(told_at, row, clipped(told, max(0, cells.width - told_at)), Role.LIT if one.waits else Role.FAINT)
        cells.aim(0, row, cells.width, ("rig", place))
    hidden = len(picture.lines) - rows
    if hidden:
        cells.put_right(cells.width, top + rows - 1, f"{hidden} more ▾", Role.FAINT)
    return top + rows
