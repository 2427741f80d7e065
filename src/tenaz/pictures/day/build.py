"""The Day picture of a rig, from its trials, its climbs, its plan and its notes."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from tenaz.core.base.outcomes import Verdict
from tenaz.core.evidence.shown import Evidence, evidence_at
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import show_duration
from tenaz.core.rigs.felt import felt
from tenaz.core.rigs.notes import ValueNote
from tenaz.core.rigs.rig import Rig
from tenaz.core.searches.plans import Planned, PlanRun
from tenaz.core.trials.facts import hottest_of
from tenaz.core.trials.index import TrialIndex
from tenaz.core.trials.trial import Trial
from tenaz.margins.safety import safety_of
from tenaz.pictures.book.trial import ended_words, values_off_stock
from tenaz.pictures.climb.model import ClimbPicture
from tenaz.pictures.day.model import DayPicture, Stage, StageState

PROCESSOR, MEMORY = "processor", "memory"
MOST_LOOKED_BACK = 200
"""Trials among which the last failure is looked for."""


@dataclass(frozen=True, slots=True)
class DayGround:
    """What the day is drawn from: the rig, its trials, what is in force, the newest climb along each knob, what is
    planned and its newest run, open notes, and the story.
    """

    rig: Rig
    index: TrialIndex
    in_force: Setpoint
    climbs: Mapping[str, ClimbPicture]
    planned: Sequence[Planned] = ()
    run: PlanRun | None = None
    notes: Sequence[ValueNote] = ()
    story: str = ""
    unfinished: Trial | None = None
    found: str = ""
    """What a night came to, as long as nothing was tried since: what whoever comes back wants to know first."""


def day_picture(ground: DayGround) -> DayPicture:
    """How far the work has come, and where everything stands."""
    rig, shown = ground.rig, evidence_at(ground.in_force, ground.index, ground.rig)
    stages = (
        _taken_in(rig),
        _baseline(evidence_at(rig.stock, ground.index, rig)),
        _climbed("climb the processor", PROCESSOR, ground),
        _climbed("climb memory", MEMORY, ground),
        _proved(ground, shown),
        _signed_off(shown),
    )
    title = f"{rig.name}{f', of {rig.owner}' if rig.owner else ''}: {rig.purpose.name}"
    return DayPicture(title, ground.story, stages, tuple(_stands(ground, shown)))


def _taken_in(rig: Rig) -> Stage:
    known = [rig.processor, f"{rig.cores} cores" if rig.cores else ""]
    words = ", ".join(part for part in known if part)
    if words or rig.machine is not None:
        return Stage("take in", StageState.DONE, words or "read")
    return Stage("take in", StageState.TO_COME, "r›e fills in what is known; r›i reads this machine")


def _baseline(at_stock: Evidence) -> Stage:
    if at_stock.failed:
        words = "it failed as it came: find the fault before anything is tuned"
        return Stage("baseline at stock", StageState.FAILED, words)
    passed = [kind for kind in at_stock.kinds if kind.passed]
    owed = [kind.kind.value for kind in at_stock.kinds if kind.hours_asked and not kind.passed]
    if not passed:
        return Stage("baseline at stock", StageState.TO_COME, "a›r runs loads at stock")
    words = ", ".join(f"{kind.kind} {_ran(kind.hours)}" for kind in passed)
    if owed:
        return Stage("baseline at stock", StageState.BEGUN, f"{words}; not yet under {', '.join(owed)}")
    return Stage("baseline at stock", StageState.DONE, words)


def _climbed(name: str, domain: str, ground: DayGround) -> Stage:
    """How many knobs of a domain were climbed, and to where."""
    mine = [knob for knob in ground.rig.knobs if knob.domain == domain and not knob.locked]
    if not mine:
        return Stage(name, StageState.TO_COME, "no knob of it is known here: tenaz rig NAME --knobs adds a catalogue's")
    climbs = [ground.climbs[knob.name] for knob in mine if knob.name in ground.climbs]
    telling = [one for one in climbs if one.kind is None or felt(one.knob, one.kind)]
    ended = [one for one in telling if one.advice is not None and not one.moved_since(ground.in_force)]
    words = [_climb_words(one, ground.in_force) for one in climbs]
    if not climbs:
        return Stage(name, StageState.TO_COME, f"{len(mine)} knobs: ↑ ↓ chooses, c climbs")
    if len(ended) == len(climbs):
        return Stage(name, StageState.DONE, ", ".join(words))
    return Stage(name, StageState.BEGUN, ", ".join(words))


def _climb_words(one: ClimbPicture, in_force: Setpoint) -> str:
    stand = "" if one.stand is None else f" advised {one.knob.show(one.stand)}"
    words = f"{one.knob.label}{stand if one.advice is not None else ' under way'}"
    if one.kind is not None and not felt(one.knob, one.kind):
        words += f" under {one.kind} alone, which hardly loads it"
    return f"{words} (while other values stood)" if one.moved_since(in_force) else words


def _ran(hours: float) -> str:
    return show_duration(hours * 3600) if hours else "0h"


def _owed(shown: Evidence) -> str:
    return ", ".join(f"{kind.kind} {show_duration(kind.hours_owed * 3600)}" for kind in shown.kinds if kind.hours_owed)


def _proved(ground: DayGround, shown: Evidence) -> Stage:
    if shown.failed:
        return Stage("prove", StageState.FAILED, "what is set now failed: dial easier, or back off to what is advised")
    if shown.shown:
        return Stage("prove", StageState.DONE, "all that the purpose asks for was run, and held")
    begun = any(kind.hours for kind in shown.kinds) and ground.in_force != ground.rig.stock
    return Stage("prove", StageState.BEGUN if begun else StageState.TO_COME, f"still to run: {_owed(shown)}")


def _signed_off(shown: Evidence) -> Stage:
    if shown.failed or not shown.shown:
        return Stage("sign off", StageState.TO_COME, "once everything asked for was run")
    return Stage("sign off", StageState.DONE, "it can be handed over: o›r writes the report")


def _stands(ground: DayGround, shown: Evidence) -> list[tuple[str, str, bool]]:
    rig, newest = ground.rig, ground.index.newest
    lines = [("found", ground.found, True)] if ground.found else []
    lines.append(("set", values_off_stock(ground.in_force, rig), False))
    if ground.unfinished is not None:
        words = f"trial {ground.unfinished.number} was never judged: say below what was seen"
        lines.append(("open", words, True))
    elif newest is not None and newest.open:
        lines.append(("running", f"trial {newest.number}, at {newest.station}: {newest.plan.show()}", True))
    elif newest is not None:
        lines.append(("last", f"trial {newest.number}, {ended_words(newest)}, {newest.plan.show()}", False))
    lines.append(("tested", _shown_words(shown), False))
    owed = _owed(shown)
    if owed:
        lines.append(("still to run", owed, False))
    failure = next(
        (one for one in reversed(ground.index.latest(MOST_LOOKED_BACK)) if one.verdict is Verdict.FAIL), None
    )
    if failure is not None:
        lines.append(("last failure", _failure_words(failure, rig), False))
    lines += _signed_lines(ground, shown)
    if ground.planned:
        lines.append(("planned", f"{len(ground.planned)} to come: p›p shows them, a›g makes them", False))
    if ground.run is not None and ground.run.ended_why:
        lines.append(("last run", f"ended {ground.run.ended_utc:%d %b %H:%M} UTC: {ground.run.ended_why}", False))
    knobs = {knob.name: knob for knob in rig.knobs}
    for note in ground.notes:
        if note.open and note.knob in knobs:
            knob = knobs[note.knob]
            lines.append(("to come back to", f"{knob.label} {knob.show(note.value)}: {note.show()}", False))
    return lines


def _shown_words(shown: Evidence) -> str:
    words = [
        f"{kind.kind} {_ran(kind.hours)}{f' of {_ran(kind.hours_asked)}' if kind.hours_asked else ''}"
        for kind in shown.kinds
        if kind.hours or kind.hours_asked
    ]
    return f"at what is set now: {', '.join(words) or 'nothing yet'}"


def _failure_words(trial: Trial, rig: Rig) -> str:
    note = f"; {trial.note}" if trial.note else ""
    at = values_off_stock(trial.setpoint, rig)
    return f"trial {trial.number} at {at}: {ended_words(trial)}, {trial.plan.kind}{note}"


def _signed_lines(ground: DayGround, shown: Evidence) -> list[tuple[str, str, bool]]:
    """What is handed over once all was shown: how safe it is, margins and heat."""
    if not shown.shown:
        return []
    safety = safety_of(ground.rig, ground.in_force, ground.index)
    margins = [f"{one.knob.label} {one.judged.edge.median - one.strain:+.1f} steps" for one in safety.lines]
    hottest = hottest_of(trial.facts for trial in ground.index.at(ground.in_force))
    lines = [("verdict", safety.words, False)]
    lines += [("margins", "; ".join(margins), False)] if margins else []
    if hottest:
        lines.append(("warmest", f"{hottest.peak:.0f} °C, {hottest.label}", False))
    return lines
