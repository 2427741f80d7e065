"""What each knob does on a simulated machine: an edge, a cost, or an effect on speed."""

import numpy as np

from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.setpoint import AUTO, Setpoint
from tenaz.core.loads.kinds import LoadKind
from tenaz.simulated.firmware import Numbers
from tenaz.simulated.machine import LoadMix, Machine, total
from tenaz.simulated.physics.timings import REFRESH_OF

NONE = "none"
VALUES = 17
NEAR = LoadMix((LoadKind.MARCH,), (0.5,))
EDGE_FOLDS, SPEED_PART, HEAT_W = 0.5, 0.001, 0.3
"""From so much on it is an effect: failures by e-folds, speed by a part, power in W."""

EFFECTS = {
    ("ridge", "rd_rd_rank_gap_nck"): "each channel of it has one rank: no rank follows another",
    ("ridge", "wr_wr_rank_gap_nck"): "each channel of it has one rank: no rank follows another",
    ("hut", "rd_rd_rank_gap_nck"): "each channel of it has one rank: no rank follows another",
    ("hut", "wr_wr_rank_gap_nck"): "each channel of it has one rank: no rank follows another",
    ("hut", "power_limit_w"): "it draws less than the lowest value of the grid",
    ("hut", "short_power_limit_w"): "it draws less than the lowest value of the grid",
    ("hut", "current_limit_a"): "it draws less than the lowest value of the grid",
    ("hut", "temperature_limit_c"): "it stays below the lowest value of the grid, in the workshop",
    ("ridge", "temperature_limit_c"): "it stays below the lowest value of the grid, while its cooler is clean",
    ("sled", "temperature_limit_c"): "it stays below the lowest value of the grid, while its cooler is clean",
}
"""Knobs that truly do nothing on a rig, with the reason."""


def effect_of(machine: Machine, knob: Knob) -> str:
    """In words: what moves first between its grid's ends, the others as they came, or near the data rate's edge."""
    values = knob.grid.values()
    places = np.unique(np.linspace(0, len(values) - 1, min(len(values), VALUES)).astype(int))
    moved = {knob.name: np.array([values[place] for place in places], dtype=float)}
    stock = machine.rig.stock
    if knob.name in REFRESH_OF:
        stock = stock.replacing("refresh_fineness", REFRESH_OF[knob.name][0])
    found = _first(machine, machine.along(stock, moved))
    if found:
        return found
    relaxed = stock
    for one in machine.rig.knobs:
        if one.unit == "nCK" and one.may_be_auto and one.name != knob.name:
            relaxed = relaxed.replacing(one.name, AUTO)
    for at in (_near_the_edge(machine, base, beyond) for base, beyond in ((stock, 0), (relaxed, 0), (relaxed, 2))):
        found = _first(machine, machine.along(at, moved))
        if found:
            return found
    return NONE


def _first(machine: Machine, v: dict[str, Numbers]) -> str:
    return next((found for kind in LoadKind if (found := _under(machine, kind, v))), "")


def _near_the_edge(machine: Machine, stock: Setpoint, beyond: int = 0) -> Setpoint:
    """The hardest data rate at which hardly anything fails, or so many steps beyond."""
    knob = next((one for one in machine.rig.knobs if one.name == "data_rate_mts"), None)
    if knob is None:
        return stock
    values = knob.grid.values()
    rates = machine.log_rates(machine.along(stock, {knob.name: np.array(values, dtype=float)}), NEAR)
    fine = [value for value, rate in zip(values, rates, strict=True) if rate < -1.0]
    place = values.index(max(fine)) + beyond if fine else 0
    return stock.replacing(knob.name, values[min(place, len(values) - 1)])


def _under(machine: Machine, kind: LoadKind, v: dict[str, Numbers]) -> str:
    strain = LoadMix((kind,), (0.5,))
    die_c, modules_c = machine.warmed(v, strain)
    rates = machine.log_hazards(v, strain, die_c, modules_c)
    starts = machine.start_folds(v, 40.0, np.full(len(machine.seated), 40.0))
    if max(_spread(total(rates)), _spread(np.clip(starts, -20, 20))) > EDGE_FOLDS:
        return "an edge"
    speed = machine.speed(v, strain, die_c)
    run = machine.processor.run(v, kind, die_c)
    first = machine.processor.run(v, kind, die_c, first_seconds=True)
    if (
        max(map(_part, (speed.bandwidth_gb_s, speed.latency_ns, speed.throughput_gflop_s, first.clock_mhz)))
        > SPEED_PART
    ):
        return "speed"
    warmer = max(_spread(run.package_w), _spread(first.package_w), _spread(modules_c.max(axis=-1)) * 0.3)
    return "heat" if warmer > HEAT_W else ""


def _spread(numbers: Numbers) -> float:
    return float(np.max(numbers) - np.min(numbers))


def _part(numbers: Numbers) -> float:
    return _spread(numbers) / float(np.max(numbers))
