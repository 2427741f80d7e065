"""One simulated machine: its parts, its firmware and its state put together; how fast it fails, boots and runs."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.kinds import LoadKind, Strains
from tenaz.core.parts.fitting import channel_of, fitted_modules
from tenaz.core.rigs.rig import Rig
from tenaz.simulated.addresses import LINE_BYTES, LINES_A_ROW, AddressMap, Rank
from tenaz.simulated.firmware import NOMINAL_VDD_MV, Firmware, Numbers, Values, stacked
from tenaz.simulated.made.parts import draw_module, draw_parts
from tenaz.simulated.physics.constants import k
from tenaz.simulated.physics.feeling import GROUPS, Weak, felt_by
from tenaz.simulated.physics.heat import Heat, Network, module_w
from tenaz.simulated.physics.memory import Column, Memory, Seated
from tenaz.simulated.physics.processor import ACTIVITY, Processor, Running
from tenaz.simulated.physics.speed import Speed, memory_speed
from tenaz.simulated.state import State

if TYPE_CHECKING:
    from tenaz.simulated.made.populations import Manners

SHARED = (Weak.REGION, Weak.ROW_BROKEN, Weak.RETENTION, Weak.DISTURB)
"""Weaknesses of single cells: who goes over half of memory meets half of them."""
START_FEELS = {
    Weak.GRAPHICS: 0.0,
    Weak.GRAPHICS_MEMORY: 0.0,
    Weak.RETENTION: 0.0,
    Weak.DISTURB: 0.0,
    Weak.REGION: 0.0,
    Weak.ROW_BROKEN: 0.0,
    Weak.CORE: 0.4,
}
"""What a start feels of weaknesses; all others as ``march`` does, and what only a start feels."""


@dataclass(frozen=True, slots=True)
class LoadMix:
    """What runs: kinds of load, the share of memory that each goes over (None: none), workers (0: one a core), and the
    cores that work (none: all). ``in_step``: all of it works and rests on shared moments.
    """

    kinds: tuple[LoadKind, ...]
    shares: tuple[float | None, ...] = ()
    workers: int = 0
    cores: tuple[int, ...] = ()
    in_step: bool = False

    @property
    def memory(self) -> bool:
        """Whether modules are kept busy."""
        return any(kind.strains is Strains.MEMORY for kind in self.kinds)


class Machine:
    """Built for one run from a rig as it is fitted now and the state that lives on."""

    def __init__(self, rig: Rig, state: State) -> None:
        self.rig, self.state = rig, state
        self.parts = draw_parts(state.population, state.seed)
        self.manners: Manners = state.population.manners
        self.family = rig.family
        self.firmware = Firmware(rig.knobs, self.family, self.parts)
        self.runs_to_mhz = float(rig.platform.fabric_runs_to_mhz) if rig.platform else 2400.0
        self.seated = _seated(rig, state)
        self.memory = Memory(rig.knobs, self.family, self.parts, self.seated, state, self.runs_to_mhz)
        self.processor = Processor(rig, self.parts, state)
        self.network = Network(self.parts, state, len(self.seated))
        self.columns: tuple[Column, ...] = (*self.memory.columns, *self.processor.columns)
        self._groups = np.array([GROUPS.index(column.weak) for column in self.columns])
        self._core_of = np.array([-1 if column.core is None else column.core for column in self.columns])
        self._shared = np.isin(self._groups, [GROUPS.index(weak) for weak in SHARED])
        self._start = np.array([np.log(max(START_FEELS.get(column.weak, 1.0), 1e-9)) for column in self.columns])
        self.map = AddressMap(_ranks(self.seated), 4 if self.family == "DDR4" else 8)

    # -- values ----------------------------------------

    def values(self, *setpoints: Setpoint) -> Values:
        """Setpoints as the machine works with them."""
        return self.firmware.effective(stacked(setpoints, self.rig.knobs))

    def along(self, setpoint: Setpoint, moved: Mapping[str, Numbers]) -> Values:
        """A setpoint with some knobs moved, as arrays of one length: for lines, fields and many at once."""
        count = max(len(numbers) for numbers in moved.values())
        base = stacked([setpoint], self.rig.knobs)
        whole = {name: np.full(count, numbers[0]) for name, numbers in base.items()}
        return self.firmware.effective({**whole, **moved})

    # -- failing ----------------------------------------

    def log_hazards(
        self, v: Values, strain: LoadMix, die_c: Numbers, modules_c: Numbers, run: Running | None = None
    ) -> NDArray[np.float64]:
        """Natural logarithm of failures an hour by (weakness, setpoint or tick), at given temperatures."""
        lead = leading(strain)
        run = run or self.processor.run(v, lead, die_c, workers=strain.workers)
        memory = self.memory.deficits(v, modules_c, self.state.trained_folds)
        cores = self.processor.deficits(v, run, die_c, _supplied(strain), strain.in_step)
        deficits = self._tailed(_above_each_other(memory, cores))
        deficits += self._cores_at_work(strain)[:, None]
        felt = [self._felt(kind, share) for kind, share in zip(strain.kinds, self._shares(strain), strict=True)]
        deficits += (np.logaddexp.reduce(np.array(felt), axis=0) + np.log(k("edge_rate")))[:, None]
        return deficits

    def _cores_at_work(self, strain: LoadMix) -> NDArray[np.float64]:
        """Of cores that take turns each fails in its own only; those that do not work do not fail."""
        on = [core for core in (strain.cores or self.processor.on) if core in self.processor.on]
        turns = float(np.log(max(1, len(on)))) if leading(strain).declared.takes_turns else 0.0
        working = np.where(np.isin(self._core_of, on), -turns, -2 * k("deepest_folds"))
        return np.where(self._core_of < 0, 0.0, working)

    def _shares(self, strain: LoadMix) -> tuple[float | None, ...]:
        return strain.shares or (None,) * len(strain.kinds)

    def _felt(self, kind: LoadKind, share: float | None) -> NDArray[np.float64]:
        felt: NDArray[np.float64] = felt_by(kind)[self._groups]
        return felt + np.where(self._shared, np.log(max(share, 1e-3)), 0.0) if share is not None else felt

    def _tailed(self, deficits: NDArray[np.float64]) -> NDArray[np.float64]:
        """Below the edge the slope may be flatter than near it."""
        begins, slope = -self.manners.tail_from_folds, self.manners.tail_slope
        if slope == 1.0:
            return deficits
        return np.where(deficits < begins, begins + (deficits - begins) * slope, deficits)

    def log_rates(self, v: Values, strain: LoadMix) -> Numbers:
        """Natural logarithm of all failures an hour, warmed through by the load, by setpoint."""
        die_c, modules_c = self.warmed(v, strain)
        return total(self.log_hazards(v, strain, die_c, modules_c))

    def warmed(self, v: Values, strain: LoadMix) -> tuple[Numbers, Numbers]:
        """Temperatures of die and modules in the long run under a load, in a room as it is on average."""
        lead, room = leading(strain), self.parts["room_c"]
        die = np.full_like(v["rate"], room + 35.0)
        resistance = self.network.cooler_k_per_w + self.parts["die_k_per_w"] + self.network.case_k_per_w
        allowed_w = (self.processor.hottest_c(v) - room) / resistance
        for _ in range(6):
            power = self.processor.run(v, lead, die, workers=strain.workers, allowed_w=allowed_w).package_w
            die = 0.5 * die + 0.5 * (room + resistance * power)
        module = self.module_w(v, strain)
        air = room + self.network.case_k_per_w * power
        own = self.network.module_k_per_w * module
        near = np.array([self.network.neighbours(m) for m in range(len(self.seated))]) * k("module_warms_next")
        return die, (air + own)[..., None] + own[..., None] * near

    def module_w(self, v: Values, strain: LoadMix) -> Numbers:
        """What one module draws."""
        vdd = v.get("memory_vdd_mv", np.full(1, NOMINAL_VDD_MV[self.family]))
        base = 4800.0 if self.family == "DDR5" else 2400.0
        return np.broadcast_to(
            module_w(strain.memory, v["rate"] / base, vdd / NOMINAL_VDD_MV[self.family]), v["rate"].shape
        )

    # -- starting ----------------------------------------

    def start_folds(self, v: Values, die_c: float, modules_c: NDArray[np.float64]) -> Numbers:
        """How far a start is beyond the wall, in e-folds (negative: it comes up)."""
        die, modules = np.full_like(v["rate"], die_c), np.broadcast_to(modules_c, (*v["rate"].shape, len(modules_c)))
        run = self.processor.run(v, LoadKind.MARCH, die)
        memory = self.memory.deficits(v, modules)
        cores = self.processor.deficits(v, run, die, (LoadKind.MARCH,))
        return total(_above_each_other(memory, cores) + self._start[:, None]) - self.parts["wall_folds"]

    def boot_chance(self, v: Values, die_c: float, modules_c: NDArray[np.float64]) -> Numbers:
        """Chance that one start comes up."""
        beyond = self.start_folds(v, die_c, modules_c) / self.manners.wall_softness_folds
        return 1.0 / (1.0 + np.exp(np.clip(beyond, -60.0, 60.0)))

    # -- running ----------------------------------------

    def speed(self, v: Values, strain: LoadMix, die_c: Numbers) -> Speed:
        """Bandwidth, latency and throughput under a load, without noise."""
        channels = len({one.channel for one in self.seated}) or 1
        several = any(sum(o.ranks for o in self.seated if o.channel == one.channel) > 1 for one in self.seated)
        bandwidth, latency = memory_speed(v, self.family, channels, several, self.runs_to_mhz)
        run = self.processor.run(v, leading(strain), die_c, workers=strain.workers)
        cores = 1 if leading(strain).declared.takes_turns else len(self.processor.on)
        return Speed(bandwidth, latency, cores * run.clock_mhz * k("flop_per_clock") / 1000.0)

    def idle_heat(self, now_s: float) -> Heat:
        """Temperatures of the machine at rest."""
        return self.network.settled(now_s, self.processor.idle_w, k("module_idle_w"))

    def heat(self) -> Heat:
        """Temperatures as they are now; of what was never warm, at rest."""
        rest = self.idle_heat(self.state.now_s)
        kept = self.state.modules_c
        modules = [kept.get(one.module.slot, float(c)) for one, c in zip(self.seated, rest.modules_c, strict=True)]
        return Heat(rest.cooler_c if self.state.cooler_c is None else self.state.cooler_c, np.array(modules))

    def keep_heat(self, heat: Heat) -> None:
        """Into the state."""
        self.state.cooler_c = heat.cooler_c
        self.state.modules_c = {one.module.slot: float(c) for one, c in zip(self.seated, heat.modules_c, strict=True)}

    @property
    def memory_bytes(self) -> int:
        """What all modules hold."""
        return sum(one.module.size_bytes or 0 for one in self.seated)


def total(log_rates: NDArray[np.float64]) -> Numbers:
    """The logarithm of the sum of rates over weaknesses."""
    return np.asarray(np.log(np.exp(log_rates).sum(axis=0)))


def _above_each_other(*deficits: NDArray[np.float64]) -> NDArray[np.float64]:
    """Weaknesses of memory and of the processor in one array, none deeper than makes a difference."""
    both = np.broadcast_shapes(*(one.shape[1:] for one in deficits))
    found = np.concatenate([np.broadcast_to(one, (len(one), *both)) for one in deficits])
    return np.clip(found, -k("deepest_folds"), k("deepest_folds"), out=found)


def leading(strain: LoadMix) -> LoadKind:
    """Of loads side by side the one that makes most heat."""
    return max(strain.kinds, key=ACTIVITY.__getitem__)


def _supplied(strain: LoadMix) -> tuple[LoadKind, ...]:
    """The kinds whose steps and draughts the supply feels: of loads side by side the leading one, and the cards'."""
    lead = leading(strain)
    return (lead, *(kind for kind in strain.kinds if kind.declared.on_cards and kind is not lead))


def _seated(rig: Rig, state: State) -> tuple[Seated, ...]:
    slots = [module.slot for module in rig.machine.modules] if rig.machine else []
    channels, found = list[str](), list[Seated]()
    for module in fitted_modules(rig):
        if module.slot in state.unseen:
            continue
        channel = channel_of(module)
        if channel not in channels:
            channels.append(channel)
        place = slots.index(module.slot) if module.slot in slots else len(found)
        parts = draw_module(state.population, state.seed, module)
        found.append(Seated(module, parts, place, channels.index(channel)))
    return tuple(found)


def _ranks(seated: Sequence[Seated]) -> tuple[Rank, ...]:
    """Ranks in whole rows of all banks."""
    block = LINES_A_ROW * 32
    return tuple(
        Rank(m, rank, one.channel, (one.module.size_bytes or 0) // one.ranks // LINE_BYTES // block * block)
        for m, one in enumerate(seated)
        for rank in range(one.ranks)
    )
