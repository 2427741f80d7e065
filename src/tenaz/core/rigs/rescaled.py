"""A rig's whole setpoint carried to another data rate: times kept, rounded, minima kept, onto the rig's own grids."""

from collections.abc import Mapping
from dataclasses import dataclass

from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.names import DATA_RATE
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.knobs.timings.clocks import Family, MemoryClock, Rounding
from tenaz.core.knobs.timings.minima import Remark, TimingFault, mended
from tenaz.core.knobs.timings.rescaling import carry
from tenaz.core.knobs.timings.rules import RULES, Scaling
from tenaz.core.rigs.rig import Rig


@dataclass(frozen=True, slots=True)
class Rescaled:
    """A carried setpoint; ``out_of_reach`` are its values that are tighter than was asked, because the grid ends."""

    setpoint: Setpoint
    out_of_reach: tuple[Remark, ...] = ()


def rescaled_setpoint(rig: Rig, setpoint: Setpoint, to_mts: int, rounding: Rounding = Rounding.CAUTIOUS) -> Rescaled:
    """A rig's setpoint at another data rate; see :func:`carried_on`.

    Raises:
        Refused: the data rate is on auto, or the wanted one is not on its grid.
    """
    return carried_on({knob.name: knob for knob in rig.knobs}, rig.family, setpoint, to_mts, rounding)


def carried_on(
    knobs: Mapping[str, Knob], family: Family, setpoint: Setpoint, to_mts: int, rounding: Rounding = Rounding.CAUTIOUS
) -> Rescaled:
    """The setpoint at another data rate; what is on auto stays so, and what is no timing stays as it is.

    A carried value that is not on its knob's grid goes to the next easier one; where the grid ends before that, it
    stands at its end and is told as out of reach.

    Raises:
        Refused: the data rate is on auto, or the wanted one is not on its grid.
    """
    rate = knobs[DATA_RATE]
    rate.check(to_mts, reason="carried")
    from_mts = setpoint.number(DATA_RATE)
    rules = RULES[family]
    asked = carry(setpoint.numbers(), family, from_mts, to_mts, rounding)
    carried = dict(asked)
    for _ in range(2):
        # Once onto the grids; what that moved may ask more of the others, so once again.
        for name, value in carried.items():
            if name in rules and name in knobs:
                near = knobs[name].grid.nearest(value)
                carried[name] = near[0] if rules[name].scaling is Scaling.LONGEST else near[-1]
        carried = mended(carried, family)
        asked = {
            name: value if name not in rules or rules[name].scaling is Scaling.LONGEST else max(value, carried[name])
            for name, value in asked.items()
        }
    result = setpoint.replacing(rate.name, to_mts)
    out_of_reach = []
    for name, value in carried.items():
        if name not in rules:
            continue
        given = value
        if name in knobs:
            given = max(knobs[name].grid.first, min(value, knobs[name].grid.last))
        result = result.replacing(name, given)
        longest = rules[name].scaling is Scaling.LONGEST
        if given > asked[name] if longest else given < asked[name]:
            out_of_reach.append(_remark(name, asked[name], given, MemoryClock.of(to_mts, family), longest))
    return Rescaled(result, tuple(out_of_reach))


def _remark(name: str, asked: int, given: int, clock: MemoryClock, longest: bool) -> Remark:
    text = (
        f"the grid ends at {given} ({clock.ns(given):.2f} ns), {'no more than ' if longest else ''}{asked} "
        f"({clock.ns(asked):.2f} ns) asked: this sheet does not keep its times at that rate"
    )
    return Remark(name, TimingFault.OUT_OF_REACH, text, asked)
