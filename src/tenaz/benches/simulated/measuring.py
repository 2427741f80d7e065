"""Figures of a simulated rig: by its bandwidth, its latency and the clock that it reaches, with noise."""

from collections.abc import Callable

import numpy as np

from tenaz.benches.simulated.clock import Time
from tenaz.core.base.errors import Refused
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.rigs.rig import Rig
from tenaz.core.scores.measure import Measured, MeasurePlan, MeasureProgress, MeasureWatch
from tenaz.core.scores.score import Circumstances, Cores, Figure, Score, Unit, peak_gb_s
from tenaz.simulated.firmware import as_setpoint
from tenaz.simulated.machine import LoadMix, Machine
from tenaz.simulated.physics.constants import k
from tenaz.simulated.physics.luck import luck_of
from tenaz.simulated.state import State

REPEATS = 9
TAKES_S = 40.0
"""Simulated seconds of a whole measure."""
L1_BYTES, L2_BYTES, L3_BYTES, MEMORY_BYTES = 16 << 10, 512 << 10, 8 << 20, 256 << 20
OF_MEMORY = {"read": 1.0, "write": 0.88, "copy": 0.93, "turn": 1.05}
"""Of the bandwidth that all cores reach, by way."""
ONE_CORE = 0.6
OF_LATENCY = {"latency": 1.0, "latency row by row": 0.62, "latency small pages": 1.17}
PER_CLOCK = {L1_BYTES: 56.0, L2_BYTES: 30.0, L3_BYTES: 11.0}
"""Bytes a clock of one core, by block."""
LATENCY_CLOCKS = {L1_BYTES: 5.0, L2_BYTES: 15.0, L3_BYTES: 48.0}
OF_TRANSFORM = {L1_BYTES: 0.6, L2_BYTES: 0.52}
OF_SOLVE = {"solve 256 × 256": 0.5, "solve 768 × 768": 0.78}
OF_CLOCK = {"hash": 0.11, "compress": 0.012}
"""Bytes a clock of one core."""


class SimulatedMeasuring:
    """The part of the bench that measures."""

    def __init__(self, rig: Rig, state: State, time: Time, keep: Callable[[State], None]) -> None:
        self._rig, self._state, self._time, self._keep = rig, state, time, keep

    def stop(self) -> None:
        """End what is under way."""
        self._time.stop()

    def measure(self, plan: MeasurePlan, watch: MeasureWatch) -> Measured:
        """Measure it; simulated time passes.

        Raises:
            Refused: it does not come up as it is set.
        """
        plan.check()
        state, rig = self._state, self._rig
        machine = Machine(rig, state)
        if not machine.seated:
            raise Refused(f"{rig.name} has no memory in any slot: fit a module, then measure.")
        true = [one for one in figures_of(machine) if plan.wants(one[0].name)]
        if not true:
            raise Refused(f"No figure is called {' or '.join(plan.only)}.")
        state.turns += 1
        luck = luck_of(state, "measure")
        # What differs from start to start is the same for all repeats within one.
        start = luck_of(state, f"start {state.boots}").normal(0.0, k("start_noise"), len(true))
        takes_s, scores = min(plan.most_s, TAKES_S), list[Score]()
        rate_mts = float(machine.values(as_setpoint(state.in_force, rig.stock))["rate"][0])
        peak = peak_gb_s(rate_mts, len({one.channel for one in machine.seated}))
        for number, (figure, value) in enumerate(true):
            watch(MeasureProgress(number / len(true), takes_s * (1 - number / len(true)), figure.name))
            if not self._time.spend(takes_s / len(true)):
                break
            noisy = value * np.exp(start[number] + luck.normal(0.0, k("noise"), REPEATS))
            of_memory = figure.size_bytes == MEMORY_BYTES and figure.unit == Unit.GB_S
            scores.append(Score(figure, tuple(float(one) for one in noisy), 0, peak if of_memory else None))
        self._keep(state)
        stopped = len(scores) < len(true)
        return Measured(
            tuple(scores), self._circumstances(machine), takes_s * len(scores) / len(true), "stopped by hand" * stopped
        )

    def _circumstances(self, machine: Machine) -> Circumstances:
        values, strain = (
            machine.values(as_setpoint(self._state.in_force, self._rig.stock)),
            LoadMix((LoadKind.TRANSFORM,)),
        )
        die_c, _ = machine.warmed(values, strain)
        run = machine.processor.run(values, LoadKind.TRANSFORM, die_c)
        held = bool(die_c[0] >= machine.processor.hottest_c(values) - 1.0) if machine.processor.on else None
        return Circumstances(float(run.clock_mhz[0]), float(die_c[0]), float(run.package_w[0]), held_back=held)


def figures_of(machine: Machine) -> list[tuple[Figure, float]]:
    """All figures with their true values at what is in force."""
    values = machine.values(as_setpoint(machine.state.in_force, machine.rig.stock))
    die_c, _ = machine.warmed(values, LoadMix((LoadKind.TRANSFORM,)))
    speed = machine.speed(values, LoadMix((LoadKind.TRANSFORM,)), die_c)
    cores = len(machine.processor.on) or 1
    bandwidth, latency = float(speed.bandwidth_gb_s[0]), float(speed.latency_ns[0])
    flops = float(speed.throughput_gflop_s[0]) / cores
    ghz = float(machine.processor.run(values, LoadKind.TRANSFORM, die_c).clock_mhz[0]) / 1000
    one, every = Cores.ONE, Cores.ALL
    found: list[tuple[Figure, float]] = []
    for way, part in OF_MEMORY.items():
        found += [(Figure(way, Unit.GB_S, True, size, one), ghz * per * part) for size, per in PER_CLOCK.items()]
        found.append((Figure(way, Unit.GB_S, True, MEMORY_BYTES, one), min(bandwidth * ONE_CORE, ghz * 9) * part))
        found.append((Figure(way, Unit.GB_S, True, MEMORY_BYTES, every, way == "read"), bandwidth * part))
    found += [(Figure("latency", Unit.NS, False, size, one), of / ghz) for size, of in LATENCY_CLOCKS.items()]
    for what, part in OF_LATENCY.items():
        found.append((Figure(what, Unit.NS, False, MEMORY_BYTES, one, what == "latency"), latency * part))
    for which, count in ((one, 1), (every, cores)):
        for size, part in OF_TRANSFORM.items():
            leads = size == L2_BYTES and which is every
            found.append((Figure("transform", Unit.GFLOP_S, True, size, which, leads), flops * part * count))
        for what, part in OF_SOLVE.items():
            found.append((Figure(what, Unit.GFLOP_S, True, None, which), flops * part * count))
        for what, part in OF_CLOCK.items():
            found.append(
                (Figure(what, Unit.GB_S, True, None, which, which is every and what == "compress"), ghz * part * count)
            )
    return found
