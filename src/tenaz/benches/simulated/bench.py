"""The bench ``sim``: a simulated rig that is set, boots, runs loads and fails, in simulated time."""

import math
import random
import threading
from collections.abc import Sequence
from dataclasses import replace

from tenaz.benches.simulated import constants as c
from tenaz.benches.simulated.clock import SimulatedClock
from tenaz.benches.simulated.simulated_machine import SimulatedMachine
from tenaz.core.errors import Refused
from tenaz.core.facts import facts_by_lanes
from tenaz.core.loading import (
    LaneProgress,
    LoadKind,
    LoadPlan,
    LoadProgress,
    LoadReport,
    Mismatch,
    MismatchKind,
    Strains,
    part_covered,
)
from tenaz.core.loop import Move
from tenaz.core.outcomes import Outcome
from tenaz.core.ports import Bench, LoadWatch, StationReport, Technician
from tenaz.core.readings import Reading, reading_of
from tenaz.core.rigs import BenchKind, Rig
from tenaz.core.setpoints import Auto, Setpoint
from tenaz.core.telemetry import Sample, Sensor, SensorKind

TICKS_A_LOAD = 120
"""A load is told in so many pieces, however long it is."""

LAP_S = 240.0
"""A lap of the simulated memory."""

TURN_S = 5.0
"""Of a core, where cores take turns."""

MOST_MISMATCHES = 200
"""A load that goes on past errors ends here; more tell no more."""
OPEN_END_S = 24 * 3600.0
"""How long a load without an end runs here before it counts as held."""

SENSORS = (
    Sensor("sim/temp1", "processor", SensorKind.TEMPERATURE),
    Sensor("sim/power1", "processor power", SensorKind.POWER),
    Sensor("sim/clock1", "clock reached", SensorKind.CLOCK),
)


