"""A leap on a rig that a person brings up again: how far past what held it goes, and what it would cost to fall."""

from tenaz.core.base.amounts import show_duration
from tenaz.core.base.outcomes import Verdict
from tenaz.core.knobs.knob import Knob, show_steps
from tenaz.core.knobs.setpoint import Auto, Setpoint
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.trials.costs import BY_HAND, MOST_LOOKED_AT, costs_of
from tenaz.core.trials.index import TrialIndex
from tenaz.search.played import LEAP_STEPS


def leap_words(rig: Rig, bench: BenchKind, now: Setpoint, to: Setpoint, trials: TrialIndex) -> str:
    """What is to be asked before a step goes further past what held than a search would go by itself, with its price;
    empty where it does not, or nobody has to bring the rig up again.
    """
    if not (bench.real and bench.traits.needs_hands):
        return ""
    knobs = {knob.name: knob for knob in rig.knobs}
    found = []
    for change in to.changes_from(now):
        knob = knobs.get(change.knob)
        if knob is None or isinstance(change.after, Auto) or change.after not in knob.grid:
            continue
        steps = knob.strain(change.after) - _reached(knob, now, to, rig.stock, trials)
        if steps > LEAP_STEPS:
            found.append(f"{knob.label} {knob.show(change.after)} is {show_steps(steps)} past what held")
    if not found:
        return ""
    costs = costs_of(trials.latest(MOST_LOOKED_AT), BY_HAND)
    return (
        f"{'; '.join(found)}. A start that fails costs about {show_duration(60 * round(costs.no_start_s / 60))} here: "
        f"its tries, a clear, the sheet typed anew. A search goes {show_steps(LEAP_STEPS)} at a time"
    )


def _reached(knob: Knob, now: Setpoint, to: Setpoint, stock: Setpoint, trials: TrialIndex) -> int:
    """The hardest strain that stands, that it came with, or that held on this line; the easiest where none is known."""
    known = [knob.strain(at) for one in (now, stock) if isinstance(at := one[knob.name], int) and at in knob.grid]
    held = (one.setpoint[knob.name] for one in trials.along(to, knob.name) if one.verdict is Verdict.PASS)
    known += [knob.strain(at) for at in held if isinstance(at, int) and at in knob.grid]
    default = knob.default if isinstance(knob.default, int) and knob.default in knob.grid else None
    if not known:
        return knob.ends[1] if default is None else knob.strain(default)
    return max(known)
