"""What a report says to a client, in plain words."""

from collections.abc import Sequence

from tenaz.core.base.amounts import show_sure
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.loads.plan import LoadKind, Strains, show_duration
from tenaz.core.parts.works import AS_IT_CAME, PartState
from tenaz.core.rigs.steps import changed_in_words, step_between
from tenaz.core.scores.gains import Worth
from tenaz.core.sensors.telemetry import Guards, guards
from tenaz.papers.report import Words
from tenaz.workshop.reports.facts import HOURS_A_DAY, ReportGround, failures_in, guarantee_h, hottest_here

MOST_CHANGES = 14
WHAT_TO_DO = (
    "If it freezes, restarts by itself or shows an error: note when, and what was running, and bring it back; change "
    "nothing. If its settings were lost (a firmware update, a flat battery): they are on the sheet, which we keep. "
    "If it gets much hotter where it stands than it did here, the margins shrink: keep its air ways free of dust."
)
PLAIN = {Strains.MEMORY: "memory tests", Strains.CPU: "processor tests", Strains.ANYTHING: "programs of your own"}
APART = {
    LoadKind.RETAIN: "memory left alone and read again",
    LoadKind.SOLO: "each core alone",
    LoadKind.PULSE: "steps from idle to full",
}
"""Loads that find what others of their kind never show, as a client understands them."""

CALLED = {
    **dict.fromkeys(("read", "write", "copy", "turn"), "moving data in memory"), "latency": "waiting for memory",
    "transform": "arithmetic", "solve": "arithmetic", "hash": "checking files", "compress": "compressing",
}  # fmt: skip


def client_words(ground: ReportGround, owed: tuple[str, ...]) -> tuple[Words, ...]:
    """Asked, wrong, changed, shown, promised, warm, gained, what to do."""
    found = [Words("What was asked", _asked(ground)), Words("What was wrong", _wrong(ground))]
    found += [Words("What was changed", _changed(ground)), Words("What was shown", _shown(ground))]
    found.append(Words("What that promises", _promised(ground, owed), red=bool(owed)))
    found += [Words("How warm it gets", _warm(ground)), Words("What it gained", _gained(ground))]
    return (*found, Words("What to do if …", WHAT_TO_DO))


def _asked(ground: ReportGround) -> str:
    rig = ground.view.rig
    brought = f"It was brought because: {rig.complaint.rstrip('.')}. " if rig.complaint else ""
    return f"{brought}What it is for: {rig.purpose.name}; at most {rig.purpose.tolerance.in_use()} of use."


def _wrong(ground: ReportGround) -> str:
    """What was found, and the answer to the complaint: how it fared as it came, and how it fares now."""
    bad = [one for one in {one.part: one for one in ground.labels}.values() if one.state is not PartState.GOOD]
    told = [f"{one.kind} {one.place} is {one.state}{f' ({one.text})' if one.text else ''}" for one in bad]
    if ground.found:
        told.insert(0, ground.found)
    cause = f"{'; '.join(told)}." if told else "No part was found at fault."
    return " ".join(part for part in (cause, _before(ground), _files(ground), _now(ground)) if part)


def _files(ground: ReportGround) -> str:
    """What wrong values may have done, where it gave some as it came."""
    came = (one for one in (*ground.before, *ground.here) if one.setpoint == ground.view.rig.stock)
    wrong = any(one.memory_was_wrong for one in came)
    return "Files that were written while it ran so may be damaged: compare them with a copy." if wrong else ""


def _before(ground: ReportGround) -> str:
    """How it fared before anything was done."""
    before = ground.before
    if not before:
        return ""
    failed = [one for one in before if one.verdict is Verdict.FAIL]
    if not failed:
        hours = sum(one.elapsed_s for one in before) / 3600
        return f"Before what was done it did not fail here in {hours:.1f} h."
    many = f"{len(failed)} of {len(before)} trials" if len(before) > 1 else "the one trial made"
    times = [one.clean_s for one in failed if one.outcome is not Outcome.NO_BOOT]
    soonest = f", the soonest after {show_duration(min(times))}" if times else ""
    return f"Before what was done it failed in {many}{soonest}."


def _now(ground: ReportGround) -> str:
    """How it fares, where there is something to compare it with."""
    if not ground.before:
        return ""
    failed = sum(one.verdict is Verdict.FAIL for one in ground.here)
    hours = sum(one.elapsed_s for one in ground.here if one.verdict is Verdict.PASS) / 3600
    if failed:
        return f"As it is now it still failed in {failed} of {len(ground.here)} trials."
    return f"As it is now it held for {hours:.1f} h." if hours else "As it is now nothing was tried yet."


def _changed(ground: ReportGround) -> str:
    """Parts, then settings."""
    view = ground.view
    parts = [one.told or one.text for one in ground.works[1:] if one.text != AS_IT_CAME]
    changes = step_between(view.rig, view.rig.stock, view.in_force).changes
    told = [changed_in_words(view.rig, one) for one in changes[:MOST_CHANGES]]
    more = len(changes) - MOST_CHANGES
    settings = f"{'; '.join(told)}{f'; and {more} more, on the sheet' if more > 0 else ''}"
    if not parts:
        return f"{settings}." if told else "Nothing: it runs as it came."
    return f"Parts: {'; '.join(parts)}. Settings: {settings or 'none, they are as they came'}."