class SimulatedRig:
    """A rig made from its seed.

    ``turns_before`` is how many boots it has had already (so that a reopened book does not repeat its luck).
    ``pace`` is simulated seconds in one real second; None runs as fast as the processor does. ``dust`` is how
    many times warmer than with a clean cooler it gets.
    """

    def __init__(
        self,
        rig: Rig,
        turns_before: int = 0,
        pace: float | None = None,
        dust: float = 1.0,
        in_force: Setpoint | None = None,
    ) -> None:
        self._rig = rig
        self._machine = SimulatedMachine(rig.seed, rig.knobs, rig.family)
        self.clock = SimulatedClock(rig.name, turns_before)
        self._turn = turns_before
        self._pace = pace
        self._stop = threading.Event()
        self._entered = self._in_force = in_force or rig.stock
        self._failed_boots = 0
        self._warm_s = 0.0
        self._luck = random.Random()
        self._wobble = random.Random(rig.seed)
        self._dust = dust

    @property
    def machine(self) -> SimulatedMachine:
        """Test door: the machine with what it hides."""
        return self._machine

    def check(self, plan: LoadPlan) -> None:
        """Refuse a load of no length."""
        if self._length_s(plan) <= 0:
            raise Refused(f"{plan.show()} is no load; give a time above zero.")

    def set(self, setpoint: Setpoint, before: Setpoint) -> StationReport:
        """Enter the values into the simulated firmware, which rounds to its grid without a word."""
        self._stop.clear()
        changes = setpoint.changes_from(before)
        if changes and not self._spend(c.ENTER_S):
            return StationReport(Move.STOP)
        self._entered = self._rounded(setpoint)
        return StationReport(Move.ENTERED, f"{len(changes)} value{'s' if len(changes) != 1 else ''} changed")

    def boot(self) -> StationReport:
        """Train the memory; near the wall that is a lottery."""
        self._turn += 1
        self.clock.booted()
        self._luck = random.Random(f"turn:{self._rig.seed}:{self._turn}")
        chance = self._machine.boot_chance(self._entered)
        if self._luck.random() >= chance:
            self._failed_boots += 1
            if not self._spend(c.FAILED_BOOT_S):
                return StationReport(Move.STOP)
            self._in_force = self._rig.stock
            self._warm_s = 0.0
            if self._failed_boots >= c.TRIES_BEFORE_FALLING_BACK:
                self._failed_boots = 0
                return StationReport(Move.FELL_BACK, "memory would not train; the firmware came up with base values")
            return StationReport(Move.STAYED_DOWN, "memory would not train; settings cleared")
        if not self._spend(c.BOOT_S):
            return StationReport(Move.STOP)
        self._failed_boots = 0
        self._warm_s *= math.exp(-c.BOOT_S / c.HEAT_TIME_CONSTANT_S)
        self._in_force = self._entered
        if chance < 1.0 / (1.0 + math.exp(-c.RETRAIN_FOLDS / c.WALL_SOFTNESS_FOLDS)):
            return StationReport(Move.CAME_UP_RETRAINED, "came up on a second training pass")
        return StationReport(Move.CAME_UP, "came up")

    def _rounded(self, setpoint: Setpoint) -> Setpoint:
        """What the firmware makes of it, without a word."""
        rounded, stock = setpoint, self._rig.stock
        for knob in self._rig.knobs:
            value = setpoint[knob.name]
            if isinstance(value, Auto) or value == stock[knob.name]:
                continue
            made = knob.grid.nearest(value)[0]
            step = c.ROUNDED_SILENTLY.get(knob.name)
            made = made if step is None else made // step * step
            if made != value:
                rounded = rounded.replacing(knob.name, made)
        return rounded

    def read_back(self, setpoint: Setpoint) -> tuple[Reading, ...]:
        """Read every knob back; the simulated rig tells all."""
        return tuple(reading_of(k, setpoint[k.name], self._in_force[k.name]) for k in self._rig.knobs)

    def load(self, plan: LoadPlan, watch: LoadWatch) -> LoadReport:
        """Run a load until it ends, or until the failure that the hazard draws; past errors when it is to go on."""
        length_s = self._length_s(plan)
        log_rate = max(self._machine.log_rate(self._in_force, kind) for kind in plan.kinds)
        watch.sensors(SENSORS)
        elapsed, found = 0.0, tuple[Mismatch, ...]()
        while len(found) < MOST_MISMATCHES:
            fails_at_s = elapsed + self._luck.expovariate(1.0) * math.exp(-log_rate) * 3600.0
            end_s = min(length_s, fails_at_s)
            reached_s = self._pass_time(plan, elapsed, end_s, watch, found)
            if reached_s < end_s:
                outcome = Outcome.ERRED if found else Outcome.STOPPED
                return self._report(plan, outcome, reached_s, found, "stopped by hand")
            elapsed = end_s
            if fails_at_s > length_s:
                break
            if self._luck.random() < 1.0 / (1.0 + math.exp(c.FREEZE_FOLDS - log_rate)):
                outcome = Outcome.FROZE if self._luck.random() < 0.6 else Outcome.RESTARTED
                self._warm_s = 0.0
                return self._report(plan, outcome, elapsed, found, f"the rig {outcome} under load")
            found += self._errors(plan, elapsed, watch)
            watch.progress(self._progress(plan, elapsed, found))
            if plan.stop_at_first_error:
                break
        return self._report(plan, Outcome.ERRED if found else Outcome.HELD, elapsed, found, "")

    def _pass_time(
        self, plan: LoadPlan, start_s: float, end_s: float, watch: LoadWatch, found: tuple[Mismatch, ...]
    ) -> float:
        """Let the load run from one time to another; gives the time at which it was stopped, else the end."""
        tick = self._length_s(plan) / TICKS_A_LOAD
        elapsed = start_s
        while elapsed < end_s:
            piece = min(tick, end_s - elapsed)
            if not self._spend(piece):
                return elapsed
            elapsed += piece
            self._warm_s += piece
            watch.progress(self._progress(plan, elapsed, found))
            watch.sample(self._sample(plan, elapsed))
        return end_s

    def _errors(self, plan: LoadPlan, at_s: float, watch: LoadWatch) -> tuple[Mismatch, ...]:
        """Wrong values that come together."""
        found = tuple(self._mismatch(plan, at_s) for _ in range(1 + int(self._luck.expovariate(0.25))))
        for mismatch in found:
            watch.mismatch(mismatch)
        return found

    def stop(self) -> None:
        """End what is under way."""
        self._stop.set()

    def _mismatch(self, plan: LoadPlan, at_s: float) -> Mismatch:
        luck = self._luck
        expected = luck.choice((0x5555555555555555, 0x3333333333333333, 0x0F0F0F0F0F0F0F0F))
        read = expected ^ (1 << luck.choice((3, 11, 35, 43)))
        memory = plan.kind.strains is Strains.MEMORY
        again = read if luck.random() < 0.4 else expected
        kind = MismatchKind.STORED if again == read else MismatchKind.ON_THE_WAY
        return Mismatch(
            worker=luck.randrange(plan.workers or self._rig.cores or 1),
            at_s=at_s,
            lap=1 + int(at_s / LAP_S),
            address=0x7F00_0000_0000 + luck.randrange(1 << 33) // 8 * 8,
            expected=expected,
            read=read,
            read_again=again if memory else expected,
            kind=kind if memory else MismatchKind.COMPUTED,
            temperature_c=round(self._temperature_c(plan.kind), 1),
            load=plan.kind,
        )

    def _length_s(self, plan: LoadPlan) -> float:
        if plan.duration_s is not None:
            return plan.duration_s
        return plan.laps * LAP_S if plan.laps is not None else OPEN_END_S

    def _rate(self, plan: LoadPlan) -> float:
        """Mean rate in the kind's unit."""
        if plan.kind.strains is Strains.MEMORY:
            return c.RATE_GB_S_PER_MTS * self._machine.effective(self._in_force)["data_rate_mts"]
        return c.RATE_GFLOP_S

    def _temperature_c(self, kind: LoadKind) -> float:
        """First-order heating from idle towards the load's settled temperature."""
        settled = kind.declared.feels.rise_k * self._dust
        risen = settled - (settled - c.IDLE_RISE_C) * math.exp(-self._warm_s / c.HEAT_TIME_CONSTANT_S)
        return c.AMBIENT_C + risen

    def _sample(self, plan: LoadPlan, elapsed_s: float) -> Sample:
        power = c.IDLE_POWER_W + plan.kind.declared.feels.power_w
        return Sample(
            elapsed_s, (round(self._temperature_c(plan.kind), 1), power + self._wobble.gauss(0, 1.5), c.CLOCK_MHZ)
        )

    def _progress(self, plan: LoadPlan, elapsed_s: float, found: Sequence[Mismatch] = ()) -> LoadProgress:
        workers = plan.workers or self._rig.cores or 1
        rate, laps = self._rate(plan), elapsed_s / LAP_S
        fraction, left_s = plan.ahead(elapsed_s, laps)
        return LoadProgress(
            plan=plan,
            elapsed_s=elapsed_s,
            fraction=fraction,
            left_s=left_s,
            laps=laps,
            rate=rate,
            errors=len(found),
            lanes=tuple(
                LaneProgress(
                    k,
                    k,
                    laps,
                    rate / workers,
                    sum(m.worker == k for m in found),
                    elapsed_s,
                    c.CLOCK_MHZ,
                    plan.kind.value,
                    plan.kind,
                )
                for k in range(workers)
            ),
            temperature_c=round(self._temperature_c(plan.kind), 1),
        )

    def _report(
        self, plan: LoadPlan, outcome: Outcome, elapsed_s: float, found: tuple[Mismatch, ...], detail: str
    ) -> LoadReport:
        failed_after_s = elapsed_s if outcome in (Outcome.FROZE, Outcome.RESTARTED) else None
        lanes = self._progress(plan, elapsed_s, found).lanes
        facts = facts_by_lanes(plan, elapsed_s, lanes, self._rig.cores or 0, self._rig.memory_bytes)
        laps, begun = elapsed_s / LAP_S, self._begun(elapsed_s)
        first = found[0].at_s if found else failed_after_s
        return LoadReport(
            plan,
            outcome,
            elapsed_s,
            laps,
            self._rate(plan),
            len(found),
            first,
            found,
            detail,
            tuple(replace(fact, covered=part_covered(fact.kind, laps, begun), failed_after_s=first) for fact in facts),
        )

    def _begun(self, elapsed_s: float) -> float:
        """The part of the cores that had a turn by then, where they take turns."""
        return min(1.0, elapsed_s / (TURN_S * (self._rig.cores or 1)))

    def _spend(self, simulated_s: float) -> bool:
        """Let simulated time pass, at the chosen pace; False when stopped meanwhile."""
        if self._pace is not None:
            self._stop.wait(simulated_s / self._pace)
        self.clock.pass_s(simulated_s)
        return not self._stop.is_set()


def simulated_bench(
    rig: Rig,
    turns_before: int = 0,
    pace: float | None = None,
    technician: Technician | None = None,
    in_force: Setpoint | None = None,
    dust: float = 1.0,
) -> Bench:
    """The bench: all its parts are one simulated rig, which was last set to what is ``in_force`` (None: stock)."""
    simulated = SimulatedRig(rig, turns_before, pace, dust, in_force)
    return Bench(BenchKind.SIM, simulated, simulated, simulated, simulated.clock, technician)
