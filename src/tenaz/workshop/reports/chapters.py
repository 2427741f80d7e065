"""What a report says to a client, in plain sentences that are in no language yet."""

from collections.abc import Iterable, Sequence

from tenaz.core.base.amounts import to_digits
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.base.tolerance import Tolerance
from tenaz.core.loads.plan import LoadKind, Strains
from tenaz.core.parts.works import AS_IT_CAME, PartState
from tenaz.core.rigs.steps import step_between
from tenaz.core.scores.gains import Worth
from tenaz.core.sensors.telemetry import Guards, SensorKind, guards
from tenaz.core.trials.due import SEASON
from tenaz.core.trials.facts import SensorFact
from tenaz.finding.causes import Part, Suspect
from tenaz.papers.reports.said import Chapter, Day, Length, Listed, Many, Number, Sentence, Share, Term, Value, said
from tenaz.workshop.reports.facts import HOURS_A_DAY, failures_in, guarantee_h, peaks_here
from tenaz.workshop.reports.ground import ReportGround

PLAIN = {
    Strains.MEMORY: "memory tests",
    Strains.CPU: "processor tests",
    Strains.GRAPHICS: "graphics tests",
    Strains.ANYTHING: "programs of your own",
}
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
GUARDED = {
    Guards.PROCESSOR: "processor",
    Guards.MODULE: "memory modules",
    Guards.GRAPHICS: "graphics card",
    Guards.BOARD: "board",
}
MOST_SUPPLIES = 2
"""Readings of power that a client is told: the greatest."""


def chapters_of(ground: ReportGround, owed: tuple[str, ...]) -> tuple[Chapter, ...]:
    """Machine, asked, wrong, changed, shown, promised, warm, gained, what to look at."""
    return (
        Chapter("machine", table=_machine(ground)),
        Chapter("asked", _asked(ground)),
        Chapter("wrong", tuple(_wrong(ground))),
        _changed(ground),
        Chapter("shown", (_shown(ground),)),
        Chapter("promised", tuple(_promised(ground, owed)), red=bool(owed)),
        _warm(ground),
        Chapter("gained", (_gained(ground),)),
        Chapter("watch", tuple(_watch(ground, owed))),
    )


def _machine(ground: ReportGround) -> Listed:
    """Its parts, modules with their serials."""
    rig = ground.view.rig
    firmware = rig.machine.firmware if rig.machine else ""
    told = [("processor", rig.processor), *rig.parts, ("firmware", firmware)]
    rows: list[tuple[Value, ...]] = [(Term(name), value) for name, value in told if value]
    for module in rig.machine.modules if rig.machine else ():
        if module.fitted:
            what = " ".join(one for one in (f"{(module.size_bytes or 0) / 2**30:g} GiB", module.part) if one)
            named = said("serial", module=what, serial=module.serial) if module.serial else what
            rows.append((said("slot", slot=module.slot or "?"), named))
    return Listed((), tuple(rows))


def _asked(ground: ReportGround) -> tuple[Sentence, ...]:
    rig = ground.view.rig
    meant = said("meant_for", purpose=Term(rig.purpose.name), tolerance=tolerated(rig.purpose.tolerance))
    return (said("brought", complaint=rig.complaint.rstrip(".")), meant) if rig.complaint else (meant,)


def tolerated(tolerance: Tolerance) -> Sentence:
    """Like *1 failure in 2,000 h*."""
    return said("tolerance", n=Number(tolerance.failures, 3), hours=Number(tolerance.hours, 2))


def _wrong(ground: ReportGround) -> Iterable[Sentence]:
    """What was found, and the answer to the complaint: how it fared as it came, and how it fares now."""
    if ground.found is not None:
        found = ground.found
        yield said(
            "at_fault", part=suspect_said(found.suspect), sure=Share(found.sure), enough=Term(found.enough.value)
        )
    bad = [one for one in {one.part: one for one in ground.labels}.values() if one.state is not PartState.GOOD]
    for one in bad:
        named = said("part", kind=Term(one.kind), place=one.place)
        yield said("part_bad", part=named, state=Term(one.state.value), text=f" ({one.text})" if one.text else "")
    if ground.found is None and not bad:
        yield said("no_part")
    yield from _before(ground)
    came = (one for one in (*ground.before, *ground.here) if one.setpoint == ground.view.rig.stock)
    if any(one.memory_was_wrong for one in came):
        yield said("files")
    yield from _now(ground)


