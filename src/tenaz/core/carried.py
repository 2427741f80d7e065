"""A rig's whole setpoint carried to another data rate: times kept, rounded, minima kept, onto the rig's own grids."""

from tenaz.core.rigs import Rig
from tenaz.core.setpoints import Setpoint
from tenaz.core.timings.carrying import carry
from tenaz.core.timings.clocks import Rounding
from tenaz.core.timings.minima import mended
from tenaz.core.timings.rules import RULES, Scaling


def carried_setpoint(rig: Rig, setpoint: Setpoint, to_mts: int, rounding: Rounding = Rounding.CAUTIOUS) -> Setpoint:
    """The setpoint at another data rate; what is on auto stays so, and what is no timing stays as it is.

    A carried value that is not on its knob's grid goes to the next easier one; at the grid's end it stays there.

    Raises:
        Refused: the data rate is on auto, or the wanted one is not on its grid.
    """
    rate = rig.knob("data_rate_mts")
    rate.check(to_mts, reason="carried")
    from_mts = setpoint.number("data_rate_mts")
    knobs, rules = {knob.name: knob for knob in rig.knobs}, RULES[rig.family]
    carried = carry(setpoint.numbers(), rig.family, from_mts, to_mts, rounding)
    for _ in range(2):
        # Once onto the grids; what that moved may ask more of the others, so once again.
        for name, value in carried.items():
            if name in rules and name in knobs:
                near = knobs[name].grid.nearest(value)
                carried[name] = near[0] if rules[name].scaling is Scaling.LONGEST else near[-1]
        carried = mended(carried, rig.family)
    result = setpoint.replacing(rate.name, to_mts)
    for name, value in carried.items():
        if name in rules:
            result = result.replacing(name, value)
    return result
