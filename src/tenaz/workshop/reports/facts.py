"""The facts of a report, section by section, each with the trials that it rests on."""

import math
from collections.abc import Iterable

from tenaz.core.base.amounts import show_sure
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.base.tolerance import Tolerance
from tenaz.core.loads.plan import Strains, show_duration
from tenaz.core.machine.machine import show_gib
from tenaz.core.parts.fitting import name_of
from tenaz.core.parts.works import AS_IT_CAME
from tenaz.core.rigs.rig import Rig
from tenaz.core.scores.gains import Worth
from tenaz.core.scores.score import Figure
from tenaz.core.sensors.telemetry import SensorKind
from tenaz.core.trials.facts import SensorFact
from tenaz.core.trials.trial import Trial
from tenaz.papers.reports.report import Fact
from tenaz.pictures.book.trial import ended_words, values_off_stock
from tenaz.pictures.margins.model import show_hours_between
from tenaz.pictures.scores.build import pays_in_words
from tenaz.pictures.sheet.model import sheet_picture
from tenaz.workshop.reports.ground import ReportGround


def facts_of(ground: ReportGround) -> tuple[Fact, ...]:
    """All of them, in the order in which they stand."""
    sections = (
        _rig, _settings, _complaint, _shown, _safe, _bounds, _margins, _edges, _warmth, _scores, _parts, _failures,
        _notes, _given_up,
    )  # fmt: skip
    return tuple(fact for section in sections for fact in section(ground))


def numbers(trials: Iterable[Trial]) -> tuple[str, ...]:
    """Of trials, as they are named."""
    return tuple(str(one.number) for one in trials)


def _rig(ground: ReportGround) -> list[Fact]:
    rig = ground.view.rig
    told = [
        ("owner", rig.owner), ("brought because", rig.complaint), ("for", rig.purpose.name),
        ("tolerates", rig.purpose.tolerance.show()), ("processor", rig.processor),
        ("cores", str(rig.cores) if rig.cores else ""),
        ("memory fitted", show_gib(rig.memory_bytes) if rig.memory_bytes else ""), *rig.parts,
        ("firmware", rig.machine.firmware if rig.machine else ""), ("seen by eye", rig.by_eye),
        ("room", f"{rig.room_c:g} °C" if rig.room_c is not None else ""),
    ]  # fmt: skip
    found = [Fact("the rig", name, value) for name, value in told if value]
    for module in rig.machine.modules if rig.machine else ():
        if module.fitted:
            words = f"{show_gib(module.size_bytes or 0)} {module.part or module.kind}, {name_of(module)}"
            found.append(Fact("the rig", f"slot {module.slot}", words))
    return found


def _settings(ground: ReportGround) -> list[Fact]:
    view = ground.view
    sheet = sheet_picture(view.rig, view.in_force, view.rig.stock, notes=view.kept.notes)
    last = view.index.set_by
    found = []
    for row in sheet.rows:
        known = f" ({last.source_of(row.name)})" if last is not None else ""
        was = f", stock {row.was}" if row.was else ""
        ns = "" if row.time_ns is None else f" = {row.time_ns:.2f} ns"
        trials = (str(last.number),) if last is not None else ()
        found.append(Fact("settings", row.label, f"{row.value}{ns}{was}{known}", trials=trials))
    return found


def _shown(ground: ReportGround) -> list[Fact]:
    found = []
    together: dict[Strains, float] = {}
    for kind in ground.evidence.kinds:
        together[kind.kind.strains] = together.get(kind.kind.strains, 0.0) + kind.hours
    for strain, hours in together.items():
        mine = numbers(one for one in ground.here if any(kind.strains is strain for kind in one.plan.kinds))
        if hours:
            words = f"{show_duration(3600 * hours)} clean"
            found.append(Fact("shown at these settings", f"all that strains the {strain}", words, trials=mine))
    for kind in ground.evidence.kinds:
        mine = numbers(one for one in ground.here if kind.kind in one.plan.kinds)
        asked = f" of {kind.hours_asked:g} asked" if kind.hours_asked else ""
        words = f"{kind.hours:.2f} h clean{asked}; {kind.passed} passed, {kind.failed} failed"
        found.append(Fact("shown at these settings", kind.kind.value, words, trials=mine))
        for reach in kind.by_reach:
            short = f", short of {reach.short_of}" if reach.short_of else ""
            name = f"{kind.kind}, reach {reach.reach.show() or 'not known'}"
            found.append(Fact("shown at these settings", name, f"{reach.hours:.2f} h{short}", trials=mine))
    return found


def _bounds(ground: ReportGround) -> list[Fact]:
    """Both bounds of the time to a failure, each under its kind of load."""
    found = []
    for kind in ground.evidence.kinds:
        bound = kind.hazard_bound_per_h()
        if bound:
            mine = numbers(one for one in ground.here if kind.kind in one.plan.kinds)
            value = f"at least {1 / bound:.3g}"
            found.append(Fact("hours between errors", f"{kind.kind}: shown directly, 95 %", value, "h", mine))
    for row in ground.margins.rows:
        name = f"{row.knob.label} under {row.kind}: by the model"
        found.append(
            Fact("hours between errors", name, show_hours_between(row.rate), "", _of_line(ground, row.knob.name))
        )
    return found