def suspect_said(suspect: Suspect) -> Value:
    """A part, in words that have a language."""
    if suspect.part is Part.SETTING:
        return said("setting_too_hard")
    if suspect.part is Part.CONTACT:
        return said("contact", place=suspect.place)
    return (
        said("part", kind=Term(suspect.part.value), place=suspect.place) if suspect.place else Term(suspect.part.value)
    )


def _before(ground: ReportGround) -> Iterable[Sentence]:
    """How it fared before anything was done."""
    before = ground.before
    failed = [one for one in before if one.verdict is Verdict.FAIL]
    if before and not failed:
        yield said("came_fine", hours=Number(sum(one.elapsed_s for one in before) / 3600, 1))
    elif before:
        times = [one.clean_s for one in failed if one.outcome is not Outcome.NO_BOOT]
        soonest: Value = said("soonest", time=Length(min(times))) if times else ""
        if len(before) == 1:
            yield said("came_failed_once", soonest=soonest)
        else:
            yield said("came_failed", failed=Number(len(failed)), all=Number(len(before)), soonest=soonest)


def _now(ground: ReportGround) -> Iterable[Sentence]:
    """How it fares, where there is something to compare it with."""
    if not ground.before:
        return
    failed = sum(one.verdict is Verdict.FAIL for one in ground.here)
    hours = sum(one.elapsed_s for one in ground.here if one.verdict is Verdict.PASS) / 3600
    if failed:
        yield said("now_failed", failed=Number(failed), all=Number(len(ground.here)))
    elif hours:
        yield said("now_held", hours=Number(hours, 1))
    else:
        yield said("now_nothing")


def _changed(ground: ReportGround) -> Chapter:
    """Parts in a sentence, settings in a table."""
    view = ground.view
    parts = tuple(one.told or one.text for one in ground.works[1:] if one.text != AS_IT_CAME)
    knobs = {knob.name: knob for knob in view.rig.knobs}
    rows: list[tuple[Value, ...]] = []
    for change in step_between(view.rig, view.rig.stock, view.in_force).changes:
        knob = knobs.get(change.knob)
        label: Value = Term(knob.label) if knob else change.knob
        before, after = (knob.show(one) if knob else str(one) for one in (change.before, change.after))
        rows.append((label, before, after))
    sentences = [said("parts_moved", parts=Many(parts, "semicolon"))] if parts else []
    if not rows:
        sentences.append(said("settings_same" if parts else "nothing_changed"))
    return Chapter("changed", tuple(sentences), Listed(("setting", "before", "now"), tuple(rows)))


def _shown(ground: ReportGround) -> Sentence:
    hours: dict[Strains, float] = {}
    for kind in ground.evidence.kinds:
        hours[kind.kind.strains] = hours.get(kind.kind.strains, 0.0) + kind.hours
    told = [_of_tests(spent, PLAIN[strain]) for strain, spent in hours.items() if spent]
    if not told:
        return said("nothing_shown")
    apart = [_of_tests(one.hours, APART[one.kind]) for one in ground.evidence.kinds if one.kind in APART and one.hours]
    failed = ground.evidence.failed
    return said(
        "ran",
        what=Many(tuple(told)),
        among=said("among", what=Many(tuple(apart))) if apart else "",
        checked=_checked(ground),
        ended=said("some_failed", failed=Number(failed)) if failed else said("no_error"),
    )


def _of_tests(hours: float, tests: str) -> Sentence:
    return said("of_tests", time=Length(3600 * hours), tests=Term(tests))


def _checked(ground: ReportGround) -> Sentence:
    """Who looked at the results: what somebody told, or a program said of itself, was not checked here."""
    told_h = sum(kind.told_hours for kind in ground.evidence.kinds)
    if not told_h:
        return said("all_checked")
    if told_h >= sum(kind.hours for kind in ground.evidence.kinds):
        return said("none_checked")
    return said("some_checked", time=Length(3600 * told_h))


