"""Old edges, and what moves with what, in words."""

from typing import TYPE_CHECKING

from tenaz.core.evidence.old_edges import MovesWith, OldEdge
from tenaz.core.knobs.setpoint import Change
from tenaz.core.loads.plan import show_duration
from tenaz.core.rigs.rig import Rig

if TYPE_CHECKING:
    from tenaz.core.knobs.knob import Knob

MOST_NAMED = 3


def old_edge_words(rig: Rig, old: OldEdge) -> str:
    """Like ``tCL: held 38, failed 36 nCK with VDD 1350 mV (now 1400 mV): …; ask 36 again: march 4m``."""
    name, unit = old.knob.label, f" {old.knob.unit}".rstrip()
    held = "nothing held" if old.bracket.held is None else f"held {old.bracket.held}"
    stood = ", ".join(_stood(rig, change) for change in old.moved[:MOST_NAMED])
    more = f" and {len(old.moved) - MOST_NAMED} more" if len(old.moved) > MOST_NAMED else ""
    found = f"{name}: {held}, failed {old.bracket.failed}{unit} with {stood}{more}"
    return f"{found}: {old.speaks}{_then(old)}"


def moves_words(pair: MovesWith) -> str:
    """Like ``edge of tCL: 1 to 2 steps nearer with VDD 1400 → 1350 mV``."""
    other, unit = pair.other, f" {pair.other.unit}".rstrip()
    if not pair.seen:
        moved = f"not seen to move ({pair.least:+d} to {pair.most:+d} steps)"
    else:
        near, far = sorted((abs(pair.least), abs(pair.most)))
        steps = f"{near}" if near == far else f"{near} to {far}"
        moved = f"{steps} step{'s' if far != 1 else ''} {'nearer' if pair.most < 0 else 'farther'}"
    return f"edge of {pair.knob.label}: {moved} with {other.label} {pair.easier} → {pair.harder}{unit}"


def check_words(old: OldEdge) -> str:
    """What to try and for how long, like ``tCL 36 nCK (march 4m)``; empty where nothing is to be asked."""
    if old.check is None or old.asked is None:
        return ""
    plan = old.check.plan
    return f"{old.knob.label} {old.knob.show(old.asked)} ({plan.kind} {show_duration(plan.duration_s or 0)})"


def _then(old: OldEdge) -> str:
    if old.holds_today and old.asked is not None:
        holds = f"; {old.knob.show(old.asked)} holds now too"
        return f"{holds}: it stands" if old.stands else f"{holds}: climb again from there"
    return f"; ask {check_words(old)}" if old.check is not None else ""


def _stood(rig: Rig, change: Change) -> str:
    knob: Knob | None = next((one for one in rig.knobs if one.name == change.knob), None)
    if knob is None:
        return f"{change.knob} {change.before} (now {change.after})"
    return f"{knob.label} {knob.show(change.before)} (now {knob.show(change.after)})"
