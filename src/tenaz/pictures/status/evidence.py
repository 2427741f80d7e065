"""The evidence at a setpoint: hours by kind of load against what the purpose asks, and what follows directly."""

from tenaz.core.base.amounts import show_duration
from tenaz.core.evidence.shown import Evidence, KindEvidence
from tenaz.core.knobs.knob import show_steps
from tenaz.core.loads.manners import Strains
from tenaz.core.rigs.rig import Purpose
from tenaz.margins.safety import AlongKnob, Safety
from tenaz.pictures.drawing.cells import Cells, wrapped
from tenaz.pictures.drawing.marks import Role
from tenaz.pictures.margins.cells import safety_role
from tenaz.pictures.margins.model import figure_h, show_hours_between

MOST_VALUES = 6
"""More are counted only, so that the evidence itself is seen."""


def verdict_words(evidence: Evidence) -> tuple[str, Role]:
    """What the evidence comes to, in two words, and its role."""
    if evidence.failed:
        return "FAILED HERE", Role.FAILED
    if evidence.shown:
        return "TESTED", Role.HELD
    if any(kind.by_reach for kind in evidence.kinds):
        return "PARTLY TESTED", Role.LIT
    return "NOTHING TESTED", Role.UNKNOWN


def draw_evidence(
    evidence: Evidence,
    purpose: Purpose,
    dialled: tuple[tuple[str, bool], ...],
    width: int,
    height: int,
    safety: Safety,
) -> Cells:
    """Draw it, and the verdict on it; ``dialled`` names the values that it is about, each with whether it differs from
    what is in force. What is shown directly never stands without what the model extends it to, where there is one.
    """
    cells = Cells(width, height)
    cells.put(0, 0, "evidence at", Role.FAINT)
    row = 2
    for value, changed in dialled[:MOST_VALUES]:
        cells.put(0, row, "▸" if changed else " ", Role.LIT)
        cells.put(2, row, value, Role.LIT if changed else Role.TEXT)
        row += 1
    if len(dialled) > MOST_VALUES:
        cells.put(2, row, f"and {len(dialled) - MOST_VALUES} more off stock", Role.FAINT)
        row += 1
    words, role = verdict_words(evidence)
    cells.put(0, row + 1, words, role)
    row = _draw_safety(cells, safety, row + 2, width) + 1
    for kind in evidence.kinds:
        row = _draw_kind(cells, kind, row, width, safety.under(kind.kind))
    if evidence.voids:
        cells.put(0, row, f"{evidence.voids} that do{'es' if evidence.voids == 1 else ''} not count", Role.FAINT)
        row += 2
    if evidence.unwatched_hours:
        for line in wrapped(
            f"{show_duration(evidence.unwatched_hours * 3600)} without the processor's temperature", width
        ):
            cells.put(0, row, line, Role.LIT)
            row += 1
        row += 1
    if evidence.before:
        for line in wrapped(f"{evidence.before} of before, on other parts or firmware", width):
            cells.put(0, row, line, Role.FAINT)
            row += 1
        row += 1
    cells.put(0, row, "asked for", Role.FAINT)
    for line in wrapped(purpose.name, width):
        row += 1
        cells.put(0, row, line, Role.TEXT)
    tolerance = purpose.tolerance
    guard = purpose.guard_band_steps
    asked = [f"{tolerance.in_use()},", f"{tolerance.confidence:.0%} sure"]
    for line in (*asked, *([f"guard at least {show_steps(guard)}"] if guard else [])):
        row += 1
        cells.put(0, row, line, Role.FAINT)
    return cells


def _draw_safety(cells: Cells, safety: Safety, row: int, width: int) -> int:
    """The verdict, what holds it back, and what it takes for granted."""
    for line in wrapped(safety.headline, width):
        cells.put(0, row, line, safety_role(safety))
        row += 1
    row -= 1
    granted = IF_USUAL if safety.sure is not None and not safety.not_shown else ""
    for text in (safety.why, granted, *(f"not shown: {one}" for one in safety.not_shown)):
        for line in wrapped(text, width) if text else ():
            row += 1
            cells.put(0, row, line, Role.FAINT)
    return row + 1


IF_USUAL = "if failures die out as they came"
"""What every figure of the model takes for granted."""


def _draw_kind(cells: Cells, kind: KindEvidence, row: int, width: int, line: AlongKnob | None) -> int:
    strains = kind.kind.strains
    cells.put(0, row, kind.kind, Role.TEXT)
    counts = f"{kind.passed} passed" + (f" · {kind.failed} failed" if kind.failed else "")
    if kind.failed and len(f"{kind.kind} {counts}") > width:
        counts = f"{kind.failed} of {kind.passed + kind.failed} failed"
    if strains is not Strains.ANYTHING and len(f"{kind.kind} {strains} {counts}") <= width:
        cells.put(len(kind.kind) + 1, row, strains, Role.FAINT)
    cells.put_right(width, row, counts, Role.FAILED if kind.failed else Role.FAINT)
    row += 1
    if kind.hours_asked:
        done = round(min(1.0, kind.hours / kind.hours_asked) * (width - 1))
        cells.put(0, row, "━" * done, Role.HELD)
        cells.put(done, row, "┄" * (width - done), Role.FRAME)
        enough = kind.hours_owed == 0
        cells.put(0, row + 1, show_hours(kind.hours) if enough else _so_far(kind.hours, kind.hours_asked), Role.TEXT)
        words = f"{_asked(kind.hours_asked)} asked" if enough else f"{show_hours(kind.hours_owed)} to run"
        cells.put_right(width, row + 1, words, Role.FAINT if enough else Role.LIT)
        row += 2
    else:
        cells.put(0, row, f"{kind.hours:.1f} h, none asked for", Role.FAINT)
        row += 1
    for one in kind.partial:
        for words in wrapped(f"+ {show_hours(one.hours)} at {one.short_of}", width)[:2]:
            cells.put(0, row, words, Role.UNKNOWN)
            row += 1
    if kind.harder_hours:
        cells.put(0, row, f"+ {show_hours(kind.harder_hours)} at harder values", Role.FAINT)
        row += 1
    bound = kind.hazard_bound_per_h()
    if bound is not None and (kind.hours_asked or line is not None):
        cells.put(0, row, f"tested: {figure_h(1 / bound)} and more", Role.FAINT)
        cells.put(0, row + 1, "between errors, 95% sure", Role.FAINT)
        row += 2
    if line is not None:
        rate = line.under[kind.kind].rate(line.strain)
        for words in wrapped(f"model: {show_hours_between(rate)}", width):
            cells.put(0, row, words, Role.MEASURED)
            row += 1
    return row + 1


def _asked(hours: float) -> str:
    return f"{hours:g} h" if hours >= 1 else show_hours(hours)


def _so_far(hours: float, asked: float) -> str:
    """Like ``2.0 of 8 h``, or ``4 of 15 min``."""
    return f"{hours * 60:.0f} of {asked * 60:.0f} min" if asked < 1 else f"{hours:.1f} of {asked:g} h"


def show_hours(hours: float) -> str:
    """Like ``40 min`` or ``2.5 h``."""
    return f"{hours * 60:.0f} min" if hours < 1 else f"{hours:.1f} h"