def _safe(ground: ReportGround) -> list[Fact]:
    """The verdict, what it rests on, and what it is promised for."""
    safety, rig = ground.margins.safety, ground.view.rig
    line, tolerance = safety.held_back, rig.purpose.tolerance
    mine = numbers(line.trials) if line is not None else ()
    found = [Fact("how safe it is", f"sure of at most {tolerance.in_use()}", safety.brief, trials=mine)]
    found.append(Fact("how safe it is", "as sure is asked", f"{100 * tolerance.confidence:.3g}", "%"))
    found.append(Fact("how safe it is", "taken for granted", "failures die out below what was tried, as they came"))
    found += [Fact("how safe it is", "not shown", words) for words in safety.not_shown]
    clean = f"{safety.background.here_h:.1f} h here, {safety.background.in_use_h:g} h in use, "
    clean += f"{safety.background.alike_h:.1f} h on rigs like it; {safety.background.failures} failures that count"
    found.append(Fact("how safe it is", "clean hours", clean))
    if rig.guarantee_months:
        told = f"{rig.guarantee_months} months, at {HOURS_A_DAY} h a day {guarantee_h(rig):,.0f} h"
        count = failures_in(guarantee_h(rig), tolerance)
        words = f"{told}: at most {count} failure{'s' if count > 1 else ''} to be expected by the rate asked for"
        found.append(Fact("how safe it is", "guarantee", words))
    return found


HOURS_A_DAY = 8
"""Of use, for what is guaranteed in months."""
DAYS_A_MONTH = 365.25 / 12


def guarantee_h(rig: Rig) -> float:
    """Hours of use within the guarantee."""
    return (rig.guarantee_months or 0) * DAYS_A_MONTH * HOURS_A_DAY


def failures_in(hours: float, tolerance: Tolerance) -> int:
    """At most so many failures are to be expected within hours of use, at the rate that is tolerated."""
    return max(1, math.ceil(hours * tolerance.rate_per_h))


def _complaint(ground: ReportGround) -> list[Fact]:
    """How it fared before what was done to it, and how it fares now."""
    found = []
    if before := ground.before:
        hours = sum(one.clean_s if one.verdict is Verdict.FAIL else one.elapsed_s for one in before) / 3600
        failed = [one for one in before if one.verdict is Verdict.FAIL]
        soonest = min((one.clean_s for one in failed if one.outcome is not Outcome.NO_BOOT), default=None)
        words = f"{len(failed)} of {len(before)} trials failed, in {hours:.1f} h"
        words += f"; the soonest after {show_duration(soonest)}" if soonest is not None else ""
        found.append(Fact("the complaint", "before what was done", words, trials=numbers(before)))
    now = f"{sum(one.verdict is Verdict.FAIL for one in ground.here)} of {len(ground.here)} trials failed"
    hours = sum(one.elapsed_s for one in ground.here if one.verdict is Verdict.PASS) / 3600
    found.append(Fact("the complaint", "as it is now", f"{now}, {hours:.1f} h held", trials=numbers(ground.here)))
    return found


def _of_line(ground: ReportGround, knob: str) -> tuple[str, ...]:
    view = ground.view
    return numbers(one for one in view.index.along(view.in_force, knob) if one.outcome is not None)


def _margins(ground: ReportGround) -> list[Fact]:
    found = []
    for row in ground.margins.rows:
        low, middle, high = row.steps
        words = f"{middle:+.1f} steps ({low:+.1f} to {high:+.1f}), {row.in_units:+.0f} {row.knob.unit}"
        percent = "" if row.percent is None else f", {row.percent:+.1f} %"
        name = f"{row.knob.label} {row.knob.show(row.in_use)} under {row.kind}"
        found.append(Fact("margins", name, words + percent, trials=_of_line(ground, row.knob.name)))
    return found


def _edges(ground: ReportGround) -> list[Fact]:
    found = []
    for climb in ground.view.searches.pictures.values():
        trials = tuple(str(point.number) for point in climb.points)
        words = climb.bracket.show(climb.knob)
        if climb.edge is not None:
            words += f"; edge {climb.interval_text()} ({climb.edge.confidence:.0%}); {climb.stand_words}"
        found.append(Fact("edges found", f"{climb.knob.label} under {climb.load}", words, trials=trials))
    return found


def peaks_here(ground: ReportGround, kind: SensorKind) -> dict[str, tuple[SensorFact, tuple[str, ...]]]:
    """Of every sensor of a kind, its peak over all that passed at these settings, and in which trials it was read."""
    found: dict[str, tuple[SensorFact, tuple[str, ...]]] = {}
    for trial in ground.here:
        for one in trial.facts.sensors:
            if one.kind is kind and trial.verdict is Verdict.PASS:
                before, trials = found.get(one.id, (one, ()))
                found[one.id] = (max(before, one, key=lambda s: s.peak), (*trials, str(trial.number)))
    return found


