"""The question path drawn: the board with suspicion as its ink, who it may be and why, what comes next."""

from tenaz.core.base.amounts import show_chance, show_duration
from tenaz.core.parts.fitting import name_of
from tenaz.finding.causes import NOTHING, Part, Suspect
from tenaz.finding.enough import Enough
from tenaz.finding.history import history
from tenaz.pictures.drawing.cells import Cells, clipped, wrapped
from tenaz.pictures.drawing.marks import NEXT, Role
from tenaz.pictures.find.model import FindPicture, Suspicion
from tenaz.pictures.find.parts import draw_parts, ink

BAR = 12
NAME, LONG_NAME, LONG_FROM = 21, 32, 100
"""Columns of a suspect's name; on a page so wide."""
MANY = 3
"""From so many suspects on less is told of each."""
SURE_ROLE = {Enough.GO_ON: Role.TEXT, Enough.HAND_BACK: Role.HELD}
EMPTY = (
    "Nothing was told of this rig yet. r›s ticks what was noticed, or type the complaint into its form (r›e); then "
    "the question path begins, with the cheapest thing that tells most."
)


def draw_find(picture: FindPicture, width: int, height: int, pointed: Suspect | None = None, skip: int = 0) -> Cells:
    """All of it; the lower part, from line ``skip`` on, as far as there is room."""
    cells = Cells(width, height)
    row = _told(cells, picture)
    row = draw_parts(cells, picture, row, pointed)
    lines = [*_pointed(picture, pointed, width), *_lines(picture, width)]
    room = height - row
    if len(lines) > room > 1:
        skip = max(0, min(skip, len(lines) - room + 1))
        rest = len(lines) - skip - (room - 1)
        lines = lines[skip : skip + room - 1]
        if rest > 0:
            lines.append([(0, f"{rest} more below: PgDn", Role.FAINT)])
    for number, line in enumerate(lines):
        for column, text, role in line:
            cells.put(column, row + number, clipped(text, max(0, width - column)), role)
    return cells


def draw_working(width: int, height: int) -> Cells:
    """While nothing came yet."""
    cells = Cells(width, height)
    cells.put(0, 0, "the question path is being worked out …", Role.FAINT)
    return cells


Line = list[tuple[int, str, Role]]


def _told(cells: Cells, picture: FindPicture) -> int:
    """Who it is, what was told, what was ticked; gives the next free row."""
    rig, width = picture.rig, cells.width
    count = f"{picture.trials} trial{'s' if picture.trials != 1 else ''}"
    spent = f"{count}, {show_duration(picture.minutes * 60)} at the bench" if picture.trials else ""
    cells.put(0, 0, clipped(f"what is wrong with {rig.name}?", width), Role.LIT)
    cells.put_right(width, 0, spent, Role.FAINT)
    row = 1
    for line in wrapped(f"«{rig.complaint}»" if rig.complaint else "no complaint in its form (e)", width)[:3]:
        cells.put(0, row, line, Role.TEXT if rig.complaint else Role.UNKNOWN)
        row += 1
    ticked = ", ".join(one.value for one in picture.symptoms) or "nothing yet"
    cells.put(0, row, clipped(f"told: {ticked}", width - 22), Role.MEASURED if picture.symptoms else Role.UNKNOWN)
    cells.put_right(width, row, "r›s ticks", Role.FAINT)
    if picture.capacity:
        row += 1
        cells.put(0, row, clipped(picture.capacity, width), Role.FAILED)
    return row + 2


def _pointed(picture: FindPicture, pointed: Suspect | None, width: int) -> list[Line]:
    """The history of the part pointed at: where it sat in which trials, and what was written on it."""
    if pointed is None:
        return []
    parts = [pointed]
    if pointed.part is Part.SLOT:
        sits = next((name_of(one) for one in picture.fitting.fitted if one.slot == pointed.place), "")
        parts = [Suspect(Part.MODULE, sits), pointed] if sits else parts
    lines: list[Line] = []
    for part in parts:
        written = [one for one in picture.labels if one.part == (part.part.value, part.place)]
        told = [
            history(part, picture.sightings),
            *(f"written on it: {one.state} {one.text}".rstrip() for one in written),
        ]
        words = "; ".join(one for one in told if one) or "no trial yet"
        lines += [[(0, line, Role.MEASURED)] for line in wrapped(f"{part.show()}: {words}", width)[:3]]
    return [*lines, []]


