"""What comes next while a rig is tuned."""

from tenaz.advice.after_climb import after_climb
from tenaz.advice.coming import Coming
from tenaz.advice.known import Known
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.evidence.old_edges import old_edge
from tenaz.core.evidence.shown import evidence_at
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.setpoint import Auto, Setpoint
from tenaz.core.loads.plan import show_duration
from tenaz.core.loads.routines import ROUTINES
from tenaz.core.rigs.rig import Rig
from tenaz.core.searches.search import Advice, Proposal, SearchPlan
from tenaz.core.trials.past_trials import ENTERED_LATER
from tenaz.margins.safety import safety_of
from tenaz.orders import StartRoutine, StartTrial
from tenaz.orders.unpicking import unpick_between
from tenaz.pictures.margins.old_edges import check_words, old_edge_words
from tenaz.search.registry import strategy_of
from tenaz.search.strategies.unpick import MOST_KNOBS


def next_step(known: Known, dialled: Setpoint, knob: Knob, busy: bool) -> Coming:
    """The next step for what is shown."""
    if known.read_only:
        return Coming("look only", known.read_only)
    if busy:
        return Coming("let it run", "it is recorded as stopped by hand if it is stopped", hint=": s stops it")
    changes = len(dialled.changes_from(known.stands.in_force))
    if changes:
        words = f"{changes} value{'s' if changes != 1 else ''} changed on the sheet"
        return Coming("try the dialled values", words, key="t")
    return _rounded(known) if known.differing else _along(known, knob)


def _along(known: Known, knob: Knob) -> Coming:
    """The next step along the knob in hand, or on the climb under way."""
    anew = _after_no_boot(known)
    if anew is not None:
        return anew
    unpicked = _to_unpick(known)
    if unpicked is not None:
        return unpicked
    going, standing = known.searches.going, known.searches.standing
    if going is not None and standing is not None:
        key, step = _on_search(known.stands.rig, going, standing)
        return Coming(step, standing.reason, key=key)
    ended = _after_group(known) or _come_back_to(known)
    if ended is not None:
        return ended
    picture = known.searches.pictures.get(knob.name)
    if picture is None or picture.advice is None:
        return _ask_old_edge(known, knob) or _before_climb(known)
    asking = _ask_old_edge(known, knob) if picture.stood else None
    return asking or after_climb(known, picture, picture.advice)


def _come_back_to(known: Known) -> Coming | None:
    """A rig that was left alone for long: whether it is as it was, by what tells most of that."""
    visit = known.searches.visit
    if visit is None:
        return None
    return Coming(f"is it as it was? {visit.words}", visit.reason, StartRoutine(visit.setpoint, (visit.plan,)))


def _ask_old_edge(known: Known, knob: Knob) -> Coming | None:
    """An edge that was found while other values stood: one trial tells whether it stands, before all is climbed anew.

    From values that failed nothing is asked.
    """
    old = old_edge(known.stands.rig, knob, known.stands.in_force, known.stands.index)
    if old is None or evidence_at(known.stands.in_force, known.stands.index, known.stands.rig).failed:
        return None
    if old.stands:
        words = f"{old_edge_words(known.stands.rig, old)}; go on with another knob"
        return Coming(f"the edge of {knob.label} stands: {old.bracket.show(knob)}", words)
    if old.check is None:
        return None
    return Coming(
        f"ask the old edge: {check_words(old)}",
        old_edge_words(known.stands.rig, old),
        StartRoutine(old.check.setpoint, (old.check.plan,)),
    )


def _on_search(rig: Rig, search: SearchPlan, standing: Proposal | Advice) -> tuple[str, str]:
    """The key and the step of a search under way."""
    kind, goes = strategy_of(search.strategy), isinstance(standing, Proposal)
    if kind.alone or kind.maps:
        return "a›n" if kind.alone else "a›f", f"{'go on with' if goes else 'close'} the {kind.name}"
    if isinstance(standing, Advice):
        named = rig.knob(search.knob).label
        return "c", f"close the climb of {named}" if kind.climbs else "close the question which of them it is"
    if kind.climbs:
        knob = rig.knob(search.knob)
        return "c", f"{knob.label} {knob.show(standing.setpoint[knob.name])}"
    moved = len(standing.setpoint.changes_from(search.base))
    return "c", f"{moved} of the {len(search.knobs)} values that were moved together"