def _shown(ground: ReportGround) -> str:
    hours: dict[Strains, float] = {}
    for kind in ground.evidence.kinds:
        hours[kind.kind.strains] = hours.get(kind.kind.strains, 0.0) + kind.hours
    told = [f"{show_duration(3600 * spent)} of {PLAIN[strain]}" for strain, spent in hours.items() if spent]
    if not told:
        return "Nothing has been shown at these settings yet."
    apart = [
        f"{show_duration(3600 * kind.hours)} of {APART[kind.kind]}"
        for kind in ground.evidence.kinds
        if kind.kind in APART and kind.hours
    ]
    among = f", among it {' and '.join(apart)}" if apart else ""
    failed = ground.evidence.failed
    ended = f"and {failed} of them failed" if failed else "without a single error"
    return f"At exactly these settings it ran {' and '.join(told)}{among}, {_checked(ground)}, {ended}."


def _checked(ground: ReportGround) -> str:
    """Who looked at the results: what somebody told, or a program said of itself, was not checked here."""
    told_h = sum(kind.told_hours for kind in ground.evidence.kinds)
    if not told_h:
        return "every result checked"
    if told_h >= sum(kind.hours for kind in ground.evidence.kinds):
        return "as it was told to us; its results were not checked by our own programs"
    return f"every result checked but those of {show_duration(3600 * told_h)}, which were told to us"


def _promised(ground: ReportGround, owed: Sequence[str]) -> str:
    """What the verdict supports, and no more: never what the purpose wishes for."""
    rig, safety = ground.view.rig, ground.margins.safety
    tolerance = rig.purpose.tolerance
    if ground.evidence.shown and safety.sure is not None and not safety.safe:
        return (
            f"LESS THAN WAS ASKED FOR: at most {tolerance.in_use()} of use is to be expected, and of that we are "
            f"{show_sure(safety.sure)} sure; {100 * tolerance.confidence:.3g} % was asked."
        )
    if owed:
        return "NOTHING YET: not all that was asked for has been shown at these settings."
    if safety.sure is None:
        return _shown_alone(ground)
    granted = "if failures die out below what was tried, as they did above it"
    hours = guarantee_h(rig)
    if not hours:
        expected = f"At most {tolerance.in_use()} of use is to be expected"
    else:
        expected = (
            f"We guarantee it for {rig.guarantee_months} months: at {HOURS_A_DAY} h a day these are {hours:,.0f} h, in "
            f"which at most {failures_in(hours, tolerance)} is to be expected ({tolerance.in_use()})"
        )
    return f"{expected}; of that we are {show_sure(safety.sure)} sure, {granted}."


def _shown_alone(ground: ReportGround) -> str:
    """Where nothing was looked for beyond what it runs at: what its hours show by themselves."""
    asked = [kind for kind in ground.evidence.kinds if kind.hours_asked] or list(ground.evidence.kinds)
    least = min((kind.shown_h() for kind in asked), default=0.0)
    rig = ground.view.rig
    months = f"We guarantee it for {rig.guarantee_months} months. " if rig.guarantee_months else ""
    return (
        f"{months}It did all that was asked without an error; that alone shows at least {least:.3g} h of use to a "
        "failure (95 % sure). How far it is from failing was not looked for."
    )


def _warm(ground: ReportGround) -> str:
    peaks: dict[str, float] = {}
    for one, _ in hottest_here(ground).values():
        what = "memory modules" if guards(one) is Guards.MODULE else one.label
        peaks[what] = max(peaks.get(what, one.peak), one.peak)
    if not peaks:
        return "Its temperatures could not be read."
    unwatched = ground.evidence.unwatched_hours
    blind = f" For {unwatched:.1f} h nobody watched the processor's temperature." if unwatched else ""
    told = [f"{what} {peak:.0f} °C" for what, peak in sorted(peaks.items(), key=lambda pair: -pair[1])[:3]]
    room = ground.view.rig.room_c
    where = f", in a room of {room:g} °C" if room is not None else ""
    return f"Under full load at most {', '.join(told)}{where}.{blind}"


def _gained(ground: ReportGround) -> str:
    comparison = ground.scores.comparison
    if comparison is None:
        return "That was not measured."
    paid = [one for one in comparison.leading if one.worth is Worth.PAYS]
    if not paid:
        return f"Against {ground.scores.before} nothing that could be told from noise."
    best: dict[str, float] = {}
    for one in paid:
        name = CALLED.get(one.figure.what.split(" ")[0], one.figure.what) if not one.figure.own else one.figure.what
        best[name] = max(best.get(name, 0.0), one.gain)
    told = [f"{name} {100 * gain:.0f} % better" for name, gain in sorted(best.items(), key=lambda pair: -pair[1])]
    return f"Against {ground.scores.before}: {', '.join(told)}."
