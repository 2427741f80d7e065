"""What to do next, and why: always a suggestion, never a command. Enter follows it."""

from typing import TYPE_CHECKING

from tenaz.advice.after_climb import after_climb
from tenaz.advice.suggestion import Follow, Suggestion
from tenaz.core.base.amounts import show_chance
from tenaz.core.base.outcomes import Verdict
from tenaz.core.evidence.old_edges import old_edge
from tenaz.core.evidence.shown import evidence_at
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.setpoint import Auto, Setpoint
from tenaz.core.loads.plan import LoadPlan, show_duration
from tenaz.core.loads.routines import COMES_UP, ROUTINES
from tenaz.core.scores.gains import Worth
from tenaz.core.searches.search import Advice, Proposal, SearchPlan
from tenaz.finding.enough import Enough
from tenaz.margins.safety import safety_of
from tenaz.orders import BeginSearch, Steps
from tenaz.orders.found import order_for
from tenaz.orders.unpicking import unpick_between
from tenaz.pictures.find.model import FindPicture
from tenaz.pictures.margins.old_edges import check_words, old_edge_words
from tenaz.pictures.scores.model import ScoresPicture
from tenaz.search.registry import strategy_of
from tenaz.search.strategies.unpick import MOST_KNOBS

if TYPE_CHECKING:
    from tenaz.finding.rescue import Rescue
    from tenaz.workshop.looking.view import View


def next_step(view: "View", dialled: Setpoint, knob: Knob, busy: bool) -> Suggestion:
    """The next step for what is shown."""
    if view.read_only:
        return Suggestion("look only", view.read_only)
    if busy:
        return Suggestion("let it run", "s stops it; it is then recorded as stopped by hand")
    changes = len(dialled.changes_from(view.in_force))
    if changes:
        words = f"{changes} value{'s' if changes != 1 else ''} changed on the sheet"
        return Suggestion("t   try the dialled values", words, Follow.TRIAL)
    return _rounded(view) if view.differing else _along(view, knob)


def next_found(picture: FindPicture, fresh: bool) -> Suggestion:
    """The next step on the question path."""
    if not fresh:
        return Suggestion("being worked out …", "what the last trial says of the parts")
    said = picture.verdict
    if said.enough is not Enough.GO_ON:
        if picture.rescue is not None:
            return _rescue(picture, picture.rescue)
        return Suggestion(f"{said.enough}: {said.suspect.show()}", _what_then(picture))
    if not picture.acts:
        return Suggestion("nothing tells more", "tick what was noticed with y, or work on the parts with P")
    act = picture.acts[0]
    if not picture.goes_on:
        told = f"the next trial would tell {act.bits:.2f} bits for {act.minutes:.0f} min, less than it costs"
        return Suggestion(
            f"likeliest: {said.suspect.show()}, {show_chance(said.sure)} sure",
            f"{told}: P puts another one in and sees whether it stays away, K writes what to order",
        )
    if not picture.symptoms and not picture.trials:
        reason = "nothing was told yet: y ticks what was noticed; or begin so"
    else:
        reason = f"{act.bits:.2f} bits for {act.minutes:.0f} min: of all that can be done it tells most; {said.words}"
    return Suggestion(f"⏎   {act.show()}", reason, Follow.FOUND, found=order_for(act))


def next_scored(picture: ScoresPicture, view: "View") -> Suggestion | None:
    """What the scores say comes next; None: nothing."""
    wasted = next((one for one in picture.alone if one.to_drop), None)
    if wasted is not None:
        back = view.in_force.replacing(wasted.change.knob, wasted.change.before)
        reason = f"{wasted.words}: it holds, and does not pay; dropped, its margin is free"
        knob = view.rig.knob(wasted.change.knob)
        step = f"⏎   drop it: {knob.label} back to {knob.show(wasted.change.before)}"
        return Suggestion(step, reason, Follow.STAND, back, (COMES_UP,))
    if picture.comparison is None and picture.changed != "nothing differs":
        return Suggestion("j   measure in turn with stock", "what a step gains is told from noise by both, in turn")
    if picture.comparison is not None and picture.comparison.worth is Worth.TOO_NOISY and picture.comparison.more:
        return Suggestion("j   measure in turn once more", picture.comparison.verdict)
    return None