def _warmth(ground: ReportGround) -> list[Fact]:
    rooms = {trial.facts.room_c for trial in ground.here if trial.facts.room_c is not None}
    room = f" (room {min(rooms):.0f} to {max(rooms):.0f} °C)" if rooms else ""
    heat = [
        Fact(
            "temperatures under load",
            one.label,
            f"{one.peak:.0f} °C at most, {one.mean:.0f} °C on average{room}",
            "",
            trials,
        )
        for one, trials in peaks_here(ground, SensorKind.TEMPERATURE).values()
    ]
    return heat + [
        Fact("power under load", one.label, f"{one.peak:.0f} W at most, {one.mean:.0f} W on average", "", trials)
        for one, trials in peaks_here(ground, SensorKind.POWER).values()
    ]


def _scores(ground: ReportGround) -> list[Fact]:
    scores = ground.scores
    on = tuple(f"m{number}" for number in scores.measures)
    if scores.comparison is None:
        return [Fact("scores", one.figure.name, one.show(), "", on) for one in scores.newest if _counts(one.figure)]
    found = [Fact("scores", f"against {scores.before}", scores.comparison.verdict, "", on)]
    for gain in scores.comparison.gains:
        if _counts(gain.figure):
            words = f"{gain.before:.4g} → {gain.after:.4g} {gain.figure.unit}, {gain.show()}; {gain.worth}"
            found.append(Fact("scores", gain.figure.name, words, "", on))
    return found + [Fact("scores", "a watt", " · ".join(scores.per_watt))] * bool(scores.per_watt)


def _counts(figure: Figure) -> bool:
    return figure.leads or figure.own


def _parts(ground: ReportGround) -> list[Fact]:
    found = []
    for number, one in enumerate(ground.works[1:], 1):
        if one.text != AS_IT_CAME:
            after = (str(one.after_number),) if one.after_number > 0 else ()
            found.append(Fact("parts moved", f"{number}. {one.at_utc:%d %b %Y}", one.told or one.text, trials=after))
    if ground.found:
        found_it = (
            f"{ground.found.suspect.show()}, {show_sure(ground.found.sure)} sure: enough to {ground.found.enough}"
        )
        found.insert(0, Fact("parts moved", "what was found", found_it))
    newest = {label.part: label for label in ground.labels}
    for label in newest.values():
        name = f"{label.kind} {label.place}".strip()
        found.append(Fact("parts labelled", name, f"{label.state}{f': {label.text}' if label.text else ''}"))
    return found


def _failures(ground: ReportGround) -> list[Fact]:
    view = ground.view
    failed = [one for one in view.trials if one.verdict is Verdict.FAIL]
    found = []
    for one in failed:
        words = f"{ended_words(one)} under {one.plan.show()}, at {values_off_stock(one.setpoint, view.rig)}"
        found.append(
            Fact("what failed", f"trial {one.number}, {one.begun_utc:%d %b %Y}", words, trials=(str(one.number),))
        )
    return found


def _notes(ground: ReportGround) -> list[Fact]:
    view = ground.view
    knobs = {knob.name: knob for knob in view.rig.knobs}
    found = []
    for note in view.kept.notes:
        label = f"{knobs[note.knob].label} {knobs[note.knob].show(note.value)}" if note.knob in knobs else note.knob
        state = "settled" if note.settled else "open" if note.open else "kept"
        found.append(Fact("notes", label, f"{note.show()} ({state})"))
    found += [Fact("notes", f"trial {t.number}", t.note, trials=(str(t.number),)) for t in view.trials if t.note]
    return found


def _given_up(ground: ReportGround) -> list[Fact]:
    """What was tried, held, and does not pay; and the hardest that was tried of each knob and failed."""
    found = []
    for step in ground.scores.steps:
        if step.comparison.worth is Worth.DOES_NOT and not step.now:
            words = f"{pays_in_words(step.comparison)}; {'it failed too' if step.failed else 'it held'}"
            found.append(Fact("given up", step.words, words))
    for row in ground.margins.rows:
        if row.bracket.failed is not None:
            failed = row.knob.show(row.bracket.failed)
            words = f"failed, all else as it is now; {row.knob.show(row.in_use)} is set now"
            found.append(Fact("given up", f"{row.knob.label} {failed}", words, trials=_of_line(ground, row.knob.name)))
    return found


def owed_of(ground: ReportGround) -> tuple[str, ...]:
    """What must still be shown before it may be called proven."""
    view, evidence = ground.view, ground.evidence
    owed = [f"{kind.kind} {show_duration(kind.hours_owed * 3600)}" for kind in evidence.kinds if kind.hours_owed]
    if evidence.failed:
        owed.insert(0, f"{evidence.failed} trial{'s' if evidence.failed > 1 else ''} failed at these very settings")
    if view.now.unfinished is not None:
        owed.append(f"trial {view.now.unfinished.number} was never judged")
    safety, tolerance = ground.margins.safety, view.rig.purpose.tolerance
    if safety.sure is not None and not safety.as_asked and not evidence.failed:
        asked = f"{100 * tolerance.confidence:.3g} % asked"
        owed.append(f"{safety.brief}: {asked} of at most {tolerance.in_use()}")
    return tuple(owed)
