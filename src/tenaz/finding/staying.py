"""How long a fault that went away must stay away, and which kinds of fault could still hide."""

from tenaz.core.parts.fitting import Fitting
from tenaz.finding.belief import Belief
from tenaz.finding.causes import CauseKind, Part, Suspect

WORTH_TELLING = 0.15


def must_stay_away(belief: Belief, now: Fitting) -> str:
    """After something was seated anew: how long a load must hold until the contact was it; empty where none was."""
    first = belief.known.fittings[0]
    seated = [slot for slot, count in now.seatings if count > first.seated(slot)]
    likely = [slot for slot in seated if belief.sure_of(Suspect(Part.CONTACT, slot)) > WORTH_TELLING]
    if not likely:
        return ""
    slot = max(likely, key=lambda one: belief.sure_of(Suspect(Part.CONTACT, one)))
    before_h = _rate_before(belief, slot, first)
    if before_h <= 0:
        return ""
    shown = sum(one.seconds / 3600 for one in belief.known.sightings if one.fitting.seated(slot) and not one.failed)
    needed = _three_times(before_h)
    if shown >= needed:
        return f"slot {slot} seated anew: it stayed away for {shown:.1f} h, {needed:.1f} h were needed"
    return (
        f"slot {slot} seated anew: not yet a contact fault; before that it failed every {1 / before_h:.1f} h, so it "
        f"must stay away for {needed:.1f} h under load, {shown:.1f} h are shown"
    )


def _three_times(rate_per_h: float) -> float:
    """No failure in three mean times between failures: 95 % (-ln .05 is 3.0)."""
    return 3.0 / rate_per_h


def _rate_before(belief: Belief, slot: str, first: Fitting) -> float:
    """Failures an hour while it was seated as before, of what was seen."""
    before = [one for one in belief.known.sightings if one.fitting.seated(slot) <= first.seated(slot)]
    hours = sum(one.clean_s / 3600 for one in before)
    failures = sum(one.failed for one in before)
    return failures / hours if hours > 0 and failures else 0.0


def could_hide(belief: Belief, most: int = 5) -> tuple[tuple[str, float], ...]:
    """Kinds of fault that could be there still, with their chances, likeliest first."""
    found: dict[CauseKind, float] = {}
    for cause, sure in zip(belief.causes, belief.by_cause.tolist(), strict=True):
        if cause.kind is not CauseKind.NOTHING:
            found[cause.kind] = found.get(cause.kind, 0.0) + sure
    order = sorted(found.items(), key=lambda item: -item[1])[:most]
    return tuple((kind.about, sure) for kind, sure in order if sure >= 1e-3)