RESCUE_S = 1800.0


def _rescue(picture: FindPicture, how: "Rescue") -> Suggestion:
    """A rig that does not hold its own stock."""
    knob = picture.rig.knob(how.knob)
    load = LoadPlan(how.load, RESCUE_S)
    order = BeginSearch((how.knob,), how.base, load, "it does not hold its own stock", "retreat", steps=Steps())
    cost = f"; {picture.around[0]}" if picture.around else ""
    return Suggestion(
        f"⏎   rescue: one large cut of {knob.label}, then creep back ({how.load}, {show_duration(RESCUE_S)} each)",
        f"{show_chance(picture.verdict.sure)} sure that it is set too hard{cost}",
        Follow.SEARCH,
        search=order,
    )


def _what_then(picture: FindPicture) -> str:
    """What is done with a verdict."""
    said = picture.verdict
    if said.enough is Enough.HAND_BACK:
        hides = "; ".join(f"{what} {chance:.1%}" for what, chance in picture.hides[:2])
        return f"{show_chance(said.sure)} sure; could hide still: {hides or 'nothing worth naming'}"
    if said.enough is Enough.WORK_AROUND and picture.around:
        return f"{show_chance(said.sure)} sure; {picture.around[0]}; prove it again"
    return f"{show_chance(said.sure)} sure; K writes what to order or claim; P puts another one in, then prove it again"


def _along(view: "View", knob: Knob) -> Suggestion:
    """The next step along the knob in hand, or on the climb under way."""
    unpicked = _to_unpick(view)
    if unpicked is not None:
        return unpicked
    if view.search is not None and view.standing is not None:
        if len(view.search.knobs) > 1:
            return Suggestion(_on_group(view.search, view.standing), view.standing.reason, Follow.CLIMB)
        climbing = view.rig.knob(view.search.knob)
        return Suggestion(_on_climb(climbing, view.standing), view.standing.reason, Follow.CLIMB)
    ended = _after_group(view)
    if ended is not None:
        return ended
    picture = view.pictures.get(knob.name)
    if picture is None or picture.advice is None:
        return _ask_old_edge(view, knob) or _before_climb(view)
    asking = _ask_old_edge(view, knob) if picture.stood else None
    return asking or after_climb(view, picture, picture.advice)


def _ask_old_edge(view: "View", knob: Knob) -> Suggestion | None:
    """An edge that was found while other values stood: one trial tells whether it stands, before all is climbed anew.

    From values that failed nothing is asked.
    """
    old = old_edge(view.rig, knob, view.in_force, view.index)
    if old is None or evidence_at(view.in_force, view.index, view.rig).failed:
        return None
    if old.stands:
        words = f"{old_edge_words(view.rig, old)}; go on with another knob"
        return Suggestion(f"the edge of {knob.label} stands: {old.bracket.show(knob)}", words)
    if old.check is None:
        return None
    return Suggestion(
        f"⏎   ask the old edge: {check_words(old)}",
        old_edge_words(view.rig, old),
        Follow.STAND,
        old.check.setpoint,
        (old.check.plan,),
    )


def _on_climb(knob: Knob, standing: Proposal | Advice) -> str:
    if isinstance(standing, Proposal):
        return f"c   {knob.label} {knob.show(standing.setpoint[knob.name])}"
    return f"c   close the climb of {knob.label}"


def _on_group(search: SearchPlan, standing: Proposal | Advice) -> str:
    kind = strategy_of(search.strategy)
    if kind.alone:
        return "U   go on with the night" if isinstance(standing, Proposal) else "U   close the night"
    if kind.maps:
        return "h   go on with the field" if isinstance(standing, Proposal) else "h   close the field"
    if isinstance(standing, Proposal):
        moved = len(standing.setpoint.changes_from(search.base))
        return f"c   {moved} of the {len(search.knobs)} values that were moved together"
    return "c   close the question which of them it is"


