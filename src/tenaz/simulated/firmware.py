"""What the simulated firmware makes of setpoints: automatic values chosen, values without effect replaced, some
rounded, one of them shown as taken and not taken. All over arrays: one number for each setpoint.
"""

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.setpoint import AUTO, Auto, Setpoint, Value
from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.knobs.timings.minima import MINIMA, TimingFault
from tenaz.core.knobs.timings.rules import DDR4_WRITE_LATENCIES_NCK, RULES, Scaling
from tenaz.simulated.made.parts import Parts

Numbers = NDArray[np.float64]
Values = dict[str, Numbers]
"""By knob name, one number for each setpoint; NaN: automatic."""

BASE_MTS = {Family.DDR4: 2400.0, Family.DDR5: 4800.0}
NOMINAL_VDD_MV = {Family.DDR4: 1200.0, Family.DDR5: 1100.0}
BURST_NCK = {Family.DDR4: 4.0, Family.DDR5: 8.0}

ALWAYS_ROUNDED = {"fabric_mv": 20}
MAY_ROUND: tuple[dict[str, int], ...] = (
    {"io_mv": 20},
    {"controller_mv": 20},
    {"t_rfc1_nck": 16},
    {"core_voltage_mv": 10},
    {},
    {},
    {},
)
"""Firmware offers finer steps than its regulators and registers can make, and says nothing: multiples of so many units
are made. Which besides the fabric's differs from board to board.
"""
MAY_NOT_TAKE = ("rd_rd_rank_gap_nck", "t_xp_nck", "processor_drive_ohm", "t_ccd_l_wr2_nck", "t_rrd_l_nck")
"""One of these is on some boards shown as taken, and stays at what the firmware chose."""
CHOSEN_LATER = ("processor", "graphics")
NOT_TAKING_PART = 0.4


def stacked(setpoints: Sequence[Setpoint], knobs: Sequence[Knob]) -> Values:
    """Setpoints side by side."""
    numbers = [{name: value for name, value in one.items_by_name if value.__class__ is int} for one in setpoints]
    count, missing = len(setpoints), float("nan")
    return {knob.name: np.fromiter((one.get(knob.name, missing) for one in numbers), float, count) for knob in knobs}


