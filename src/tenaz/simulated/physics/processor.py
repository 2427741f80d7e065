"""The simulated cores, their supply and graphics: clock, voltages, power, and how far each is beyond its edge."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tenaz.core.loads.kinds import LoadKind
from tenaz.core.rigs.rig import Rig
from tenaz.simulated.firmware import Numbers, Values
from tenaz.simulated.made.faults import FaultKind
from tenaz.simulated.made.parts import Parts
from tenaz.simulated.physics.constants import k
from tenaz.simulated.physics.feeling import Weak
from tenaz.simulated.physics.graphics import GraphicsCard
from tenaz.simulated.physics.memory import Column
from tenaz.simulated.state import State

POWER_TO_CLOCK = 0.45
"""A limit that allows a part of the power leaves about that power of it of the clock: V² f, with V falling along."""

ACTIVITY = {
    LoadKind.MARCH: 0.42, LoadKind.CHECKER: 0.42, LoadKind.PERMUTE: 0.28, LoadKind.COPY: 0.38, LoadKind.RETAIN: 0.05,
    LoadKind.DISTURB: 0.22, LoadKind.TRANSFORM: 1.0, LoadKind.SOLVE: 0.92, LoadKind.DIGEST: 0.62, LoadKind.PULSE: 0.5,
    LoadKind.SOLO: 1.0, LoadKind.PROGRAM: 0.5, LoadKind.PAINT: 0.07, LoadKind.SHADE: 0.05, LoadKind.VRAM: 0.05,
}  # fmt: skip
"""How much of a core switches, against a transform."""

SAGS_AT = 1.03
"""A sagging supply drops out at so many times what all cores draw at their usual clock."""
SUPPLY_SHARPNESS = 0.05
"""Part of a supply's power over which failures grow e-fold."""
THINNER = 2.2
"""How fast the maker's guard gets thinner above the clock of all cores, by relative clock."""
STEP_PART = 0.6
"""A step of the load asks for so much more of the supply for a moment."""
SLOW_STEP_PART, CARD_STEP_PART = 0.3, 0.1
"""The same where all of a machine works in step, more slowly: of the package, and of the card."""
WEAK_CORE_PART = 0.62
"""What a weak core needs more, as a part of the maker's guard."""


@dataclass(frozen=True, slots=True)
class Running:
    """How the cores run: clock reached in MHz, voltage at the core in mV (steady, and in the deepest dip), power of the
    package in W, and whether temperature or power hold them back.
    """

    clock_mhz: Numbers
    steady_mv: Numbers
    least_mv: Numbers
    package_w: Numbers
    throttled: NDArray[np.bool_]


