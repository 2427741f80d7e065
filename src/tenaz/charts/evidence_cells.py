"""The evidence at a setpoint: hours by kind of load against what the purpose asks, and what follows directly."""

from dataclasses import dataclass

from tenaz.charts.cells import Cells, wrapped
from tenaz.charts.margins import figure, show_hours_between
from tenaz.charts.marks import Role
from tenaz.core.amounts import show_duration
from tenaz.core.evidence import Evidence, KindEvidence
from tenaz.core.knobs import show_steps
from tenaz.core.load_kinds import LoadKind
from tenaz.core.rigs import Purpose
from tenaz.margins.rates import RateEstimate

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


@dataclass(frozen=True, slots=True)
class Model:
    """What the model extends the evidence of one kind of load to: the failure rate here, and how sure it is that the
    purpose tolerates it.
    """

    kind: LoadKind
    rate: RateEstimate
    sure: float


def draw_evidence(
    evidence: Evidence,
    purpose: Purpose,
    dialled: tuple[tuple[str, bool], ...],
    width: int,
    height: int,
    model: Model | None = None,
) -> Cells:
    """Draw it; ``dialled`` names the values that it is about, each with whether it differs from what is in force. What
    is shown directly never stands without what the model extends it to, where there is one.
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
    row += 3
    for kind in evidence.kinds:
        row = _draw_kind(cells, kind, row, width, model if model and model.kind is kind.kind else None)
    if evidence.voids:
        cells.put(0, row, f"{evidence.voids} void, say nothing", Role.FAINT)
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


def _draw_kind(cells: Cells, kind: KindEvidence, row: int, width: int, model: Model | None) -> int:
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
    if bound is not None and (kind.hours_asked or model is not None):
        cells.put(0, row, f"shown: {figure(1 / bound)} h to a", Role.FAINT)
        cells.put(0, row + 1, "failure at least, 95%", Role.FAINT)
        row += 2
    if model is not None:
        for line in wrapped(f"model: {show_hours_between(model.rate)}", width):
            cells.put(0, row, line, Role.MEASURED)
            row += 1
        role = Role.HELD if model.sure >= 0.9 else Role.FAILED if model.sure < 0.5 else Role.LIT
        cells.put(0, row, f"tolerated: {model.sure:.0%} sure", role)
        row += 1
    return row + 1


def show_hours(hours: float) -> str:
    """Like ``40 min`` or ``2.5 h``."""
    return f"{hours * 60:.0f} min" if hours < 1 else f"{hours:.1f} h"
