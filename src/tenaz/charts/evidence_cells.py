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
    if all(kind.hours_owed == 0 for kind in evidence.kinds):
        return "SHOWN", Role.HELD
    if any(kind.hours for kind in evidence.kinds):
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
    if not kind.hours_asked:
        cells.put(0, row + 1, f"{kind.hours:.1f} h, none asked for", Role.FAINT)
        return row + 3
    part = min(1.0, kind.hours / kind.hours_asked) if kind.hours_asked else 1.0
    done = round(part * (width - 1))
    cells.put(0, row + 1, "━" * done, Role.HELD)
    cells.put(done, row + 1, "┄" * (width - done), Role.FRAME)
    cells.put(0, row + 2, f"{kind.hours:.1f} of {kind.hours_asked:g} h", Role.TEXT)
    if kind.hours_owed:
        cells.put_right(width, row + 2, f"owed {kind.hours_owed:.1f} h", Role.LIT)
    bound = kind.hazard_bound_per_h()
    if bound is not None:
        cells.put(0, row + 3, f"under {bound:.2g} failures/h (95%)", Role.FAINT)
    return row + 5
