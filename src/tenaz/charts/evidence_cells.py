"""The evidence at a setpoint: hours by kind of load against what the purpose asks, and what follows directly."""

from tenaz.charts.cells import Cells, wrapped
from tenaz.charts.marks import Role
from tenaz.core.evidence import Evidence, KindEvidence
from tenaz.core.knobs import show_steps
from tenaz.core.rigs import Purpose

MOST_VALUES = 6
"""More are counted only, so that the evidence itself is seen."""


def verdict_words(evidence: Evidence) -> tuple[str, Role]:
    """What the evidence comes to, in two words, and its role."""
    if evidence.failed:
        return "FAILED HERE", Role.FAILED
    if evidence.shown:
        return "SHOWN", Role.HELD
    if any(kind.by_reach for kind in evidence.kinds):
        return "PARTLY SHOWN", Role.LIT
    return "NOTHING SHOWN", Role.UNKNOWN


def draw_evidence(
    evidence: Evidence, purpose: Purpose, dialled: tuple[tuple[str, bool], ...], width: int, height: int
) -> Cells:
    """Draw it; ``dialled`` names the values that it is about, each with whether it differs from what is in force."""
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
    row += 3
    for kind in evidence.kinds:
        row = _draw_kind(cells, kind, row, width)
    if evidence.voids:
        cells.put(0, row, f"{evidence.voids} void, say nothing", Role.FAINT)
        row += 2
    if evidence.before:
        for line in wrapped(f"{evidence.before} of before, on other parts or firmware", width):
            cells.put(0, row, line, Role.FAINT)
            row += 1
        row += 1
    cells.put(0, row, "asked for", Role.FAINT)
    for line in wrapped(purpose.name, width):
        row += 1
        cells.put(0, row, line, Role.TEXT)
    cells.put(0, row + 1, f"guard band {show_steps(purpose.guard_band_steps)}", Role.FAINT)
    return cells


def _draw_kind(cells: Cells, kind: KindEvidence, row: int, width: int) -> int:
    cells.put(0, row, kind.kind, Role.TEXT)
    counts = f"{kind.passed} passed" + (f" · {kind.failed} failed" if kind.failed else "")
    cells.put_right(width, row, counts, Role.FAILED if kind.failed else Role.FAINT)
    row += 1
    if kind.hours_asked:
        done = round(min(1.0, kind.hours / kind.hours_asked) * (width - 1))
        cells.put(0, row, "━" * done, Role.HELD)
        cells.put(done, row, "┄" * (width - done), Role.FRAME)
        enough = kind.hours_owed == 0
        cells.put(0, row + 1, f"{kind.hours:.1f}{'' if enough else f' of {kind.hours_asked:g}'} h", Role.TEXT)
        words = f"{kind.hours_asked:g} h asked" if enough else f"owed {kind.hours_owed:.1f} h"
        cells.put_right(width, row + 1, words, Role.FAINT if enough else Role.LIT)
        row += 2
    else:
        cells.put(0, row, f"{kind.hours:.1f} h, none asked for", Role.FAINT)
        row += 1
    for one in kind.partial:
        for line in wrapped(f"+ {show_hours(one.hours)} at {one.short_of}", width)[:2]:
            cells.put(0, row, line, Role.UNKNOWN)
            row += 1
    if kind.harder_hours:
        cells.put(0, row, f"+ {show_hours(kind.harder_hours)} at harder values", Role.FAINT)
        row += 1
    bound = kind.hazard_bound_per_h()
    if bound is not None and kind.hours_asked:
        cells.put(0, row, f"< {_figure(bound)} failures/h, 95%", Role.FAINT)
        row += 1
    return row + 1


def show_hours(hours: float) -> str:
    """Like ``40 min`` or ``2.5 h``."""
    return f"{hours * 60:.0f} min" if hours < 1 else f"{hours:.1f} h"


def _figure(value: float) -> str:
    """Two figures, without a power of ten."""
    return f"{value:.0f}" if value >= 10 else f"{value:.2g}"