class Firmware:
    """The firmware of one machine."""

    def __init__(self, knobs: Sequence[Knob], family: Family, parts: Parts) -> None:
        self._knobs = {knob.name: knob for knob in knobs}
        self._family = family
        self.rounds = dict(ALWAYS_ROUNDED | MAY_ROUND[int(parts.rounding * len(MAY_ROUND))])
        which = parts.not_taken / NOT_TAKING_PART
        not_taken = MAY_NOT_TAKE[int(which * len(MAY_NOT_TAKE))] if which < 1 else ""
        self.not_taken = not_taken if not_taken in self._knobs else ""

    def taken(self, setpoint: Setpoint, stock: Setpoint) -> Setpoint:
        """What is in force after values were typed in: off grid to the grid, some rounded, without a word."""
        changed: dict[str, Value] = {}
        for name, knob in self._knobs.items():
            value = setpoint[name]
            if isinstance(value, Auto) or value == stock[name]:
                continue
            made, step = knob.grid.nearest(value)[0], self.rounds.get(name)
            changed[name] = made if step is None else made // step * step
        differing = {name: value for name, value in changed.items() if value != setpoint[name]}
        for name, value in differing.items():
            setpoint = setpoint.replacing(name, value)
        return setpoint

    def effective(self, values: Mapping[str, Numbers]) -> Values:
        """What the controller works with: in the order of the standards' minima, those without effect replaced."""
        family = self._family
        found = dict(values)
        base_khz = found.get("base_clock_khz", np.full(1, np.nan))
        clock_part = np.where(np.isnan(base_khz), 1.0, base_khz / 100_000)
        rate = found.get("data_rate_mts", np.array([BASE_MTS[family]]))
        rate = np.where(np.isnan(rate), BASE_MTS[family], rate)
        found["rate"] = rate * clock_part
        if self.not_taken:
            found[self.not_taken] = np.full_like(found[self.not_taken], np.nan)
        self._fill_in(found, rate)
        _settle(found, family)
        return {name: numbers for name, numbers in found.items() if self._stands(name, numbers)}

    def _stands(self, name: str, numbers: Numbers) -> bool:
        """Whether something is known of a value; what the processor or the board chooses by itself may stay open."""
        knob = self._knobs.get(name)
        chosen_later = knob is None or knob.domain in CHOSEN_LATER or name == "fabric_mhz" or knob.unit == "Ω"
        return chosen_later or not np.isnan(numbers).any()

    def _fill_in(self, found: Values, rate: Numbers) -> None:
        """Automatic values: times as at the base rate, gaps by what they follow from; they move when those move."""
        base, rules = BASE_MTS[self._family], RULES[self._family]
        for name, numbers in list(found.items()):
            missing = np.isnan(numbers)
            if not missing.any():
                continue
            default = self._knobs[name].default if name in self._knobs else None
            if isinstance(default, int):
                rule = rules.get(name)
                chosen = np.full_like(rate, default, dtype=float)
                if rule is not None and not rule.stays(default):
                    down = rule.scaling is Scaling.LONGEST
                    carried = _thirds(rate) * default / _thirds(np.array([base]))
                    chosen = np.floor(carried + 1e-9) if down else np.maximum(np.ceil(carried - 1e-9), rule.least_nck)
                found[name] = np.where(missing, chosen, numbers)
        burst = BURST_NCK[self._family]
        if "rd_wr_gap_nck" in found:
            latency = found["t_cl_nck"] - found["t_cwl_nck"] if "t_cwl_nck" in found else 2.0
            self._choose(found, "rd_wr_gap_nck", latency + burst + np.ceil(5.0 * rate / 2000))
        for name in ("rd_rd_rank_gap_nck", "wr_wr_rank_gap_nck"):
            self._choose(found, name, burst + np.ceil(3.0 * rate / 2000))

    def _choose(self, found: Values, name: str, chosen: Numbers) -> None:
        if name in found:
            found[name] = np.where(np.isnan(found[name]), chosen, found[name])


def _thirds(rate: Numbers) -> Numbers:
    """Rates in thirds of an MT/s: 2666 stands for 2666⅔ (see :class:`tenaz.core.knobs.timings.clocks.MemoryClock`)."""
    near = (rate * 3 + 50) // 100 * 100
    return np.where(np.abs(near - 3 * rate) < 3, near, 3 * rate)


def _settle(found: Values, family: Family) -> None:
    """Replace what no register holds and what has no effect; what is merely too low is really tried."""
    if family is Family.DDR5 and "t_cl_nck" in found:
        found["t_cl_nck"] = found["t_cl_nck"] + found["t_cl_nck"] % 2
    if family is Family.DDR4 and "t_cwl_nck" in found:
        allowed = np.array(DDR4_WRITE_LATENCIES_NCK, dtype=float)
        place = np.minimum(np.searchsorted(allowed, found["t_cwl_nck"]), len(allowed) - 1)
        found["t_cwl_nck"] = allowed[place]
    for rule in MINIMA[family]:
        if rule.standing is TimingFault.INERT and rule.name in found and all(name in found for name in rule.needs):
            # The rules are sums and multiples: they hold for arrays as for numbers.
            least: Any = rule.least(found)  # type: ignore[arg-type]
            found[rule.name] = least if rule.name == "t_cwl_nck" else np.maximum(found[rule.name], least)


def as_setpoint(values: Mapping[str, Value] | None, otherwise: Setpoint) -> Setpoint:
    """Kept values as a setpoint; what is automatic was kept as a word."""
    if values is None:
        return otherwise
    return Setpoint.of({name: AUTO if isinstance(value, str) else value for name, value in values.items()})
