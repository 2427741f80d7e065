"""Usual practice, to compare with: three ways of finding a value without a model, and the wall alone.

*A*: one step up an hour each until it fails, step back, then the long soak, a step back for each that fails. *B*: the
same by bisection. *C*: steps of ten minutes, then soaks backwards. Each then keeps a fixed guard of so many steps. The
*wall* practice bisects the wall with starts alone and keeps a guard from that.
"""

from collections.abc import Callable
from dataclasses import dataclass

from tenaz.study.hidden import Hidden, try_there

SOAK_H = 8.0
CREEP_H = 1.0 / 6.0


@dataclass(frozen=True, slots=True)
class FoundEdge:
    """The strain that practice ends at, before its guard, and the hours that it took."""

    strain: int
    hours: float


def step_by_step(rig: Hidden) -> FoundEdge:
    """A: an hour a step."""
    return _climbed(rig, 1.0)


def halving(rig: Hidden) -> FoundEdge:
    """B: bisection with an hour each."""
    low, high, hours = _ends(rig)
    while high - low > 1:
        middle = (low + high) // 2
        tried = try_there(rig, middle, 1.0, hours)
        hours += tried.cost_h
        low, high = (low, middle) if tried.failed else (middle, high)
    return _soaked(rig, low, hours)


def creeping(rig: Hidden) -> FoundEdge:
    """C: ten minutes a step."""
    return _climbed(rig, CREEP_H)


def wall_alone(rig: Hidden) -> FoundEdge:
    """The easiest strain that does not start, by bisection; nothing is loaded."""
    low, high, hours = _ends(rig)
    while high - low > 1:
        middle = (low + high) // 2
        tried = try_there(rig, middle, 1e-9, hours)
        hours += tried.cost_h
        low, high = (middle, high) if tried.started else (low, middle)
    return FoundEdge(high, hours)


PRACTICES: dict[str, Callable[[Hidden], FoundEdge]] = {
    "A": step_by_step,
    "B": halving,
    "C": creeping,
    "wall": wall_alone,
}


def _ends(rig: Hidden) -> tuple[int, int, float]:
    knob = rig.knob
    top = knob.ends[1]
    return knob.strain(rig.base.number(knob.name)), top + 1, 0.0


def _climbed(rig: Hidden, load_h: float) -> FoundEdge:
    strain, end, hours = _ends(rig)
    while strain < end:
        tried = try_there(rig, strain, load_h, hours)
        hours += tried.cost_h
        if tried.failed:
            break
        strain += 1
    return _soaked(rig, strain - 1, hours)


def _soaked(rig: Hidden, strain: int, hours: float) -> FoundEdge:
    easiest = rig.knob.ends[0]
    while strain >= easiest:
        tried = try_there(rig, strain, SOAK_H, hours)
        hours += tried.cost_h
        if not tried.failed:
            break
        strain -= 1
    return FoundEdge(strain, hours)