def _lines(picture: FindPicture, width: int) -> list[Line]:
    """Everything under the board."""
    found: list[Line] = []
    if not picture.symptoms and not picture.trials:
        return [[(0, line, Role.FAINT)] for line in wrapped(EMPTY, width)]
    enough = picture.verdict.enough
    for number, line in enumerate(wrapped(picture.verdict.words, width)):
        found.append([(0, line, SURE_ROLE.get(enough, Role.LIT) if number == 0 else Role.TEXT)])
    found.append([])
    shown = [one for one in picture.suspects if one.sure >= 0.02][:7] or list(picture.suspects[:3])
    few = 3 if len(shown) < MANY else 2
    for one in shown:
        found += _suspect(one, picture, width, few)
    rest = 1 - sum(one.sure for one in shown)
    if rest > 0.02 and len(picture.suspects) > len(shown):
        found.append([(BAR + 1, f"{rest:.0%} on {len(picture.suspects) - len(shown)} others and more", Role.FAINT)])
    found += _next(picture, width)
    found += _beside(picture, width)
    return found


def _suspect(one: Suspicion, picture: FindPicture, width: int, few: int) -> list[Line]:
    """A bar, the part, its label, and what speaks for it."""
    full = round(one.sure * BAR)
    role = ink(one.sure) if one.suspect != NOTHING else Role.HELD if one.sure >= 0.5 else Role.TEXT
    line: Line = [(0, "█" * full, role), (full, "·" * (BAR - full), Role.FRAME)]
    room = LONG_NAME if width >= LONG_FROM else NAME
    line.append((BAR + 1, f"{show_chance(one.sure):>4} {clipped(one.suspect.show(), room)}", role))
    column = BAR + 7 + room
    state = picture.label_of(one.suspect.part.value, one.suspect.place)
    if state.value != "unknown":
        line.append((column - len(state.value) - 1, state.value, Role.LIT))
    lines = [line]
    for number, reason in enumerate(one.reasons[:few] if one.sure >= 0.05 else one.reasons[:1]):
        sign, ink_ = ("+", Role.TEXT) if reason.folds > 0 else ("−", Role.FAINT)
        text = clipped(f"{sign} {reason.text}", max(0, width - column))
        if number:
            lines.append([(column, text, ink_)])
        else:
            line.append((column, text, ink_))
    return lines


def _next(picture: FindPicture, width: int) -> list[Line]:
    if not picture.acts:
        return []
    lines: list[Line] = [
        [],
        [(0, "what tells most a minute", Role.FAINT), (width - 21, "minutes  of the doubt", Role.FAINT)],
    ]
    for number, act in enumerate(picture.acts[:5]):
        role = Role.LIT if number == 0 else Role.TEXT
        mark = f"{NEXT.sign} " if number == 0 else "  "
        figures = f"{act.minutes:>7.0f}  {picture.told_by(act):>12.0%}"
        lines.append([(0, clipped(f"{mark}{act.show()}", width - 24), role), (width - 21, figures, role)])
    return lines


def _beside(picture: FindPicture, width: int) -> list[Line]:
    """Heat and supply, what must stay away, ways around, what could hide, what was done."""
    found: list[tuple[str, Role]] = []
    found += [(text, Role.LIT) for text in picture.heat]
    found += [(picture.stays_away, Role.LIT)] if picture.stays_away else []
    if picture.verdict.enough is not Enough.GO_ON:
        found += [(f"around it: {text}", Role.TEXT) for text in picture.around]
    if picture.verdict.suspect == NOTHING and picture.hides:
        shown = ", ".join(f"{load} {hours:.1f} h" for load, hours in picture.shown_h[:5])
        found.append((f"tested: {shown or 'nothing yet'}", Role.TEXT))
        hides = "; ".join(f"{about} {sure:.1%}" for about, sure in picture.hides[:3])
        found.append((f"could hide still: {hides}", Role.TEXT))
    if any(picture.solo_min.values()):
        least = min(picture.solo_min.values())
        few = [str(core) for core, minutes in picture.solo_min.items() if minutes <= least + 0.01]
        text = (
            f"solo: {least:.0f} min and more a core"
            if len(few) == len(picture.solo_min)
            else (f"solo: least on core {', '.join(few[:6])}, {least:.0f} min")
        )
        found.append((text, Role.FAINT))
    found += [(picture.address_map, Role.FAINT)] if picture.address_map else []
    if picture.passed_over:
        found.append(
            (f"{picture.passed_over} trials harder than stock, or never judged, say nothing of parts", Role.FAINT)
        )
    for work in picture.works[1:][-4:]:
        found.append((f"done after trial {work.after_number}: {work.told}", Role.FAINT))
    lines: list[Line] = [[]] if found else []
    for text, role in found:
        lines += [[(0, line, role)] for line in wrapped(text, width)]
    return lines
