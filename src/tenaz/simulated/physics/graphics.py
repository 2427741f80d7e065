"""The simulated graphics card: its clocks, what it draws, how warm it gets, and how far it is beyond its edges."""

from collections.abc import Iterable

import numpy as np

from tenaz.core.loads.kinds import LoadKind
from tenaz.core.rigs.rig import Rig
from tenaz.simulated.firmware import Numbers, Values
from tenaz.simulated.made.parts import Parts
from tenaz.simulated.physics.feeling import Weak
from tenaz.simulated.physics.memory import Column

CORE_OFFSET, MEMORY_OFFSET = "graphics_core_offset_mhz", "graphics_memory_offset_mhz"
POWER_LIMIT, HEAT_LIMIT = "graphics_power_limit_pct", "graphics_temperature_limit_c"
USUAL_W = 180.0
"""What it draws at its usual limits."""
USUAL_LIMIT_C = 83.0
CORE_MHZ, MEMORY_MHZ, MEMORY_BYTES = 1900.0, 9000.0, 8 << 30
ACTIVITY = {LoadKind.PAINT: 0.95, LoadKind.SHADE: 1.0, LoadKind.VRAM: 0.62, LoadKind.PROGRAM: 1.0}
"""Part of its usual power that a load has it draw; nothing else has it work."""
IDLE_PART = 0.08
AIR_OVER_ROOM_K, K_PER_W, WARMS_S = 9.0, 0.27, 95.0
STILL_BELOW_C, FAN_RPM, FAN_RPM_PER_K = 52.0, 900.0, 34.0
RATES = {LoadKind.PAINT: 2600.0, LoadKind.SHADE: 8400.0, LoadKind.VRAM: 372.0}
"""At its usual clocks, in each kind's unit."""
REPEATS_BEFORE_MHZ, REPEATS_PART = 120.0, 0.14
"""So far before its memory fails, transfers are repeated, and it gets slower: that part for each such stretch."""
LAP_S = 1.0
VRAM_PASSES = 140.0
CORE_SHARPNESS_MHZ, MEMORY_SHARPNESS_MHZ = 9.0, 45.0


class GraphicsCard:
    """The card of a rig that has knobs for one."""

    def __init__(self, rig: Rig, parts: Parts) -> None:
        self._parts = parts
        self.fitted = any(knob.name == CORE_OFFSET for knob in rig.knobs)
        self.columns = (Column(Weak.GRAPHICS), Column(Weak.GRAPHICS_MEMORY)) if self.fitted else ()

    def deficits(self, v: Values) -> tuple[Numbers, Numbers]:
        """By how many e-folds core and memory are beyond their edges: more power and more heat take of the core's."""
        power, heat = _or(v, POWER_LIMIT, 100.0), _or(v, HEAT_LIMIT, USUAL_LIMIT_C)
        warmer = 0.8 * (power - 100.0) + 0.6 * (heat - USUAL_LIMIT_C)
        core = _or(v, CORE_OFFSET, 0.0) - self._parts["graphics_core_mhz"] + warmer
        memory = _or(v, MEMORY_OFFSET, 0.0) - self._parts["graphics_memory_mhz"]
        return core / CORE_SHARPNESS_MHZ, memory / MEMORY_SHARPNESS_MHZ

    def drawn_w(self, v: Values, kinds: Iterable[LoadKind]) -> Numbers:
        """What it draws under loads: by their limits of power and of heat."""
        busy = min(1.1, sum(ACTIVITY.get(kind, 0.0) for kind in kinds))
        part = _or(v, POWER_LIMIT, 100.0) / 100.0
        warmer = _or(v, HEAT_LIMIT, USUAL_LIMIT_C) - USUAL_LIMIT_C
        return USUAL_W * part * (1.0 + 0.012 * warmer) * (busy if self.fitted else 0.0)

    def card_c(self, v: Values, drawn_w: float, room_c: float, at_s: float) -> float:
        """How warm it is, so many seconds into a load; it holds itself at its limit."""
        watts = max(drawn_w, IDLE_PART * USUAL_W)
        warm = room_c + AIR_OVER_ROOM_K + K_PER_W * watts * (1.0 - float(np.exp(-at_s / WARMS_S)))
        return min(warm, float(_or(v, HEAT_LIMIT, USUAL_LIMIT_C)[0]))

    @staticmethod
    def fan_rpm(card_c: float) -> float:
        """How fast its fans turn; they stand while it is cool."""
        return 0.0 if card_c < STILL_BELOW_C else FAN_RPM + FAN_RPM_PER_K * (card_c - STILL_BELOW_C)

    @staticmethod
    def clocks_mhz(v: Values, busy: bool) -> tuple[float, float]:
        """Of its core and of its memory."""
        if not busy:
            return 300.0, 405.0
        limit = float(np.sqrt(_or(v, POWER_LIMIT, 100.0)[0] / 100.0))
        core = (CORE_MHZ + float(_or(v, CORE_OFFSET, 0.0)[0])) * min(1.0, limit)
        return core, MEMORY_MHZ + float(_or(v, MEMORY_OFFSET, 0.0)[0])

    def rate(self, v: Values, kind: LoadKind) -> float:
        """In the kind's unit."""
        core, memory = self.clocks_mhz(v, busy=True)
        if kind is not LoadKind.VRAM:
            return RATES[kind] * core / CORE_MHZ
        beyond = memory - MEMORY_MHZ - self._parts["graphics_memory_mhz"] + REPEATS_BEFORE_MHZ
        repeats = REPEATS_PART * max(0.0, beyond) / REPEATS_BEFORE_MHZ
        return RATES[kind] * memory / MEMORY_MHZ * max(0.2, 1.0 - repeats)

    def lap_s(self, v: Values, kind: LoadKind, share: float, size_bytes: int | None) -> float:
        """Seconds of a lap."""
        if kind is not LoadKind.VRAM:
            return LAP_S
        size = size_bytes if size_bytes is not None else share * MEMORY_BYTES
        return max(0.01, VRAM_PASSES * size / (self.rate(v, kind) * 1e9))


def _or(v: Values, name: str, otherwise: float) -> Numbers:
    """Typed values, and where they are automatic or not there, what is usual."""
    numbers = v.get(name)
    if numbers is None:
        return np.full(1, otherwise)
    return np.where(np.isnan(numbers), otherwise, numbers)
