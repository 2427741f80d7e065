"""What to do next once a climb has ended: where to stand, what is owed there, and what holds it back."""

from tenaz.advice.coming import Coming
from tenaz.advice.known import Known
from tenaz.core.evidence.shown import Evidence, evidence_at
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.loads.plan import show_duration
from tenaz.core.searches.search import Advice
from tenaz.margins.safety import LONG_H, AlongKnob, Safety, safety_of
from tenaz.orders import StartRoutine
from tenaz.pictures.climb.model import ClimbPicture
from tenaz.search.owing import CHECK_H, planned


def after_climb(known: Known, picture: ClimbPicture, advice: Advice) -> Coming:
    """Where to stand after a climb: at the hardest value that the purpose tolerates, but never easier than stock."""
    knob, failed, stock = picture.knob, picture.bracket.failed, known.stands.rig.stock[picture.knob.name]
    if picture.stood:
        return Coming(
            f"climb {knob.label} again",
            f"its last climb was made with {picture.stood}: other values stand now, its edge may have moved with them",
            key="c",
        )
    guarded = picture.stand
    if guarded is None or picture.edge is None:
        return Coming(f"the climb of {knob.label} is done", advice.reason)
    sure = picture.sure_words(knob.strain(guarded))
    if isinstance(stock, int) and knob.strain(guarded) < knob.strain(stock):
        failing = "" if failed is None else f"{knob.show(failed)} failed under {picture.kind}; "
        return Coming(
            f"leave {knob.label} at its stock {knob.show(stock)}",
            f"{failing}only {knob.show(guarded)} would be {sure}: there is nothing to gain along this knob",
        )
    target = known.stands.in_force.replacing(knob.name, guarded)
    evidence, at = evidence_at(target, known.stands.index, known.stands.rig), f"{knob.label} {knob.show(guarded)}"
    if evidence.failed:
        return Coming(
            f"climb {knob.label} again",
            f"it was to be backed off to {at}, and that failed: the edge lies lower than it seemed",
            key="c",
        )
    return _stand(known, picture, f"{advice.reason}; {at}: {sure}", evidence)


def _stand(known: Known, picture: ClimbPicture, reason: str, evidence: Evidence) -> Coming:
    """Stand where it is advised, and run what is owed there; before hours are spent on it, each load that is asked for
    and was not tried further shows for a while whether it bears as much.
    """
    knob, target = picture.knob, evidence.setpoint
    at, safety = f"{knob.label} {knob.show(target[knob.name])}", safety_of(known.stands.rig, target, known.stands.index)
    if evidence.shown:
        return _all_shown(known, safety, f"{at} is tested: {_shown(evidence)}")
    line = next((one for one in safety.lines if one.knob.name == knob.name), None)
    unsure = picture.judged.not_tried if picture.judged is not None else ()
    looks = (_further(known, safety, line, kind, reason, first=True) for kind in unsure if line is not None)
    runs = ", ".join(f"{plan.kind} {show_duration(plan.duration_s or 0)}" for plan in evidence.owed)
    stand = Coming(
        f"back off to {at} and run what is still to run: {runs}", reason, StartRoutine(target, evidence.owed)
    )
    return next((one for one in looks if one is not None), stand)


def _all_shown(known: Known, safety: Safety, shown: str) -> Coming:
    """All hours that were asked for. Where that is less sure than asked: the load that holds it back, at a harder
    value, or an easier value.
    """
    if safety.as_asked:
        rest = "sign off, or go on with another knob"
        told = f"all that the purpose asks for; {safety.brief}; {rest}"
        return Coming(shown, told, hint=" (p›d tells all, and o›x there writes it)")
    reason = f"{shown}; but it is less sure than asked: {safety.words}"
    line = safety.held_back
    tried = None if line is None else _further(known, safety, line, line.judged.kind, reason)
    return tried or Coming("dial an easier value and try it", reason)


def _further(
    known: Known, safety: Safety, line: AlongKnob, kind: LoadKind, reason: str, first: bool = False
) -> Coming | None:
    """A load for a while at a harder value; None where that tells nothing more, or where only a ``first`` look is meant
    and it had that.
    """
    harder = line.further(kind)
    if harder is None or (first and harder[1]):
        return None
    value, ran_h = harder
    plan = planned(known.stands.rig.purpose, kind, LONG_H if ran_h else CHECK_H)
    return Coming(
        f"{show_duration(plan.duration_s or 0)} of {kind} at {line.knob.label} {line.knob.show(value)}",
        f"{reason}. A while at a harder value tells how far its edge is; or dial an easier one",
        StartRoutine(safety.setpoint.replacing(line.knob.name, value), (plan,)),
    )


def _shown(evidence: Evidence) -> str:
    return ", ".join(
        f"{kind.kind} {kind.hours:.0f} of {kind.hours_asked:g} h" for kind in evidence.kinds if kind.hours_asked
    )
