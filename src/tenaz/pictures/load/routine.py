"""A routine being composed, in cells: a step a line, its length as a bar, and what all of it comes to."""

from collections.abc import Mapping

from tenaz.core.loads.composing import Draft
from tenaz.core.loads.plan import LoadKind, Strains, show_duration
from tenaz.pictures.drawing.cells import Cells, clipped
from tenaz.pictures.drawing.marks import Role

BAR_AT = 4
BAR = 16
WORDS_AT = BAR_AT + BAR + 9

STRAIN_ROLE = {
    Strains.MEMORY: Role.MEASURED,
    Strains.CPU: Role.LIT,
    Strains.GRAPHICS: Role.GUARD,
    Strains.ANYTHING: Role.TEXT,
}
"""What a step strains is told by its words too; colour only helps."""


def draw_routine(draft: Draft, heat: Mapping[LoadKind, float], width: int, height: int) -> Cells:
    """Draw it; ``heat`` is the hottest that each kind of load has been on this rig so far, in °C."""
    cells = Cells(width, height)
    if not draft.steps:
        cells.put(0, 0, "no load yet: a adds one, from a list; n begins with one of the known routines", Role.FAINT)
        return cells
    room = max(1, height - 5)
    first = max(0, min(draft.at - room // 2, len(draft.steps) - room))
    longest = max((step.duration_s or 0.0 for step in draft.steps), default=0.0)
    for row, step in enumerate(draft.steps[first : first + room]):
        number, mine = first + row, first + row == draft.at
        cells.put(0, row, "▸" if mine else " ", Role.LIT)
        cells.put(2, row, f"{number + 1}", Role.LIT if mine else Role.FAINT)
        role = STRAIN_ROLE[step.kind.strains]
        if step.duration_s is None:
            cells.put(BAR_AT + 1, row, f"{step.laps} laps" if step.laps else "until stopped", role)
        else:
            share = step.duration_s / longest if longest else 0.0
            cells.put(BAR_AT + 1, row, "━" * max(1, round(share * BAR)), role)
            cells.put_right(WORDS_AT - 1, row, show_duration(step.duration_s), Role.TEXT)
        cells.put(WORDS_AT, row, step.kind, role)
        words = step.how().removeprefix(f"{step.kind}, ") if step.how() != step.kind else ""
        beside = "".join(f" ∥ {other.kind}, {other.how()}" for other in step.beside)
        cells.put(WORDS_AT + 11, row, clipped(f"{words}{beside}", width - WORDS_AT - 11), Role.TEXT)
        cells.aim(0, row, width, ("step", number))
    if len(draft.steps) > room:
        cells.put_right(width, room, f"{len(draft.steps) - room} more: ↑ ↓", Role.LIT)
    for row, (text, role) in enumerate(summary(draft, heat)):
        cells.put(0, min(room, len(draft.steps)) + 1 + row, clipped(text, width), role)
    return cells


def summary(draft: Draft, heat: Mapping[LoadKind, float]) -> list[tuple[str, Role]]:
    """How long, how much memory, how warm, and whether memory and processor are kept apart."""
    length = "as long as it takes" if draft.length_s is None else show_duration(draft.length_s)
    share = f", up to {draft.most_share:.0%} of memory at once" if draft.most_share else ""
    kinds = dict.fromkeys(kind for step in draft.steps for kind in step.kinds)
    known = [(heat[kind], kind) for kind in kinds if kind in heat]
    warm = "no load of it has run on this rig yet: how warm it gets is not known"
    if known:
        hottest, kind = max(known)
        new = [one for one in kinds if one not in heat]
        warm = f"up to {hottest:.0f} °C, as {kind} had here" + (f"; not run here yet: {', '.join(new)}" if new else "")
    lines = [
        (f"in all {length}{share}", Role.TEXT),
        (warm, Role.FAINT),
    ]
    if draft.mixed:
        steps = ", ".join(map(str, draft.mixed))
        lines.append((f"memory and processor at the same time in {steps}: a failure there has no culprit", Role.LIT))
    else:
        lines.append(("memory and processor apart: a failure says which", Role.HELD))
    return lines
