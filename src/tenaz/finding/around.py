"""Ways to work around a part that is at fault, with what each costs; each has to be proven again."""

from tenaz.core.rigs.rig import Rig
from tenaz.finding.causes import Part, Suspect
from tenaz.finding.easing import CORES, MEMORY, clock_at, clock_knob, eased

OFFSET_STEPS = 5


def ways_around(rig: Rig, suspect: Suspect, cores: int) -> tuple[str, ...]:
    """In lines, cheapest first; empty where there is none."""
    known = {knob.name: knob for knob in rig.knobs}
    if suspect.part is Part.CORE:
        found = []
        offset = known.get(f"core_{suspect.place}_offset_steps")
        if offset is not None:
            found.append(f"{offset.label} {OFFSET_STEPS:+d} steps: a little more voltage on it; costs heat, no speed")
        found.append(_slower(rig, CORES))
        found.append(f"off {suspect.place}: the core off; costs {1 / max(1, cores):.0%} of what all cores do together")
        return tuple(one for one in found if one)
    if suspect.part in (Part.SETTING, Part.CONTROLLER, Part.CHANNEL, Part.SLOT):
        return tuple(one for one in (_slower(rig, MEMORY), _slower(rig, CORES)) if one)
    if suspect.part in (Part.SUPPLY, Part.BOARD) and "power_limit_w" in known:
        return ("a limit on the power of the package: costs clock under heavy load only", _slower(rig, CORES))
    return ()


def _slower(rig: Rig, domain: str) -> str:
    """One large cut of a clock, and what it costs of the speed that hangs on it."""
    at, knob = eased(rig, rig.stock, domain), clock_knob(rig, domain)
    if at is None or knob is None:
        return ""
    was, left = clock_at(rig, knob, rig.stock), clock_at(rig, knob, at)
    if not was or left is None:
        return ""
    lost = 1 - left / was
    what = "memory bandwidth" if domain == MEMORY else "the speed of the cores"
    value = knob.show(at[knob.name])
    return f"{knob.label} {value}, then creep back with a retreat: costs {lost:.0%} of {what} until then"
