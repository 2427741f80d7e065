"""A rig that does not hold its own stock: along which knob it is rescued, and where the retreat begins."""

from dataclasses import dataclass

from tenaz.core.knobs.setpoint import Auto, Setpoint
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.rigs.rig import Rig
from tenaz.finding.belief import Belief
from tenaz.finding.causes import CauseKind, Part, Suspect
from tenaz.finding.easing import CORES, MEMORY, clock_at, clock_knob


@dataclass(frozen=True, slots=True)
class Rescue:
    """One large cut from ``base`` along ``knob`` under a load, then creep back."""

    knob: str
    base: Setpoint
    load: LoadKind


def rescue(belief: Belief, rig: Rig, suspect: Suspect) -> Rescue | None:
    """How a rig that is set too hard is rescued; None where something else is at fault, or no knob would do."""
    if suspect.part is not Part.SETTING:
        return None
    memory = belief.kinds_of(suspect)[0][0].kind is CauseKind.HARD_MEMORY
    domain, load = (MEMORY, LoadKind.MARCH) if memory else (CORES, LoadKind.SOLVE)
    knob = clock_knob(rig, domain)
    if knob is None:
        return None
    base = rig.stock
    if isinstance(base[knob.name], Auto):
        usual = clock_at(rig, knob, base)
        if usual is None:
            return None
        base = base.replacing(knob.name, knob.grid.nearest(usual)[0])
    return Rescue(knob.name, base, load)
