"""The machine inside the simulated rig: what it hides, and how it fails. The same seed gives the same machine."""

import math
import random
from dataclasses import dataclass

from tenaz.benches.simulated import constants as c
from tenaz.core.knobs import Knob
from tenaz.core.setpoints import Setpoint


@dataclass(frozen=True, slots=True)
class Weaknesses:
    """What one machine's parts can do; drawn once from its seed."""

    signal_rate_mts: float
    signal_sharpness_mts: float
    access_floor_ns: float
    access_sharpness_ns: float
    too_high_vdd_mv: float
    wall_folds: float


def draw_weaknesses(seed: int) -> Weaknesses:
    """The machine that belongs to a seed."""
    draw = random.Random(f"parts:{seed}")
    return Weaknesses(
        signal_rate_mts=draw.gauss(c.SIGNAL_RATE_MTS, c.SIGNAL_RATE_SPREAD_MTS),
        signal_sharpness_mts=draw.uniform(*c.SIGNAL_SHARPNESS_MTS),
        access_floor_ns=draw.gauss(c.ACCESS_FLOOR_NS, c.ACCESS_FLOOR_SPREAD_NS),
        access_sharpness_ns=draw.uniform(*c.ACCESS_SHARPNESS_NS),
        too_high_vdd_mv=draw.gauss(c.TOO_HIGH_VDD_MV, c.TOO_HIGH_VDD_SPREAD_MV),
        wall_folds=draw.uniform(*c.WALL_FOLDS),
    )


class Machine:
    """Failure rates of one machine at any setpoint of data rate, tCL and memory VDD."""

    def __init__(self, seed: int) -> None:
        self.weak = draw_weaknesses(seed)

    def deficits(self, setpoint: Setpoint) -> tuple[float, ...]:
        """By how many e-folds each weakness is beyond its edge (negative: margin left)."""
        rate, vdd = setpoint["data_rate_mts"], setpoint["memory_vdd_mv"]
        over = min(vdd, c.SIGNAL_GAIN_ENDS_MV) - c.NOMINAL_VDD_MV
        signal = (rate - self.weak.signal_rate_mts - c.SIGNAL_GAIN_MTS_PER_MV * over) / self.weak.signal_sharpness_mts
        # n clocks last n·2000/R ns (JEDEC: the clock is half the data rate).
        access_ns = setpoint["t_cl_nck"] * 2000.0 / rate
        floor_ns = self.weak.access_floor_ns - c.ACCESS_GAIN_NS_PER_MV * over
        access = (floor_ns - access_ns) / self.weak.access_sharpness_ns
        too_high = (vdd - self.weak.too_high_vdd_mv) / c.TOO_HIGH_SHARPNESS_MV
        return signal, access, too_high

    def log_rate(self, setpoint: Setpoint, load: str = "march") -> float:
        """Natural logarithm of the failure rate per hour under a load."""
        deficits = self.deficits(setpoint)
        worst = max(deficits)
        rate = math.log(sum(math.exp(d - worst) for d in deficits)) + worst
        return rate + math.log(c.EDGE_RATE_PER_H * c.STRAIN_OF_LOAD[load])

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