class Processor:
    """All cores of a machine, with graphics beside them."""

    def __init__(self, rig: Rig, parts: Parts, state: State) -> None:
        self._parts, self._state = parts, state
        self.cores = rig.cores or 4
        off = state.care.cores_off
        self.on = tuple(core for core in range(self.cores) if core not in off)
        """The cores that are not switched off."""
        machine = rig.machine
        self.base_mhz = float((machine.base_mhz if machine else None) or 3600)
        self.single_mhz = float((machine.highest_mhz if machine else None) or self.base_mhz * 1.4)
        self.all_mhz = self.base_mhz + parts["all_core_part"] * (self.single_mhz - self.base_mhz)
        self.card = GraphicsCard(rig, parts)
        self.columns = self._columns()
        self._needs_mv = parts["core_mv"] + parts.cores_mv[: self.cores] + state.worn_mv
        for fault in state.faults_of(FaultKind.CORE):
            self._needs_mv[int(fault.where) % self.cores] += WEAK_CORE_PART * parts["vid_guard_mv"] * fault.strength

    @property
    def idle_w(self) -> float:
        """What the package draws at rest."""
        return self._parts["core_w"] * k("idle_part") * self.cores + 10.0

    @property
    def full_w(self) -> float:
        """What it draws with all cores in transforms, warm."""
        p = self._parts
        return (p["core_w"] + p["core_leak_w"]) * self.cores * 1.08 + self._uncore_w

    @property
    def _uncore_w(self) -> float:
        return k("uncore_w") * min(1.0, self._parts["core_w"] / 8.0)

    def _columns(self) -> tuple[Column, ...]:
        found = [Column(Weak.CORE, core=core) for core in range(self.cores)] + [Column(Weak.SUPPLY)]
        return (*found, *self.card.columns)

    # -- running ----------------------------------------

    def hottest_c(self, v: Values) -> float:
        """The temperature at which it holds itself back."""
        return float(np.ravel(_or(v.get("temperature_limit_c"), 95.0))[0])

    def run(
        self,
        v: Values,
        kind: LoadKind,
        die_c: Numbers,
        first_seconds: bool = False,
        workers: int = 0,
        allowed_w: Numbers | float = np.inf,
    ) -> Running:
        """How the cores run under a load at temperatures of the die, with the power that its heat allows."""
        p, alone = self._parts, kind.declared.takes_turns
        busy = 1 if alone else min(workers or len(self.on), len(self.on))
        bclk = _or(v.get("base_clock_khz"), 100_000.0) / 100_000
        usual = self.single_mhz if alone else self.all_mhz
        ratio = v.get("core_ratio", np.full(1, np.nan))
        wanted = np.where(np.isnan(ratio), usual, ratio * 100.0) * bclk
        limit_w = np.minimum(self._limit(v, "short_power_limit_w" if first_seconds else "power_limit_w"), allowed_w)
        clock, floor = wanted, k("clock_floor") * self.base_mhz
        for _ in range(3):
            asked = self._asked_mv(v, clock)
            power = self._power(clock, asked, busy, kind, die_c)
            amps = power / np.maximum(asked, 1.0) * 1000.0
            over = np.maximum(power / limit_w, amps / self._limit(v, "current_limit_a"))
            clock = np.maximum(np.minimum(clock * over ** (-POWER_TO_CLOCK), wanted), floor)
        asked = self._asked_mv(v, clock)
        power = self._power(clock, asked, busy, kind, die_c)
        steady = asked - self._droop_mv(v, power, asked)
        dip = p["droop_step_mv"] if kind is LoadKind.PULSE else p["droop_mv"]
        return Running(clock, steady, steady - dip, power, clock < 0.985 * wanted)

    def _limit(self, v: Values, name: str) -> Numbers:
        usual = self._parts[name] if name != "current_limit_a" else self._parts["power_limit_w"] * 1.6
        return np.maximum(_or(v.get(name), usual), 5.0)

    def _asked_mv(self, v: Values, clock: Numbers) -> Numbers:
        """What the processor asks its regulator for: by its own table, or as typed; with the offset."""
        p = self._parts
        relative = clock / self.all_mhz
        # The maker sells the last of the clock with less in hand.
        guard = p["vid_guard_mv"] * np.clip(1.0 - THINNER * np.maximum(0.0, relative - 1.0), 0.2, 1.0)
        table = p["core_mv"] * shape(relative) + guard
        asked = _or(v.get("core_voltage_mv"), table)
        told: Numbers = asked + _or(v.get("core_offset_mv"), 0.0)
        return told

    def _droop_mv(self, v: Values, power: Numbers, asked: Numbers) -> Numbers:
        step = _or(v.get("load_line_step"), k("load_line_auto"))
        mohm = k("load_line_least") + k("load_line_step") * (8.0 - step)
        droop: Numbers = mohm * power / np.maximum(asked, 1.0) * 1000.0
        return droop

    def _power(self, clock: Numbers, asked: Numbers, busy: int, kind: LoadKind, die_c: Numbers) -> Numbers:
        p, idle = self._parts, len(self.on) - busy
        volts = (asked / 1100.0) ** 2
        switching = p["core_w"] * volts * clock / self.all_mhz * (busy * ACTIVITY[kind] + idle * k("idle_part"))
        leak = p["core_leak_w"] * len(self.on) * volts * 2.0 ** ((die_c - 60.0) / k("leak_doubles"))
        power: Numbers = switching + np.minimum(leak, 400.0) + self._uncore_w
        return power

    # -- failing ----------------------------------------

    def deficits(
        self, v: Values, run: Running, die_c: Numbers, kinds: Sequence[LoadKind], in_step: bool = False
    ) -> NDArray[np.float64]:
        """By how many e-folds each core, the supply and graphics are beyond their edges, under loads of these kinds."""
        relative = shape(run.clock_mhz / self.all_mhz)
        warmer = k("vmin_per_k") * (die_c - 60.0)
        both = np.broadcast_shapes(relative.shape, v["rate"].shape)
        found = np.empty((len(self.columns), *both))
        for core in range(self.cores):
            offset = _or(v.get(f"core_{core}_offset_steps"), 0.0) * k("offset_step")
            needs = self._needs_mv[core] * relative + warmer
            off = core in self._state.care.cores_off
            found[core] = -k("deepest_folds") if off else (needs - run.least_mv - offset) / k("core_sharpness")
        found[self.cores] = self._supply(v, run, kinds, in_step)
        if self.card.fitted:
            found[self.cores + 1], found[self.cores + 2] = self.card.deficits(v)
        return found

    def _supply(self, v: Values, run: Running, kinds: Sequence[LoadKind], in_step: bool) -> Numbers:
        sags = [self._state.fault(kind) for kind in (FaultKind.SUPPLY, FaultKind.REGULATOR)]
        holds_w = min(
            [self._parts["supply_w"], *(SAGS_AT * self.full_w / one.strength for one in sags if one is not None)]
        )
        stepped = 1.0 + (STEP_PART if LoadKind.PULSE in kinds else SLOW_STEP_PART if in_step else 0.0)
        card = 1.0 + (CARD_STEP_PART if in_step else 0.0)
        drawn = stepped * run.package_w + card * self.card.drawn_w(v, kinds)
        return (drawn - holds_w) / (SUPPLY_SHARPNESS * holds_w)


def shape(relative: Numbers) -> Numbers:
    """Least voltage by clock, 1 at the clock of all cores: it rises faster than the clock does."""
    return k("vmin_flat") + k("vmin_linear") * relative + k("vmin_cubic") * relative**3


def _or(numbers: Numbers | None, otherwise: Numbers | float) -> Numbers:
    """Typed values, and where they are automatic or not there, what is chosen instead."""
    if numbers is None:
        return np.asarray(otherwise, dtype=float) if not isinstance(otherwise, np.ndarray) else otherwise
    return np.where(np.isnan(numbers), otherwise, numbers)
