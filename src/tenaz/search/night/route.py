"""The route of a night: which legs there are on a rig, in which order, and what part of the hours each may take.

Processor before memory, since whatever computes wrong there looks like memory; the data rate before timings, since
they are times and it moves all of them; single timings that each gain much before the many that gain little together;
refresh after these, voltages down last, as they keep what all others ask for.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import partial

from tenaz.core.knobs.knob import Grid, Harder, Knob
from tenaz.core.knobs.names import (
    CONTROLLER_VOLTAGE,
    IO_VOLTAGE,
    MEMORY_VDD,
    MEMORY_VDDQ,
    REFRESH_FINENESS,
    T_CL,
    T_RCD,
    T_REFI,
    T_RP,
)
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.knobs.timings.figures import REFRESH_CYCLE
from tenaz.core.loads.kinds import LoadKind
from tenaz.margins.priors import prior_at
from tenaz.search.night.again_leg import AgainLeg, AgainPlan
from tenaz.search.night.check_leg import CheckLeg
from tenaz.search.night.edge_leg import EdgeLeg, EdgePlan, narrowed
from tenaz.search.night.ground import ALONE, LOWERED, OFFSET, QUIET, RATE, RATIO, REFRESH, ROWS, Aim, NightGround
from tenaz.search.night.group_leg import GroupLeg, GroupPlan, in_group
from tenaz.search.night.legs import Leg
from tenaz.search.night.moving import carried_to, moved, raised
from tenaz.search.night.processor_leg import ProcessorLeg, ProcessorPlan
from tenaz.search.night.worths import worth_of_speed
from tenaz.search.owing import planned

STOCK_H, CHECK_H, GROUP_H, USUAL_H = 0.25, 0.25, 0.4, 0.4
START_H = 0.05
USUAL_RATE = 1.2
"""A data rate so many times as high as it came is often reached."""
USUALLY_GAINED = {
    T_REFI: 2.9, "cores": 2.5, "refresh": 2.2, T_RCD: 1.6, T_RP: 1.0, "other timings": 0.9,
    T_CL: 0.6, OFFSET: 1.0, MEMORY_VDD: 0.9, MEMORY_VDDQ: 0.6, CONTROLLER_VOLTAGE: 0.4, IO_VOLTAGE: 0.3,
}  # fmt: skip
"""Percent of the score, for a quiet rig of the heat, on simulated rigs of both kinds: what a short night has."""
SEARCH_H = 24.0
"""Hours of search where nobody said how long the night is."""


@dataclass(frozen=True)
class Part:
    """One leg of the route, not yet begun: its part of the hours, and how it begins at a setpoint (None: there is
    nothing to do). With less than ``least_h`` it learns nothing; a leg of no part takes ``takes_h``. One that is made
    ``for_leg`` is nothing without that one.
    """

    key: str
    weight: float
    begin: Callable[[NightGround, Setpoint, float], Leg | None]
    takes_h: float = 0.0
    for_leg: str = ""
    least_h: float = 0.6
    """Two or three trials."""


AGAIN = "cores again"


def route_of(night: NightGround) -> tuple[Part, ...]:
    """All legs before the proof. For a quiet rig nothing but voltages comes down."""
    parts = [Part("stock", 0.0, _stock, takes_h=2 * (STOCK_H + START_H))]
    if night.aim is Aim.QUIET:
        quiet = [Part(OFFSET, 3.0, partial(_voltage, OFFSET)), *(Part(n, 1.5, partial(_voltage, n)) for n in QUIET)]
        return (*parts, *(one for one in quiet if one.key in night.knobs))
    parts += [Part("cores", 2.5, _cores, least_h=1.5)]
    parts += [Part("voltages up", 0.0, _raise, takes_h=CHECK_H + START_H, for_leg=RATE), Part(RATE, 6.0, _rate)]
    parts += [Part(name, 1.5, partial(_timing, name)) for name in ROWS]
    parts += [Part("other timings", 2.5, _others)]
    parts += [Part(name, 1.5, partial(_timing, name)) for name in REFRESH] + [Part("refresh", 1.5, _refresh)]
    parts += [Part(name, 1.0, partial(_voltage, name)) for name in LOWERED]
    parts.append(Part(AGAIN, 0.0, _again, takes_h=AGAIN_H + START_H, for_leg="cores"))
    return tuple(one for one in parts if one.key not in {*ROWS, *REFRESH, *LOWERED} or one.key in night.knobs)


# -- legs ----------------------------------------


def left_out(parts: Sequence[Part], left_h: float, night: NightGround, at: Setpoint) -> tuple[Part, ...]:
    """The parts that there are no hours for: where not all can have enough to learn anything, those go on that are
    expected to gain most for that.
    """
    room_h = left_h - sum(one.takes_h for one in parts)
    if room_h >= sum(one.least_h for one in parts if one.weight):
        return ()
    gains = {**USUALLY_GAINED, RATE: _of_a_rate(night, at)}
    names = set[str]()
    for part in sorted(parts, key=lambda one: -gains.get(one.key, 0.0) / one.least_h):
        if part.weight and part.least_h > room_h:
            names.add(part.key)
        elif part.weight:
            room_h -= part.least_h
    return tuple(one for one in parts if one.key in names or one.for_leg in names)


def _of_a_rate(night: NightGround, at: Setpoint) -> float:
    """What a rate that is usually reached would gain, in percent, less what its voltages cost."""
    knob, begun = night.knobs.get(RATE), at[RATE]
    if knob is None or not isinstance(begun, int):
        return 0.0
    most = min(USUAL_RATE * begun, night.limit(knob))
    reached = max((one for one in knob.grid.values() if one <= most), default=begun)
    return 100 * night.worth(at, carried_to(night, raised(night, at), max(begun, reached)))


def _stock(night: NightGround, at: Setpoint, hours: float) -> Leg:
    del hours
    loads = [planned(night.purpose, kind, STOCK_H) for kind in (night.cores, night.memory)]
    return CheckLeg("as it came", at, at, loads, "before anything is moved it must hold as it came", fatal=True)


def _cores(night: NightGround, at: Setpoint, hours: float) -> Leg | None:
    ratio, offset, begun = night.knobs.get(RATIO), night.knobs.get(OFFSET), at[RATIO]
    low, high = night.starts.get(RATIO, (begun, begun))
    start = begun if isinstance(begun, int) else low
    load = planned(night.purpose, night.cores, USUAL_H)

    def offset_leg(setpoint: Setpoint, vouched: bool, left_h: float) -> EdgeLeg | None:
        if offset is None or offset.locked or not isinstance(setpoint[OFFSET], int):
            return None
        along, ratio = partial(moved, night, setpoint, OFFSET), setpoint[RATIO]
        # Where it cannot stand at this ratio, it will be one lower.
        stake = worth_of_speed(1 / ratio) if isinstance(ratio, int) and not vouched else 0.0
        start = setpoint.number(OFFSET)
        return _edge(night, setpoint, offset, start, left_h, night.cores, along, vouched=vouched, stake=stake)

    if ratio is None or ratio.locked or not isinstance(start, int) or start not in ratio.grid:
        return offset_leg(at, True, hours)
    if offset_leg(at, True, hours) is None:
        return None
    values = [
        one for one in ratio.grid.values() if start <= one <= max(start, high if isinstance(high, int) else start)
    ]
    along = replace(ratio, grid=Grid.of(values))
    return ProcessorLeg(ProcessorPlan(along, at, load, offset_leg, night.seen_rates.get(night.cores, 0.0), hours))


def _again(night: NightGround, at: Setpoint, hours: float) -> Leg | None:
    """Where memory was moved: the cores too, or as they came."""
    del hours
    came = night.ground.base
    moved = {change.knob for change in at.changes_from(came)}
    name = next((one for one in (OFFSET, RATIO) if one in night.knobs and isinstance(at[one], int)), None)
    if name is None or not moved - {OFFSET, RATIO} or night.knobs[name].locked:
        return None
    knob, prior = night.knobs[name], prior_at(night.knobs[name], night.ground.family, None)
    steps = max(1, round(AGAIN_SLOPES * prior.usual_slope_steps(knob)))
    easiest = knob.strain(came.number(name)) if isinstance(came[name], int) else knob.ends[0]
    load = planned(night.purpose, night.cores, AGAIN_H)
    easiest = min(easiest, knob.strain(at.number(name)))
    return AgainLeg(AgainPlan(knob, at, steps, easiest, load, partial(_gives_way, night)))


def _gives_way(night: NightGround, at: Setpoint) -> Setpoint | None:
    """A ratio lower, or else a data rate lower, all times kept; None where both are as they came."""
    ratio, came = at[RATIO], night.ground.base[RATIO]
    begins = came if isinstance(came, int) else night.starts.get(RATIO, (None, None))[0]
    if RATIO in night.knobs and isinstance(ratio, int) and isinstance(begins, int) and ratio > begins:
        return at.replacing(RATIO, ratio - 1)
    rate, stock = at[RATE], night.ground.base[RATE]
    lower = night.knobs[RATE].harder_by(rate, -1) if RATE in night.knobs and isinstance(rate, int) else None
    return carried_to(night, at, lower) if lower is not None and isinstance(stock, int) and lower >= stock else None


AGAIN_H, AGAIN_SLOPES = 0.25, 8.0
"""Failures at a rate that just shows itself in so long are e⁸ times rarer so many slopes easier."""


def _raise(night: NightGround, at: Setpoint, hours: float) -> Leg | None:
    del hours
    to = raised(night, at)
    if to == at or RATE not in night.knobs:
        return None
    load = planned(night.purpose, night.memory, CHECK_H)
    return CheckLeg("voltages up", at, to, [load], "a higher rate needs them; they come down again at the end")


def _rate(night: NightGround, at: Setpoint, hours: float) -> Leg | None:
    knob = night.knobs.get(RATE)
    if knob is None or knob.locked or not isinstance(at[RATE], int):
        return None
    before = night.seen_rates.get(night.memory, 0.0)
    along = partial(moved, night, at, RATE)
    return _edge(night, at, knob, at.number(RATE), hours, night.memory, along, least_rate=before, paid=True)


def _timing(name: str, night: NightGround, at: Setpoint, hours: float) -> Leg | None:
    knob = night.knobs[name]
    if knob.locked or not isinstance(at[name], int):
        return None
    return _edge(night, at, knob, at.number(name), hours, night.memory, partial(moved, night, at, name))


def _refresh(night: NightGround, at: Setpoint, hours: float) -> Leg | None:
    fineness = at[REFRESH_FINENESS]
    name = REFRESH_CYCLE.get(fineness if isinstance(fineness, int) else 1, "")
    return _timing(name, night, at, hours) if name in night.knobs else None


def _voltage(name: str, night: NightGround, at: Setpoint, hours: float) -> Leg | None:
    knob = night.knobs[name]
    if knob.locked or not isinstance(at[name], int) or knob.harder is not Harder.DOWN:
        return None
    kind = night.cores if name == OFFSET else night.memory
    return _edge(night, at, knob, at.number(name), hours, kind, partial(moved, night, at, name))


def _others(night: NightGround, at: Setpoint, hours: float) -> Leg | None:
    knobs = tuple(knob for knob in night.ground.knobs if knob.name not in ALONE and in_group(knob, at))
    if len(knobs) < 2:
        return None
    load = planned(night.purpose, night.memory, GROUP_H)
    return GroupLeg(
        GroupPlan("other timings", knobs, at, load, night.ground.family, hours, night.least_per_h, night.worth)
    )


def _edge(
    night: NightGround,
    base: Setpoint,
    knob: Knob,
    start: int,
    hours: float,
    kind: LoadKind,
    at: Callable[[int], Setpoint],
    paid: bool = False,
    least_rate: float = 0.0,
    vouched: bool = True,
    stake: float = 0.0,
) -> EdgeLeg | None:
    limit = night.limit(knob)
    if start not in knob.grid or knob.strain(start) >= knob.strain(limit):
        return None
    rate = base[RATE]
    prior = prior_at(knob, night.ground.family, rate if isinstance(rate, int) else None)
    along = narrowed(knob, start, limit, by_parts=prior.unit == "%")
    taken = [v for v in along.grid.values() if v == start or night.rounding.asked(knob, v) == v]
    along = replace(along, grid=Grid.of(taken))
    load = planned(night.purpose, kind, USUAL_H)
    plan = EdgePlan(
        along, base, at, load, night.part, night.ground.family, hours, night.least_per_h, night.worth, paid, least_rate,
        vouched, prior, stake,
    )  # fmt: skip
    return EdgeLeg(plan)
