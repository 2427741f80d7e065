"""The machine inside the simulated rig: what it hides, and how it fails. The same seed gives the same machine."""

import math
import random
from dataclasses import dataclass

from tenaz.benches.simulated import constants as c
from tenaz.core.knobs import Knob
from tenaz.core.load_kinds import LoadKind
from tenaz.core.setpoints import Auto, Setpoint
from tenaz.core.timings.carrying import carry
from tenaz.core.timings.clocks import Family, MemoryClock
from tenaz.core.timings.minima import mended


@dataclass(frozen=True, slots=True)
class Weaknesses:
    """What one machine's parts can do; drawn once from its seed."""

    signal_rate_mts: float
    signal_sharpness_mts: float
    access_floor_ns: float
    access_sharpness_ns: float
    too_high_vdd_mv: float
    wall_folds: float


@dataclass(frozen=True, slots=True)
class Floor:
    """One timing's floor in ns at nominal VDD, its sharpness in ns, and what a millivolt takes off it."""

    ns: float
    sharpness_ns: float
    gain_ns_per_mv: float


def draw_weaknesses(seed: int, family: Family = Family.DDR5) -> Weaknesses:
    """The machine that belongs to a seed."""
    draw, m = random.Random(f"parts:{seed}"), c.MEMORY[family]
    return Weaknesses(
        signal_rate_mts=draw.gauss(*m.signal_mts),
        signal_sharpness_mts=draw.uniform(*m.signal_sharpness_mts),
        access_floor_ns=draw.gauss(*m.access_floor_ns),
        access_sharpness_ns=draw.uniform(*m.access_sharpness_ns),
        too_high_vdd_mv=draw.gauss(*m.too_high_vdd_mv),
        wall_folds=draw.uniform(*c.WALL_FOLDS),
    )


def draw_floors(seed: int, knobs: tuple[Knob, ...], family: Family) -> dict[str, Floor]:
    """The floors of a machine's timings, by name: a part of each knob's standard time."""
    clock, floors = MemoryClock(c.MEMORY[family].base_mts), {}
    for knob in knobs:
        if knob.name in c.TIMING_FLOORS and isinstance(knob.default, int):
            draw = random.Random(f"{knob.name}:{seed}")
            mean, spread, falls = c.TIMING_FLOORS[knob.name]
            standard_ns = clock.ns(knob.default)
            floor_ns = standard_ns * draw.gauss(mean, spread)
            sharpness_ns = standard_ns * draw.uniform(*c.TIMING_SHARPNESS)
            floors[knob.name] = Floor(floor_ns, sharpness_ns, floor_ns * falls * c.VDD_GAIN_OF_FLOORS_PER_MV)
    return floors


