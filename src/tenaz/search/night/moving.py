"""Setpoints along a night: a knob moved with what follows from it, voltages raised, steps back after a failed proof."""

from tenaz.core.knobs.knob import Harder, Knob
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.knobs.timings.minima import mended
from tenaz.core.loads.manners import Strains
from tenaz.core.rigs.rescaled import carried_on
from tenaz.search.night.ground import OFFSET, RAISED, RATE, RATIO, NightGround


def moved(night: NightGround, at: Setpoint, name: str, value: int) -> Setpoint:
    """With one knob moved, and what follows from it: a data rate keeps all times, a timing the minima of the others."""
    if name == RATE:
        return carried_to(night, at, value)
    if not name.endswith("_nck"):
        return night.asked(at.replacing(name, value))
    numbers = mended({**at.numbers(), name: value}, night.ground.family)
    found = at.replacing(name, value)
    for other, wanted in numbers.items():
        knob = night.knobs.get(other)
        if other != name and knob is not None and wanted != at[other]:
            found = found.replacing(other, wanted if wanted in knob.grid else knob.grid.nearest(wanted)[-1])
    return night.asked(found)


def carried_to(night: NightGround, at: Setpoint, rate_mts: int) -> Setpoint:
    """At another data rate, all times kept."""
    return night.asked(carried_on(night.knobs, night.ground.family, at, rate_mts).setpoint)


def raised(night: NightGround, at: Setpoint) -> Setpoint:
    """With the voltages that carry a data rate raised for it, within their advised ceilings."""
    to = at
    for name, part in RAISED.items():
        knob = night.knobs.get(name)
        value = at[name]
        if knob is None or knob.locked or not isinstance(value, int) or knob.advised_ceiling is None:
            continue
        wanted = value + part * (knob.advised_ceiling - value)
        best = max((one for one in knob.grid.values() if one <= wanted), default=value)
        to = to.replacing(name, max(value, best))
    return night.asked(to)


def step_back(night: NightGround, stock: Setpoint, at: Setpoint, strains: Strains, times: int) -> Setpoint | None:
    """From a setpoint that failed its proof. Cores: the ratio a step down and the offset a step up; from the third time
    on as they came. Memory: every timing and voltage a tenth of its way back; from the second time on the data rate a
    step down, all times kept; from the fourth on as it came.
    """
    cores = strains is Strains.CPU
    names = [
        name for name, knob in night.knobs.items() if (name in {RATIO, OFFSET}) == cores and at[name] != stock[name]
    ]
    if not names:
        return None
    if times >= (3 if cores else 4):
        for name in names:
            at = at.replacing(name, stock[name])
        return at
    if not cores and times >= 2 and RATE in names:
        lower = night.knobs[RATE].harder_by(at.number(RATE), -1)
        if lower is not None and lower >= stock.number(RATE):
            return carried_to(night, at, lower)
    found = at
    for name in names:
        if name != RATE:
            found = found.replacing(name, _eased(night.knobs[name], at, stock, name))
    return night.asked(found)


def _eased(knob: Knob, at: Setpoint, stock: Setpoint, name: str) -> int:
    value = at.number(name)
    steps = max(1, round(0.05 * len(knob.grid))) if knob.unit == "mV" else 1
    if knob.unit == "nCK":
        steps = max(1, round(0.05 * value / knob.grid.spacing))
    came = stock[name]
    easier = knob.strain(value) - steps
    if isinstance(came, int) and came in knob.grid and name not in RAISED:
        easier = max(easier, min(knob.strain(came), knob.strain(value)))
    eased = knob.at_strain(max(knob.ends[0], easier))
    if knob.harder is Harder.DOWN and knob.advised_ceiling is not None:
        eased = max(value, min(eased, max(one for one in knob.grid.values() if one <= knob.advised_ceiling)))
    return eased
