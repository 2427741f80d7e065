"""A rig that does not hold its own stock: along which knob it is rescued, and where the retreat begins."""

from dataclasses import dataclass

from tenaz.core.load_kinds import LoadKind
from tenaz.core.rigs import Rig
from tenaz.core.setpoints import Auto, Setpoint
from tenaz.finding.belief import Belief
from tenaz.finding.causes import CauseKind, Part, Suspect


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
    name, load = ("data_rate_mts", LoadKind.MARCH) if memory else ("core_ratio", LoadKind.SOLVE)
    knob = next((one for one in rig.knobs if one.name == name and not one.locked), None)
    if knob is None:
        return None
    base = rig.stock
    if isinstance(base[name], Auto):
        usual_mhz = rig.machine.base_mhz if rig.machine else None
        if not usual_mhz or usual_mhz // 100 not in knob.grid:
            return None
        base = base.replacing(name, usual_mhz // 100)
    return Rescue(name, base, load)
