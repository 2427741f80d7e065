"""All that the book keeps of one trial, as lines; and two trials side by side."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from tenaz.core.knobs.readings import Reading, show_sources
from tenaz.core.knobs.setpoint import Setpoint, Value
from tenaz.core.loads.plan import Mismatch, show_duration
from tenaz.core.rigs.rig import Rig
from tenaz.core.sensors.telemetry import SensorKind
from tenaz.core.trials.trial import Trial
from tenaz.pictures.drawing.cells import Cells, clipped, wrapped
from tenaz.pictures.drawing.marks import Role, mark_of

Line = tuple[int, str, Role]
"""Indent, words, role."""

MOST_WRONG_TOLD = 6
MOST_SAID = 12
SAME = "the same"

TOLD = (SensorKind.TEMPERATURE, SensorKind.POWER)
"""Kinds of sensors that a trial's page tells of."""


@dataclass(frozen=True, slots=True)
class TrialPage:
    """A trial with its rig, what was read at its last confirmation, what was wrong, and what was said."""

    trial: Trial
    rig: Rig
    readings: tuple[Reading, ...] = ()
    wrong: tuple[Mismatch, ...] = ()
    lines: tuple[tuple[datetime, str, str], ...] = ()


def ended_words(trial: Trial) -> str:
    """How a trial ended, or where it stands."""
    mark = mark_of(trial.outcome)
    if trial.outcome is None:
        return f"{mark.sign} open, at {trial.station}"
    after = f" after {show_duration(trial.clean_s)}" if trial.clean_s else ""
    errors = f", {trial.errors} error{'s' if trial.errors != 1 else ''}" if trial.errors else ""
    return f"{mark.sign} {mark.word}{after}{errors}"


def values_off_stock(setpoint: Setpoint, rig: Rig) -> str:
    """What differs from stock, in words."""
    knobs = {knob.name: knob for knob in rig.knobs}
    moved = [one.knob for one in setpoint.changes_from(rig.stock) if one.knob in knobs]
    return ", ".join(f"{knobs[name].label} {knobs[name].show(setpoint[name])}" for name in moved) or "stock"


def page_lines(page: TrialPage) -> list[Line]:
    """The trial in lines: what was asked and in force, what ran and how warm, what was wrong, what was noted."""
    trial, rig = page.trial, page.rig
    began = f"{trial.begun_utc:%Y-%m-%d %H:%M} UTC"
    bench = trial.bench.value + ("" if trial.bench.real else ", simulated")
    lines: list[Line] = [
        (0, f"trial {trial.number} of {rig.name} ({bench}), {began}", Role.LIT),
        (0, f"{ended_words(trial)} · {trial.plan.show()}", mark_of(trial.outcome).role),
    ]
    if trial.seen_by:
        lines.append((0, f"seen by {trial.seen_by}" + (f" · {trial.reason}" if trial.reason else ""), Role.FAINT))
    if trial.note:
        lines.append((0, f"note: {trial.note}", Role.TEXT))
    lines += [(0, "", Role.TEXT), (0, f"ran at: {values_off_stock(trial.setpoint, rig)}", Role.TEXT)]
    labels = {knob.name: knob.label for knob in rig.knobs}
    for change in trial.otherwise:
        words = f"≠ {labels.get(change.knob, change.knob)}: asked {change.before}, ran at {change.after}"
        lines.append((2, words, Role.FAILED))
    if trial.sources:
        lines.append((2, f"known by: {show_sources(trial.sources)}", Role.FAINT))
    took = [f"{fact.station}: {fact.move}" + _took(fact.seconds) for fact in trial.stations]
    if took:
        lines.append((0, f"before the load: {', '.join(took)}", Role.FAINT))
    lines += _load_lines(trial)
    lines += _wrong_lines(page.wrong)
    if page.lines:
        lines += [(0, "", Role.TEXT), (0, "said meanwhile", Role.FAINT)]
        lines += [(2, f"{at:%H:%M:%S}  {source:<8} {text}", Role.FAINT) for at, source, text in page.lines[-MOST_SAID:]]
    return lines


def _took(seconds: float | None) -> str:
    return "" if seconds is None or seconds < 1 else f" ({show_duration(seconds)})"


