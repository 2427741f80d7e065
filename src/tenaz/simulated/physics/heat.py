"""Heat in the simulated machine: a first-order network from power through die, cooler, air and room; modules apart."""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tenaz.simulated.firmware import Numbers
from tenaz.simulated.made.faults import FaultKind
from tenaz.simulated.made.parts import Parts
from tenaz.simulated.physics.constants import k
from tenaz.simulated.state import State

DUST = 3.1
"""Times the resistance of a clean cooler."""


@dataclass(slots=True)
class Heat:
    """Temperatures at one moment, in °C: cooler, and modules in the order of their slots."""

    cooler_c: float
    modules_c: NDArray[np.float64]


class Network:
    """The resistances and time constants of one machine, and the room that it stands in."""

    def __init__(self, parts: Parts, state: State, modules: int) -> None:
        self._parts, self._state, self._modules = parts, state, modules
        dust = state.fault(FaultKind.COOLER)
        self.module_k_per_w = k("module_k_per_w") * (k("fan_part") if state.care.fan else 1.0)
        self.case_k_per_w = k("case_k_per_w") * (k("fan_part") if state.care.fan else 1.0)
        self.cooler_k_per_w = parts["cooler_k_per_w"] * (1.0 if dust is None else 1 + (DUST - 1) * dust.strength)

    def room_c(self, now_s: float) -> float:
        """The room's temperature: it drifts over a day."""
        hour = self._state.begun_utc.hour + self._state.begun_utc.minute / 60 + now_s / 3600
        return self._parts["room_c"] + k("room_swing") * math.cos((hour - k("room_warmest")) / 24 * 2 * math.pi)

    def air_c(self, now_s: float, package_w: float) -> float:
        """The air in the case."""
        return self.room_c(now_s) + self.case_k_per_w * package_w

    def die_c(self, heat: Heat, package_w: float) -> float:
        """The die: it follows the cooler at once."""
        return heat.cooler_c + self._parts["die_k_per_w"] * package_w

    def settled(self, now_s: float, package_w: float, module_w: float) -> Heat:
        """Where it all ends under a steady power."""
        air = self.air_c(now_s, package_w)
        own = self.module_k_per_w * module_w
        near = np.array([self.neighbours(m) for m in range(self._modules)]) * k("module_warms_next") * own
        return Heat(air + self.cooler_k_per_w * package_w, air + own + near)

    def neighbours(self, module: int) -> int:
        """How many modules warm one."""
        return (module > 0) + (module < self._modules - 1)

    def step(self, heat: Heat, seconds: float, now_s: float, package_w: float, module_w: float) -> Heat:
        """So many seconds later."""
        end = self.settled(now_s, package_w, module_w)
        cooler_kept = math.exp(-seconds / self._parts["cooler_s"])
        module_kept = math.exp(-seconds / k("module_s"))
        return Heat(
            end.cooler_c + (heat.cooler_c - end.cooler_c) * cooler_kept,
            end.modules_c + (heat.modules_c - end.modules_c) * module_kept,
        )


def module_w(busy: bool, rate_part: Numbers | float, volts_part: Numbers | float) -> Numbers | float:
    """What a module draws: refresh always, and the bus when it is kept busy."""
    load = k("module_load_w") * rate_part * volts_part**2 if busy else 0.0
    return k("module_idle_w") + load