def _after_group(view: "View") -> Suggestion | None:
    """What a night, a field or an unpicking came to, as long as nothing was tried since."""
    if view.ended is None:
        return None
    plan, advice = view.ended
    kind = strategy_of(plan.strategy)
    if kind.alone:
        safe = safety_of(view.rig, view.in_force, view.index).words
        return Suggestion(
            "the night is over: D tells where all stands, V writes the report", f"{advice.reason}; {safe}"
        )
    if kind.maps:
        return Suggestion("the field is done: dial a cell that holds, and try it with t", advice.reason)
    if advice.setpoint is None or advice.setpoint == view.in_force:
        return Suggestion("it is known which it was: dial on from here", advice.reason)
    owed = evidence_at(advice.setpoint, view.index, view.rig).owed
    return Suggestion(
        "⏎   stand with the others as they were tried", advice.reason, Follow.STAND, advice.setpoint, owed
    )


def _to_unpick(view: "View") -> Suggestion | None:
    """The newest trial failed with many values moved at once: which of them is it?"""
    newest = view.index.newest
    if newest is None or newest.verdict is not Verdict.FAIL or newest.search_id is not None:
        return None
    held = next((one for one in reversed(view.trials) if one.verdict is Verdict.PASS), None)
    base = held.setpoint if held is not None else view.rig.stock
    changes = newest.setpoint.changes_from(base)
    if not MANY <= len(changes) <= MOST_KNOBS or any(isinstance(x, Auto) for c in changes for x in (c.before, c.after)):
        return None
    since = f"trial {held.number} held" if held is not None else "stock"
    reason = f"trial {newest.number} failed with {len(changes)} values moved since {since}; the others may stay"
    order = unpick_between(base, newest.setpoint, newest.plan, newest.reason, FALSE_PASS)
    return Suggestion(f"⏎   unpick: which of the {len(changes)} is it?", reason, Follow.SEARCH, search=order)


MANY = 3
FALSE_PASS = 0.1


def _rounded(view: "View") -> Suggestion:
    """A value that the firmware made another of: it will do so again."""
    reading = view.differing[0]
    knob, asked = view.rig.knob(reading.knob), view.trials[-1].asked[reading.knob]
    return Suggestion(
        f"G   take {knob.show(asked)} off the grid of {knob.label}",
        f"{reading.differs_in_words}: the firmware makes another value of it and says nothing; or dial another value",
    )


def _before_climb(view: "View") -> Suggestion:
    """Where nothing was climbed yet: stock comes first. From values that failed, a climb would only find that again."""
    at_stock = evidence_at(view.rig.stock, view.index, view.rig)
    if not at_stock.failed and not any(kind.passed for kind in at_stock.kinds):
        sift = ROUTINES["sift"]
        length, failed = show_duration(sift.length_s or 0), sum(one.verdict is Verdict.FAIL for one in view.trials)
        first = f"baseline first: the routine {sift.name} at stock, {length}"
        fault = "a machine that fails as it came has a fault, and is no candidate for tuning"
        if failed:
            times = f"{failed} trial{'s' if failed > 1 else ''} failed"
            first = f"back to stock, which never was tried: the routine {sift.name}, {length}"
            fault = f"{times}: is it what was changed, or the machine? {fault}"
        return Suggestion(
            f"⏎   {first}",
            f"{fault}; or c climbs at once",
            Follow.STAND,
            view.rig.stock,
            sift.plans,
        )
    if not evidence_at(view.in_force, view.index, view.rig).failed:
        return Suggestion("c   climb along the selected knob", "or dial with ← → and try with t", Follow.CLIMB)
    if view.in_force == view.rig.stock:
        return Suggestion(
            "F   the machine failed as it came: find the fault before anything is tuned",
            "F asks which part it is, and what tells most; a climb from here would only find the fault again",
        )
    return Suggestion(
        "dial easier and try with t",
        "what stands now failed: a climb from here would only find that failure again",
    )
