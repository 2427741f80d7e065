"""The simulated memory: by how many e-folds each weakness is beyond its edge (negative: margin left)."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.machine.machine import MemoryModule
from tenaz.core.parts.fitting import channel_of
from tenaz.simulated.firmware import BASE_MTS, BURST_NCK, NOMINAL_VDD_MV, Numbers, Values
from tenaz.simulated.made.faults import Fault, FaultKind
from tenaz.simulated.made.parts import ModuleParts, Parts
from tenaz.simulated.physics.constants import k
from tenaz.simulated.physics.feeling import Weak
from tenaz.simulated.physics.timings import FLOORS, GAPS, REFRESH_OF
from tenaz.simulated.state import State

FAULT_FOLDS = {Weak.REGION: -0.4, Weak.ROW_BROKEN: 1.3, Weak.LANE: -0.3, Weak.SLOT: 0.2, Weak.CONTACT: 2.2,
               Weak.CONTROLLER: -0.2}  # fmt: skip
"""Hazard of each faulty part at stock, where its conditions are met, as a natural logarithm of failures an hour."""
UNKNOWN_NCK = 1000.0
"""A latency that nobody knows is one that holds."""
FAULTY = {
    FaultKind.REGION: Weak.REGION,
    FaultKind.ROW: Weak.ROW_BROKEN,
    FaultKind.LANE: Weak.LANE,
    FaultKind.SLOT: Weak.SLOT,
    FaultKind.CONTACT: Weak.CONTACT,
    FaultKind.CHANNEL: Weak.SLOT,
    FaultKind.CONTROLLER: Weak.CONTROLLER,
}


@dataclass(frozen=True, slots=True)
class Seated:
    """A module in its slot; ``place`` counts slots."""

    module: MemoryModule
    parts: ModuleParts
    place: int
    channel: int

    @property
    def ranks(self) -> int:
        """How many ranks it has."""
        return self.module.ranks or 1


@dataclass(frozen=True, slots=True)
class Column:
    """One weakness: its kind, the module (number among those seated) and rank, the knob or the fault behind it."""

    weak: Weak
    module: int | None = None
    rank: int = 0
    knob: str = ""
    core: int | None = None


class Memory:
    """All modules of a machine. ``deficits`` gives arrays of (columns, setpoints)."""

    def __init__(
        self,
        knobs: tuple[Knob, ...],
        family: Family,
        parts: Parts,
        seated: tuple[Seated, ...],
        state: State,
        runs_to_mhz: float,
    ) -> None:
        self._family, self._parts, self.seated, self._state = family, parts, seated, state
        self._runs_to_mhz = runs_to_mhz
        self._base, self._nominal_mv = BASE_MTS[family], NOMINAL_VDD_MV[family]
        self._defaults = {knob.name: float(knob.default) for knob in knobs if isinstance(knob.default, int)}
        self._timings = [name for name in FLOORS if name in self._defaults]
        self._ranked = [(m, rank) for m, one in enumerate(seated) for rank in range(one.ranks)]
        self._gaps = [name for name in GAPS if any(knob.name == name for knob in knobs)]
        self.columns = self._columns()

    def _columns(self) -> tuple[Column, ...]:
        found = [Column(weak, m) for weak in (Weak.SIGNAL, Weak.COMMAND) for m in range(len(self.seated))]
        found += [Column(Weak.ACCESS, m, rank, "t_cl_nck") for m, rank in self._ranked]
        for name in self._timings:
            found += [Column(FLOORS[name][3], m, rank, name) for m, rank in self._ranked]
        found += [Column(GAPS[name][0], None, 0, name) for name in self._gaps]
        for weak in (Weak.RETENTION, Weak.DISTURB):
            found += [Column(weak, m) for m in range(len(self.seated))]
        found += [Column(Weak.CELLS, m, 0, name) for name in ("vdd", "vpp") for m in range(len(self.seated))]
        found += [Column(Weak.LEVELS), Column(Weak.CONTROLLER), Column(Weak.IO), Column(Weak.FABRIC)]
        found += [Column(Weak.START, None, 0, name) for name in ("memory_vdd_mv", "controller_mv", "io_mv")]
        return (*found, *(Column(weak, m, 0, fault.kind) for weak, fault, m in self._faults()))

    def _faults(self) -> list[tuple[Weak, Fault, int | None]]:
        """Each faulty part with the modules that it is felt on; None: on none, or, of a controller, on any."""
        found = list[tuple[Weak, Fault, int | None]]()
        for kind, weak in FAULTY.items():
            for fault in self._state.faults_of(kind):
                if kind is FaultKind.CHANNEL:
                    on: list[int | None] = [
                        m for m, one in enumerate(self.seated) if channel_of(one.module) == fault.where
                    ]
                    found += [(weak, fault, m) for m in on or [None]]
                else:
                    found.append((weak, fault, self._module_of(fault.where, kind)))
        return found

    def _module_of(self, where: str, kind: FaultKind) -> int | None:
        """The module that a fault is about: by its serial, or whichever sits in the slot."""
        for m, one in enumerate(self.seated):
            if where == (one.module.slot if kind.where == "slot" else one.module.serial):
                return m
        return None

    def deficits(self, v: Values, modules_c: Numbers, trained_folds: float = 0.0) -> NDArray[np.float64]:
        """By effective values and the temperatures of the modules, (setpoints or ticks, modules)."""
        p, rate = self._parts, v["rate"]
        t_ck_ns = 2000.0 / rate
        vdd = v.get("memory_vdd_mv", np.array([self._nominal_mv]))
        vddq = v.get("memory_vddq_mv", vdd)
        ends = p["signal_gain_ends_mv"]
        over = np.minimum(vdd, ends) - self._nominal_mv
        drive_over = k("vddq_part") * (np.minimum(vddq, ends) - self._nominal_mv) + (1 - k("vddq_part")) * over
        parts = [*self._signal(v, rate, drive_over, trained_folds)]
        parts += self._times(v, t_ck_ns, over)
        parts += [
            (floor - v[name] * t_ck_ns) / (0.04 * floor) if name in v else np.array([-k("deepest_folds")])
            for name, floor in self._gap_floors(t_ck_ns)
        ]
        parts += self._cells(v, t_ck_ns, modules_c, vdd)
        parts += self._supplies(v, rate, vdd, vddq)
        parts += self._faulty(rate, modules_c)
        shape = np.broadcast_shapes(rate.shape, modules_c.shape[:1])
        found = np.empty((len(parts), *shape))
        for place, one in enumerate(parts):
            found[place] = one
        return found

    # -- signal ----------------------------------------

    def _signal(self, v: Values, rate: Numbers, over: Numbers, trained_folds: float) -> list[Numbers]:
        p, found = self._parts, list[Numbers]()
        detuned = np.zeros(1)
        for name in ("drive_ohm", "termination_ohm", "processor_drive_ohm"):
            if name in v:
                octaves = np.log2(np.where(np.isnan(v[name]), p[name], v[name]) / p[name])
                detuned = detuned + k("detuned_mts") * octaves**2
        sharp = p["signal_sharpness_mts"]
        limits = []
        for one in self.seated:
            limit = p["signal_mts"] + one.parts.signal_mts + float(p_slot(p, one.place))
            limit += (one.ranks - 1) * p["rank_mts"] + (p["second_module_mts"] if self._shared(one) else 0.0)
            limits.append(limit)
            reach = limit + p["signal_gain_mts_per_mv"] * over - detuned
            found.append((rate - reach) / sharp + trained_folds)
        command = v.get("command_rate_nck", np.array([2.0]))
        step = p["command_2_mts"] - p["command_1_mts"]
        for limit in limits:
            reach = p["command_1_mts"] + (command - 1) * step + 0.5 * (limit - p["signal_mts"])
            found.append((rate - reach) / sharp)
        return found

    def _shared(self, one: Seated) -> bool:
        """Whether its channel holds more than one module."""
        return sum(other.channel == one.channel for other in self.seated) > 1

    # -- times ----------------------------------------

    def _times(self, v: Values, t_ck_ns: Numbers, over: Numbers) -> list[Numbers]:
        p, found = self._parts, list[Numbers]()
        latency = v.get("t_cl_nck", np.array([self._defaults.get("t_cl_nck", UNKNOWN_NCK)])) * t_ck_ns
        for m, rank in self._ranked:
            floor = p["access_floor_ns"] + self.seated[m].parts.access_ns[rank] - p["access_gain_ns_per_mv"] * over
            found.append((floor - latency) / p["access_sharpness_ns"])
        fineness = v.get("refresh_fineness", np.array([1.0]))
        for place, name in enumerate(FLOORS):
            if name not in self._defaults:
                continue
            mean, _, falls, weak = FLOORS[name]
            standard_ns = self._defaults[name] * 2000.0 / self._base
            shared = mean * p["floors_part"] * float(p.floors[place])
            sharp = standard_ns * (k("refresh_trc_part") if weak is Weak.REFRESH else p["timing_sharpness_part"])
            used = np.zeros(1)
            if name in REFRESH_OF:
                used = np.where(np.isin(fineness, REFRESH_OF[name]), 0.0, -k("deepest_folds"))
            for m, rank in self._ranked:
                of_module = standard_ns * shared * float(self.seated[m].parts.floors[rank, place])
                floor_ns = of_module * (1 - falls * k("floor_gain") * over)
                found.append((floor_ns - v[name] * t_ck_ns) / sharp + used)
        return found

    def _gap_floors(self, t_ck_ns: Numbers) -> list[tuple[str, Numbers]]:
        """The least of each gap in ns; another rank asks nothing where a channel has only one."""
        burst, found = BURST_NCK[self._family], list[tuple[str, Numbers]]()
        several = any(self._ranks_on(one.channel) > 1 for one in self.seated)
        for name in self._gaps:
            weak, ns = GAPS[name]
            floor = burst * t_ck_ns + ns
            found.append((name, floor if weak is Weak.TURN or several else np.full_like(floor, 1e-3)))
        return found

    def _ranks_on(self, channel: int) -> int:
        return sum(one.ranks for one in self.seated if one.channel == channel)

    # -- cells and supplies ----------------------------------------

    def _cells(self, v: Values, t_ck_ns: Numbers, modules_c: Numbers, vdd: Numbers) -> list[Numbers]:
        p, found = self._parts, list[Numbers]()
        base_ns = self._defaults.get("t_refi_nck", 9360.0) * 2000.0 / self._base
        intervals = v["t_refi_nck"] * t_ck_ns / base_ns if "t_refi_nck" in v else np.ones(1)
        for m, one in enumerate(self.seated):
            warmer = (modules_c[..., m] - k("retention_at_c")) / k("retention_half") * np.log(2.0)
            held = np.log(p["retention_intervals"]) + one.parts.retention
            found.append((np.log(intervals) + warmer - held) / k("retention_sharpness"))
        for m, one in enumerate(self.seated):
            warmer = 0.15 * (modules_c[..., m] - k("retention_at_c")) / k("retention_half")
            begins = np.log(p["disturb_intervals"]) + one.parts.disturb
            found.append((np.log(intervals) + warmer - begins) / k("disturb_sharpness"))
        sharp = k("supply_sharpness")
        found += [(p["vdd_floor_mv"] + one.parts.vdd_mv - vdd) / sharp for one in self.seated]
        vpp = v.get("memory_vpp_mv", np.array([p["vpp_floor_mv"] + 100.0]))
        found += [(p["vpp_floor_mv"] + one.parts.vpp_mv - vpp) / sharp for one in self.seated]
        return found

    def _supplies(self, v: Values, rate: Numbers, vdd: Numbers, vddq: Numbers) -> list[Numbers]:
        p, sharp, far = self._parts, k("supply_sharpness"), np.array([-k("deepest_folds")])
        more = rate - self._base
        ratio = v.get("controller_ratio", np.array([1.0]))
        asked = p["controller_mv"] + p["controller_mv_per_mts"] * more * np.where(ratio > 1, k("controller_half"), 1.0)
        io_asked = p["io_mv"] + p["io_mv_per_mts"] * more
        fabric = far
        if "fabric_mhz" in v:
            mhz = fabric_mhz(v, rate, ratio, self._runs_to_mhz)
            gain = k("fabric_gain") * (v.get("fabric_mv", np.array([k("fabric_nominal")])) - k("fabric_nominal"))
            fabric = (mhz - p["fabric_mhz"] - gain) / k("fabric_sharpness")
        return [
            (np.abs(vdd - vddq) - p["vddq_apart_mv"]) / sharp if "memory_vddq_mv" in v else far,
            (asked - v["controller_mv"]) / sharp if "controller_mv" in v else far,
            (io_asked - v["io_mv"]) / k("io_sharpness") if "io_mv" in v else far,
            fabric,
            (vdd - p["vdd_too_high_mv"]) / sharp + p["wall_folds"],
            (v["controller_mv"] - p["controller_too_high_mv"]) / sharp + p["wall_folds"]
            if "controller_mv" in v
            else far,
            (v["io_mv"] - p["io_too_high_mv"]) / sharp + p["wall_folds"] if "io_mv" in v else far,
        ]

    def _too_high(self, v: Values, name: str, limit: str, far: Numbers) -> Numbers:
        """Above it nothing trains; measured against the wall that starts are measured by."""
        p = self._parts
        return (v[name] - p[limit]) / k("supply_sharpness") + p["wall_folds"] if name in v else far

    # -- faulty parts ----------------------------------------

    def _faulty(self, rate: Numbers, modules_c: Numbers) -> list[Numbers]:
        found, far = list[Numbers](), np.array([-k("deepest_folds")])
        stock = self._defaults.get("data_rate_mts", self._base)
        faster = (rate - stock) / 400.0
        for weak, fault, m in self._faults():
            kind = fault.kind
            if m is None and kind is not FaultKind.CONTROLLER:
                found.append(far)
                continue
            folds = np.full(1, FAULT_FOLDS[weak] + np.log(fault.strength))
            warm = modules_c[..., m or 0]
            if kind is FaultKind.REGION:
                folds = folds + (warm - k("retention_at_c")) / k("retention_half") * 1.6
            elif kind is FaultKind.CONTACT:
                seatings = self._state.care.reseated.get(fault.where, 0)
                opens_at = self._parts["room_c"] + k("contact_opens")
                folds = folds - 2.0 * seatings + np.clip((warm - opens_at) * 1.5, -8.0, 0.0)
            elif kind is not FaultKind.ROW:
                folds = folds + faster
            found.append(folds)
        return found


def p_slot(parts: Parts, place: int) -> float:
    """What a slot takes off the signal's reach, or adds."""
    return float(parts.slots_mts[place % len(parts.slots_mts)])


def fabric_mhz(v: Values, rate: Numbers, ratio: Numbers, runs_to_mhz: float) -> Numbers:
    """The fabric's clock: as typed, or chosen in step with the controller as far as the platform lets it run."""
    chosen = np.minimum(rate / 2 / ratio, runs_to_mhz)
    return np.where(np.isnan(v["fabric_mhz"]), chosen, v["fabric_mhz"])