class SimulatedMachine:
    """Failure rates of one machine at any setpoint of its knobs."""

    def __init__(self, seed: int, knobs: tuple[Knob, ...] = (), family: Family = Family.DDR5) -> None:
        self.weak = draw_weaknesses(seed, family)
        self._family, self._knobs, self._memory = family, knobs, c.MEMORY[family]
        self._floors = draw_floors(seed, knobs, family)
        draw = random.Random(f"supplies:{seed}")
        self._controller_mv = draw.gauss(*self._memory.controller_mv)
        self._vpp_floor_mv = draw.gauss(*self._memory.vpp_floor_mv)
        self._vdd_floor_mv = random.Random(f"vdd floor:{seed}").gauss(*self._memory.vdd_floor_mv)
        self._vddq_apart_mv = draw.gauss(*c.VDDQ_APART_MV)
        self._fabric_mhz = draw.gauss(*c.FABRIC_MHZ)
        self._retention = draw.gauss(*c.RETENTION_FACTOR)

    def effective(self, setpoint: Setpoint) -> dict[str, int]:
        """What the firmware makes of a setpoint: automatic values chosen safely, values without effect replaced."""
        base = {knob.name: knob.default for knob in self._knobs if isinstance(knob.default, int)}
        chosen = setpoint.numbers()
        rate = chosen.get("data_rate_mts", self._memory.base_mts)
        safe = carry(base, self._family, self._memory.base_mts, rate)
        for knob in self._knobs:
            if isinstance(setpoint[knob.name], Auto) and knob.name in safe:
                chosen[knob.name] = safe[knob.name]
        return mended(chosen, self._family)

    def deficits(self, setpoint: Setpoint) -> tuple[float, ...]:
        """By how many e-folds each weakness is beyond its edge (negative: margin left)."""
        m, values = self._memory, self.effective(setpoint)
        rate, vdd = values["data_rate_mts"], values["memory_vdd_mv"]
        clock, over = MemoryClock(rate), min(vdd, m.signal_gain_ends_mv) - m.nominal_vdd_mv
        signal = (rate - self.weak.signal_rate_mts - m.signal_gain_mts_per_mv * over) / self.weak.signal_sharpness_mts
        floor_ns = self.weak.access_floor_ns - m.access_gain_ns_per_mv * over
        access = (floor_ns - clock.ns(values["t_cl_nck"])) / self.weak.access_sharpness_ns
        too_high = (vdd - self.weak.too_high_vdd_mv) / m.too_high_sharpness_mv
        timings = [
            (floor.ns - floor.gain_ns_per_mv * over - clock.ns(values[name])) / floor.sharpness_ns
            for name, floor in self._floors.items()
            if name in values
        ]
        return (signal, access, too_high, *timings, *self._others(values, clock))

    def _others(self, values: dict[str, int], clock: MemoryClock) -> list[float]:
        """Refresh, supplies and fabric: each where its knob is there."""
        m, found = self._memory, [(self._vdd_floor_mv - values["memory_vdd_mv"]) / c.SUPPLY_SHARPNESS_MV]
        base = next((knob.default for knob in self._knobs if knob.name == "t_refi_nck"), None)
        if "t_refi_nck" in values and isinstance(base, int):
            intervals = clock.ns(values["t_refi_nck"]) / MemoryClock(m.base_mts).ns(base)
            found.append((intervals - self._retention) / c.RETENTION_SHARPNESS)
        if "memory_vddq_mv" in values:
            apart = abs(values["memory_vdd_mv"] - values["memory_vddq_mv"])
            found.append((apart - self._vddq_apart_mv) / c.SUPPLY_SHARPNESS_MV)
        if "memory_vpp_mv" in values:
            found.append((self._vpp_floor_mv - values["memory_vpp_mv"]) / c.SUPPLY_SHARPNESS_MV)
        if "controller_mv" in values:
            asked = self._controller_mv + m.controller_mv_per_mts * (values["data_rate_mts"] - m.base_mts)
            found.append((asked - values["controller_mv"]) / c.SUPPLY_SHARPNESS_MV)
        if "fabric_mhz" in values:
            gain = c.FABRIC_GAIN_MHZ_PER_MV * (values.get("fabric_mv", c.FABRIC_NOMINAL_MV) - c.FABRIC_NOMINAL_MV)
            found.append((values["fabric_mhz"] - self._fabric_mhz - gain) / c.FABRIC_SHARPNESS_MHZ)
        return found

    def log_rate(self, setpoint: Setpoint, load: LoadKind = LoadKind.MARCH) -> float:
        """Natural logarithm of the failure rate per hour under a load."""
        deficits = self.deficits(setpoint)
        worst = max(deficits)
        rate = math.log(sum(math.exp(d - worst) for d in deficits)) + worst
        return rate + math.log(c.EDGE_RATE_PER_H * load.declared.feels.memory_weakness)

    def boot_chance(self, setpoint: Setpoint) -> float:
        """Chance that one training run comes up."""
        beyond = (self.log_rate(setpoint) - self.weak.wall_folds) / c.WALL_SOFTNESS_FOLDS
        return 1.0 / (1.0 + math.exp(min(60.0, max(-60.0, beyond))))

    def hidden_edge(self, setpoint: Setpoint, knob: Knob) -> float:
        """Test door: the strain (in grid steps of the knob) at which the failure rate under ``march`` is the edge's.

        Searched between the grid's ends with the other knobs as in ``setpoint``; beyond an end, that end.
        """
        ends = sorted((knob.strain(knob.grid.first), knob.strain(knob.grid.last)))
        low, high = float(ends[0]), float(ends[1])
        if self._log_rate_at(setpoint, knob, high) < 0:
            return high
        for _ in range(60):
            middle = (low + high) / 2
            if self._log_rate_at(setpoint, knob, middle) < 0:
                low = middle
            else:
                high = middle
        return low

    def _log_rate_at(self, setpoint: Setpoint, knob: Knob, strain: float) -> float:
        """The failure rate between grid values, linear in its logarithm."""
        below = math.floor(strain)
        at = self.log_rate(setpoint.replacing(knob.name, knob.at_strain(below)))
        if strain == below:
            return at
        above = self.log_rate(setpoint.replacing(knob.name, knob.at_strain(below + 1)))
        return at + (above - at) * (strain - below)
