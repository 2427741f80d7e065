"""One large cut of the clocks: the setting at which a rig is tried that does not hold its own stock."""

from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.names import CORE_RATIO, DATA_RATE
from tenaz.core.knobs.setpoint import Auto, Setpoint
from tenaz.core.rigs.rig import Rig

MEMORY, CORES = "memory", "cores"
DOMAINS = (MEMORY, CORES)
MEMORY_PART, CORES_PART = 0.8, 0.8
"""The part of the clock that is left, or the lowest that there is."""
FIXED_MHZ = 100
"""What a ratio of 1 is worth."""
CUT = 0.95
"""A clock below that part of stock's is cut."""


def eased(rig: Rig, at: Setpoint, domain: str) -> Setpoint | None:
    """A setpoint with one large cut of a domain's clock; None where the rig has no knob for it."""
    knob = clock_knob(rig, domain)
    stock = None if knob is None else clock_at(rig, knob, rig.stock)
    if knob is None or stock is None:
        return None
    part = MEMORY_PART if domain == MEMORY else CORES_PART
    values = knob.grid.values()
    lower = max((value for value in values if value <= stock * part), default=min(values))
    return at.replacing(knob.name, lower) if lower < stock * CUT else None


def eased_domains(rig: Rig, at: Setpoint) -> tuple[str, ...]:
    """The domains whose clock is cut at a setpoint, against stock."""
    found = []
    for domain in DOMAINS:
        knob = clock_knob(rig, domain)
        if knob is None:
            continue
        stock, now = clock_at(rig, knob, rig.stock), clock_at(rig, knob, at)
        if stock and now and now < stock * CUT:
            found.append(domain)
    return tuple(found)


def harder_than_stock(rig: Rig, at: Setpoint) -> bool:
    """Whether any knob stands harder than the rig came: what fails there says nothing of its parts."""
    for knob in rig.knobs:
        value, stock = at[knob.name], rig.stock[knob.name]
        if isinstance(value, Auto) or isinstance(stock, Auto) or value == stock:
            continue
        if value in knob.grid and stock in knob.grid and knob.strain(value) > knob.strain(stock):
            return True
    return False


def clock_knob(rig: Rig, domain: str) -> Knob | None:
    """The knob of a domain's clock; None where there is none, or it is locked."""
    wanted = DATA_RATE if domain == MEMORY else CORE_RATIO
    return next((knob for knob in rig.knobs if knob.name == wanted and not knob.locked), None)


def clock_at(rig: Rig, knob: Knob, at: Setpoint) -> float | None:
    """A clock at a setpoint; a ratio that the firmware chooses is that of the processor's base clock."""
    value = at[knob.name]
    if not isinstance(value, Auto):
        return float(value)
    machine = rig.machine
    if knob.name == CORE_RATIO:
        return machine.base_mhz / FIXED_MHZ if machine and machine.base_mhz else None
    # Nobody typed what memory runs at: as its modules tell, else as they are rated, else as its standard begins.
    rates = [one.present_mts or one.rated_mts for one in (machine.modules if machine else ()) if one.fitted]
    known = [rate for rate in rates if rate]
    return float(min(known)) if known else float(knob.default) if isinstance(knob.default, int) else None
