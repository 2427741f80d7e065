"""Which knobs of a rig a night moves, how far, and where those begin that are left to the firmware."""

from tenaz.core.knobs.setpoint import AUTO, Setpoint
from tenaz.core.knobs.timings.rules import RULES
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.rigs.rig import Rig
from tenaz.core.searches.search import SearchGround, search_limit
from tenaz.core.trials.costs import Costs
from tenaz.search.night.ground import LOWERED, OFFSET, QUIET, RAISED, RATE, RATIO, Aim


def night_knobs(rig: Rig, base: Setpoint, aim: Aim = Aim.FAST) -> tuple[str, ...]:
    """The data rate with all timings that are known, the voltages that go with it, the cores' ratio and offset; for a
    quiet rig voltages alone. What is locked stays as it is.
    """
    fast = {RATE, RATIO, OFFSET, *RAISED, *LOWERED, *RULES[rig.family]}
    wanted = {OFFSET, *QUIET} if aim is Aim.QUIET else fast
    found = [knob for knob in rig.knobs if knob.name in wanted and not knob.locked]
    return tuple(k.name for k in found if isinstance(base[k.name], int) or (k.name == RATIO and base[RATIO] is AUTO))


def starts_for(rig: Rig) -> str:
    """Where the cores' ratio begins where the firmware chooses, and how far it goes: from the base clock to the highest
    that the processor reaches by itself.
    """
    machine = rig.machine
    if machine is None or not machine.base_mhz:
        return ""
    low, high = int(machine.base_mhz // 100), int((machine.highest_mhz or machine.base_mhz) // 100)
    return f"{RATIO}={low}..{max(low, high)}"


def ground_for(rig: Rig, base: Setpoint, reason: str, aim: Aim = Aim.FAST) -> SearchGround:
    """The ground of a night that nobody has begun in a book."""
    knobs = tuple(rig.knob(name) for name in night_knobs(rig, base, aim))
    limits = tuple(search_limit(knob, reason) for knob in knobs)
    load = LoadPlan(LoadKind.MARCH, 3600.0)
    return SearchGround(knobs, limits, base, load, Costs(), rig.purpose, None, rig.family, rig.platform)