def _after_group(known: Known) -> Coming | None:
    """What a night, a field or an unpicking came to, as long as nothing was tried since."""
    if known.searches.ended is None:
        return None
    plan, advice = known.searches.ended
    kind = strategy_of(plan.strategy)
    if kind.alone:
        safe = safety_of(known.stands.rig, known.stands.in_force, known.stands.index).words
        hint = ": p›d tells where all stands, o›r writes the report"
        return Coming("the night is over", f"{advice.reason}; {safe}", hint=hint)
    if kind.maps:
        return Coming("the field is done: dial a cell that holds, and try it", advice.reason)
    if advice.setpoint is None or advice.setpoint == known.stands.in_force:
        return Coming("it is known which it was: dial on from here", advice.reason)
    owed = evidence_at(advice.setpoint, known.stands.index, known.stands.rig).owed
    order = StartRoutine(advice.setpoint, owed)
    return Coming("stand with the others as they were tried", advice.reason, order)


def _after_no_boot(known: Known) -> Coming | None:
    """It did not come up, and somebody has to type a sheet anew: that of the last that held, if it is not stock's."""
    stands, newest = known.stands, known.stands.index.newest
    if newest is None or newest.outcome is not Outcome.NO_BOOT or newest.seen_by == ENTERED_LATER:
        return None
    if not (stands.bench.real and stands.bench.traits.needs_hands) or known.searches.going is not None:
        return None
    held = next((one for one in reversed(stands.index.trials) if one.verdict is Verdict.PASS), None)
    if held is None or held.setpoint == stands.rig.stock or held.fitted != newest.fitted:
        return None
    many = len(held.setpoint.changes_from(stands.rig.stock))
    step = f"type in the sheet of trial {held.number}, which held: {many} value{'s' if many != 1 else ''}"
    how = f" ({stands.rig.clearing})" if stands.rig.clearing else ""
    reason = f"trial {newest.number} did not come up, and its settings are cleared{how}: all stands at stock now"
    return Coming(step, reason, StartTrial(held.setpoint, held.plan))


def _to_unpick(known: Known) -> Coming | None:
    """The newest trial failed with many values moved at once: which of them is it?"""
    newest = known.stands.index.newest
    if newest is None or newest.verdict is not Verdict.FAIL or newest.search_id is not None:
        return None
    held = next((one for one in reversed(known.stands.trials) if one.verdict is Verdict.PASS), None)
    base = held.setpoint if held is not None else known.stands.rig.stock
    changes = newest.setpoint.changes_from(base)
    if not MANY <= len(changes) <= MOST_KNOBS or any(isinstance(x, Auto) for c in changes for x in (c.before, c.after)):
        return None
    since = f"trial {held.number} held" if held is not None else "stock"
    reason = f"trial {newest.number} failed with {len(changes)} values moved since {since}; the others may stay"
    order = unpick_between(base, newest.setpoint, newest.plan, newest.reason, FALSE_PASS)
    return Coming(f"find the culprit: which of the {len(changes)} is it?", reason, order)


MANY = 3
FALSE_PASS = 0.1


def _rounded(known: Known) -> Coming:
    """A value that the firmware made another of: it will do so again."""
    reading = known.differing[0]
    knob, asked = known.stands.rig.knob(reading.knob), known.stands.trials[-1].asked[reading.knob]
    return Coming(
        f"take {knob.show(asked)} off the grid of {knob.label}",
        f"{reading.differs_in_words}: the firmware makes another value of it and says nothing; or dial another value",
        key="d›g",
    )


def _before_climb(known: Known) -> Coming:
    """Where nothing was climbed yet: stock comes first. From values that failed, a climb would only find that again."""
    at_stock = evidence_at(known.stands.rig.stock, known.stands.index, known.stands.rig)
    if not at_stock.failed and not any(kind.passed for kind in at_stock.kinds):
        sift = ROUTINES["sift"]
        length = show_duration(sift.length_s or 0)
        failed = sum(one.verdict is Verdict.FAIL for one in known.stands.trials)
        first = f"baseline first: the routine {sift.name} at stock, {length}"
        fault = "a machine that fails as it came has a fault, and is no candidate for tuning"
        if failed:
            times = f"{failed} trial{'s' if failed > 1 else ''} failed"
            first = f"back to stock, which never was tried: the routine {sift.name}, {length}"
            fault = f"{times}: is it what was changed, or the machine? {fault}"
        return Coming(first, fault, StartRoutine(known.stands.rig.stock, sift.plans), hint="; or c climbs at once")
    if not evidence_at(known.stands.in_force, known.stands.index, known.stands.rig).failed:
        return Coming(
            "climb along the selected knob",
            "its edge is not known here",
            key="c",
            hint="; or dial with ← → and try with t",
        )
    if known.stands.in_force == known.stands.rig.stock:
        return Coming(
            "the machine failed as it came: find the fault before anything is tuned",
            "a climb from here would only find the fault again",
            key="p›f",
            hint="; p›f asks which part it is, and what tells most",
        )
    return Coming(
        "dial easier and try",
        "what stands now failed: a climb from here would only find that failure again",
    )