def _load_lines(trial: Trial) -> list[Line]:
    lines: list[Line] = []
    for fact in trial.facts.loads:
        words = [f"{fact.kind} ran {show_duration(fact.seconds)}"]
        if fact.laps >= 0.01:
            words.append(f"{fact.laps:.2f} laps")
        if fact.rate:
            words.append(f"{fact.rate:.1f} {fact.kind.rate_unit}")
        if fact.covered < 1:
            words.append(f"went over {fact.covered:.0%} of what it was given")
        if fact.by_hand:
            words.append("as it was told")
        lines.append((0, ", ".join(words), Role.TEXT))
    sensors = [
        f"{one.label} {one.mean:.0f}, at most {one.peak:.0f} {one.kind.unit}"
        for one in trial.facts.sensors
        if one.kind in TOLD
    ]
    lines += [(2, words, Role.MEASURED) for words in sensors]
    if trial.facts.room_c is not None:
        lines.append((2, f"room {trial.facts.room_c:g} °C", Role.FAINT))
    return lines


def _wrong_lines(wrong: Sequence[Mismatch]) -> list[Line]:
    if not wrong:
        return []
    lines: list[Line] = [(0, f"{len(wrong)} wrong value{'s' if len(wrong) != 1 else ''} kept", Role.FAILED)]
    lines += [(2, f"{show_duration(one.at_s)}: {one.show()}", Role.TEXT) for one in wrong[:MOST_WRONG_TOLD]]
    if len(wrong) > MOST_WRONG_TOLD:
        lines.append((2, f"and {len(wrong) - MOST_WRONG_TOLD} more", Role.FAINT))
    return lines


def compared_lines(one: TrialPage, other: TrialPage) -> list[tuple[str, str, str, bool]]:
    """Two trials, a line each thing: what, of the one, of the other, whether they differ. Values only where they do."""
    rows = [
        ("rig", one.rig.name, other.rig.name),
        ("when", f"{one.trial.begun_utc:%Y-%m-%d %H:%M}", f"{other.trial.begun_utc:%Y-%m-%d %H:%M}"),
        ("ended", ended_words(one.trial), ended_words(other.trial)),
        ("load", one.trial.plan.show(), other.trial.plan.show()),
    ]
    labels = {knob.name: knob for page in (other, one) for knob in page.rig.knobs}
    for change in other.trial.setpoint.changes_from(one.trial.setpoint):
        knob = labels.get(change.knob)

        def shown(value: Value, knob: object = knob) -> str:
            return knob.show(value) if hasattr(knob, "show") else str(value)

        rows.append((knob.label if knob else change.knob, shown(change.before), shown(change.after)))
    if one.trial.setpoint == other.trial.setpoint:
        rows.append(("values", "the very same", SAME))
    for label in dict.fromkeys(
        fact.label for page in (one, other) for fact in page.trial.facts.sensors if fact.kind in TOLD
    ):
        rows.append((f"{label}, at most", _peak(one.trial, label), _peak(other.trial, label)))
    rows.append(("room", _room(one.trial), _room(other.trial)))
    rows.append(("parts", one.trial.fitted or "not known", other.trial.fitted or "not known"))
    rows.append(("note", one.trial.note, other.trial.note))
    return [(what, mine, SAME if mine == its else its, mine != its) for what, mine, its in rows if mine or its]


def _peak(trial: Trial, label: str) -> str:
    found = next((one for one in trial.facts.sensors if one.label == label), None)
    return "" if found is None else f"{found.peak:.0f} {found.kind.unit}"


def _room(trial: Trial) -> str:
    return "" if trial.facts.room_c is None else f"{trial.facts.room_c:g} °C"


def draw_page(page: TrialPage, width: int, height: int) -> Cells:
    """The trial, as far as there is room."""
    cells = Cells(width, height)
    row = 0
    for indent, text, role in page_lines(page):
        for line in wrapped(text, max(1, width - indent)) or [""]:
            cells.put(indent, row, line, role)
            row += 1
    if row > height > 0:
        cells.put_right(width, height - 1, " more: tenaz trial shows all", Role.LIT)
    return cells


def draw_compared(one: TrialPage, other: TrialPage, width: int, height: int) -> Cells:
    """Two trials side by side; what differs is lit."""
    cells = Cells(width, height)
    label = 24 if width >= 80 else 18
    half = max(8, (width - label) // 2)
    cells.put(label, 0, clipped(f"trial {one.trial.number}", half - 2), Role.LIT)
    cells.put(label + half, 0, clipped(f"trial {other.trial.number}", half - 1), Role.LIT)
    for row, (what, mine, its, differs) in enumerate(compared_lines(one, other), 1):
        cells.put(0, row, clipped(what, label - 1), Role.FAINT)
        cells.put(label, row, clipped(mine, half - 2), Role.TEXT if differs else Role.FAINT)
        cells.put(label + half, row, clipped(its, half - 1), Role.LIT if differs else Role.FAINT)
    return cells