def _promised(ground: ReportGround, owed: Sequence[str]) -> Iterable[Sentence]:
    """What the verdict supports, and no more: never what the purpose wishes for."""
    rig, safety = ground.view.rig, ground.margins.safety
    tolerance = rig.purpose.tolerance
    if ground.evidence.shown and safety.sure is not None and not safety.as_asked:
        asked = Share(tolerance.confidence)
        yield said("less_than_asked", tolerance=tolerated(tolerance), sure=Share(safety.sure), asked=asked)
    elif owed:
        yield said("promises_nothing")
    elif safety.sure is None:
        # Nothing was looked for beyond what it runs at: what its hours show by themselves.
        kinds = [kind for kind in ground.evidence.kinds if kind.hours_asked] or list(ground.evidence.kinds)
        least = min((kind.shown_h() for kind in kinds), default=0.0)
        if rig.guarantee_months:
            yield said("guarantee", months=Number(rig.guarantee_months))
        yield said("shown_alone", hours=Number(to_digits(least, 3)), sure=Share(0.95))
    elif hours := guarantee_h(rig):
        yield said(
            "guaranteed",
            months=Number(rig.guarantee_months or 0),
            a_day=Number(HOURS_A_DAY),
            hours=Number(hours),
            failures=said("failures", n=Number(failures_in(hours, tolerance))),
            tolerance=tolerated(tolerance),
            sure=Share(safety.sure),
        )
    else:
        yield said("expected", tolerance=tolerated(tolerance), sure=Share(safety.sure))
    yield from _not_shown(ground)


def _not_shown(ground: ReportGround) -> Iterable[Sentence]:
    """What the hours so far cannot show, and those that would; never hidden behind one number."""
    safety = ground.margins.safety
    tails, tolerance, background = safety.all_tails, safety.purpose.tolerance, safety.background
    if tails is not None and tails.sure < tolerance.confidence:
        yield said("not_shown_weakness", owed=Number(to_digits(tails.owed_h, 2)))
    if tails is not None and not background.shows(tolerance):
        owed_h = background.owed_h(tolerance)
        yield said("not_shown_else", clean=Number(background.hours, 1), owed=Number(to_digits(owed_h, 2)))
    warmest = safety.warmest
    if tails is not None and warmest is not None and warmest.sure < tolerance.confidence:
        yield said("not_shown_warm", room=Number(warmest.room_c), warmer=Number(round(warmest.warmer_k)))


def _warm(ground: ReportGround) -> Chapter:
    """Heat of what has a name for a client, and power; each the greatest over what passed here."""
    heat: dict[str, SensorFact] = {}
    for one, _ in peaks_here(ground, SensorKind.TEMPERATURE).values():
        what = GUARDED.get(guards(one))
        if what is not None and (what not in heat or one.peak > heat[what].peak):
            heat[what] = one
    if not heat:
        # A sensor that does not say what it guards is better than none.
        heat = {one.label: one for one, _ in peaks_here(ground, SensorKind.TEMPERATURE).values()}
    power = sorted((one for one, _ in peaks_here(ground, SensorKind.POWER).values()), key=lambda one: -one.peak)
    rows = [(Term(what), *_peak(one, "celsius")) for what, one in sorted(heat.items(), key=lambda pair: -pair[1].peak)]
    rows += [(Term(one.label), *_peak(one, "watts")) for one in power[:MOST_SUPPLIES]]
    sentences = [] if heat else [said("not_read")]
    room, blind = ground.view.rig.room_c, ground.evidence.unwatched_hours
    if room is not None:
        sentences.append(said("room", room=Number(room, 1)))
    if blind and heat:
        sentences.append(said("unwatched", hours=Number(blind, 1)))
    return Chapter("warm", tuple(sentences), Listed(("where", "most", "mean"), tuple(rows)))


def _peak(one: SensorFact, unit: str) -> tuple[Value, Value]:
    return said(unit, n=Number(one.peak)), said(unit, n=Number(one.mean))


def _gained(ground: ReportGround) -> Sentence:
    comparison = ground.scores.comparison
    if comparison is None:
        return said("not_measured")
    before = Term(ground.scores.before)
    best: dict[str, float] = {}
    for one in (one for one in comparison.leading if one.worth is Worth.PAYS):
        own = one.figure.own
        name = one.figure.what if own else CALLED.get(one.figure.what.split(" ")[0], one.figure.what)
        best[name] = max(best.get(name, 0.0), one.gain)
    if not best:
        return said("no_gain", before=before)
    ordered = sorted(best.items(), key=lambda pair: -pair[1])
    told = tuple(said("gain", what=Term(name), percent=Number(100 * gain)) for name, gain in ordered)
    return said("gains", before=before, gains=Many(told, "comma"))


def _watch(ground: ReportGround, owed: Sequence[str]) -> Iterable[Sentence]:
    """What the client looks at, and when; a check in another season only of what was moved and proven."""
    rig, trials = ground.view.rig, ground.here
    yield said("look_failure")
    yield said("look_air")
    if ground.view.in_force != rig.stock:
        yield said("look_lost")
        if trials and not owed:
            yield said("look_season", day=Day((trials[-1].begun_utc + SEASON).date()))
    if rig.guarantee_months and not owed:
        yield said("look_guarantee", months=Number(rig.guarantee_months))
