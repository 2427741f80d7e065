"""The bench ``here``: this machine. The technician sets and restarts it; what can be read is read; loads really run."""

import contextlib
import threading
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from tenaz.benches import questions
from tenaz.core.base.loop import Move
from tenaz.core.knobs.readings import Reading
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.goldens import Goldens
from tenaz.core.loads.plan import CacheLevel, LoadPlan, LoadReport, Strains
from tenaz.core.machine.machine import Machine
from tenaz.core.ports.asking import asked
from tenaz.core.ports.bench import Bench, Clock, LoadWatch, StationReport, Technician
from tenaz.core.rigs.compared import compared
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.scores.measure import Measured, MeasurePlan, MeasureWatch
from tenaz.core.scores.score import peak_gb_s
from tenaz.core.sensors.part import check_warm, part_c
from tenaz.core.sensors.telemetry import Guards, Sample, Sensor, SensorKind, guards
from tenaz.loads.budget import ALONE, BESIDE_OTHERS
from tenaz.loads.cards import cards_for
from tenaz.loads.crews import Surroundings, specs_for
from tenaz.loads.run import LoadRun
from tenaz.loads.spec import REPORT_EVERY_S, Part
from tenaz.probe import memory_map, system
from tenaz.probe.alone import alone
from tenaz.probe.here import read_machine
from tenaz.probe.sampler import Often, Sampler
from tenaz.probe.sensors import SensorTree

if TYPE_CHECKING:
    from tenaz.measuring.here import Measurer

LEAST_ANSWER_S, PERIODS_TO_ANSWER = 5.0, 3
"""After so long without a sample, and so many periods, the guard counts as blind."""


def surroundings(plan: LoadPlan | None = None) -> Surroundings:
    """What loads must know of this machine; of its graphics cards only where a plan asks for any.

    Raises:
        Refused: it does, and no card can be reached.
    """
    memory, caches = system.memory(), system.caches()
    ranges = memory_map.kept_free()
    return Surroundings(
        cores=system.usable_cores(),
        total_bytes=memory.total_bytes + sum(one.span.bytes for one in ranges),
        available_bytes=memory.available_bytes,
        cache_bytes={
            CacheLevel.L1: caches.l1_bytes,
            CacheLevel.L2: caches.l2_bytes,
            CacheLevel.L3: caches.l3_bytes,
        },
        siblings=system.sibling_threads(system.usable_cores()),
        kept_free=tuple(Part(one.device, 0, one.span.bytes, one.span.start) for one in ranges),
        spared=ALONE if alone() else BESIDE_OTHERS,
        memory=memory_map.firmware_memory(),
        fitted_bytes=memory_map.fitted_bytes(),
        cards=() if plan is None else cards_for(plan),
    )


def _all_sensors(chosen: Sequence[str]) -> SensorTree:
    return SensorTree(chosen=chosen)


class ByRestart:
    """Setting means a restart, which ends Tenaz too: the trial is in the book and goes on afterwards."""

    def __init__(self, rig: Rig, technician: Technician | None) -> None:
        self._rig = rig
        self._technician = technician

    def set(self, setpoint: Setpoint, before: Setpoint) -> StationReport:
        """Show the sheet; the machine may restart under us, and the trial is then taken up again."""
        if not setpoint.changes_from(before):
            return StationReport(Move.ENTERED, "nothing to change; this machine runs with these values")
        if self._technician is None:
            return StationReport(Move.STOP, "values would have to be entered, and nobody is here to do it")
        then = "restart, and open Tenaz again (or say that they are set already)"
        return asked(self._technician, questions.entering(self._rig, setpoint, before, then))

    def boot(self) -> StationReport:
        """We are running, so it came up."""
        return StationReport(Move.CAME_UP, "this machine is up")


class FromTheMachine:
    """Reads this machine and compares it with the rig and the sheet."""

    def __init__(self, rig: Rig, read_machine: Callable[[], Machine] = read_machine) -> None:
        self._rig = rig
        self._read_machine = read_machine

    def read_back(self, setpoint: Setpoint) -> tuple[Reading, ...]:
        """Its parts, and every knob: what can be read is read."""
        return compared(self._rig, setpoint, self._read_machine())


class _Read:
    """How warm the part is that a load strains, as it was read last."""

    def __init__(self, strains: Strains) -> None:
        self._strains = strains
        self._guards: tuple[Guards | None, ...] = ()
        self.celsius: float | None = None

    def of(self, sensors: Sequence[Sensor]) -> None:
        """Which sensors will be read."""
        self._guards = tuple(guards(one) if one.kind is SensorKind.TEMPERATURE else None for one in sensors)

    def take(self, sample: Sample) -> None:
        """All of them at one moment."""
        read = zip(self._guards, sample.values, strict=True)
        warm = ((part, value) for part, value in read if part is not None and value is not None)
        self.celsius = part_c(warm, self._strains)


class OwnLoads:
    """Runs Tenaz's own loads in child processes of this machine, with its sensors watched."""

    def __init__(
        self,
        rig: Rig,
        open_sensors: Callable[[Sequence[str]], SensorTree] = _all_sensors,
        goldens: Goldens | None = None,
        often: Often | None = None,
    ) -> None:
        self._rig = rig
        self._goldens = goldens or {}
        self._often = often
        self._open_sensors = open_sensors
        self._run: LoadRun | None = None
        self._stopped = threading.Event()
        self.report: LoadReport | None = None
        """Of the last load."""

    def check(self, plan: LoadPlan) -> None:
        """Refuse a load that this machine has no room for now, or that nothing would guard."""
        self._rig.check_watch()
        if plan.warm_c is not None:
            with contextlib.closing(self._open_sensors(self._rig.sensors_watched)) as tree:
                check_warm(plan, self._rig.purpose, tree.sensors)
        specs_for(plan, surroundings(plan))

    def load(self, plan: LoadPlan, watch: LoadWatch) -> LoadReport:
        """Run the load in child processes of this machine."""
        read = _Read(plan.kind.strains)
        self._run = LoadRun(
            plan,
            surroundings(plan),
            on_progress=watch.progress,
            on_mismatch=watch.mismatch,
            temperature_c=system.temperature_c,
            goldens=self._goldens,
            on_note=lambda text: watch.note(text, plan.kind),
            on_laid=watch.laid,
            part_c=lambda: read.celsius,
            report_every_s=self._often.period_s if self._often else REPORT_EVERY_S,
        )
        if self._stopped.is_set():
            self._run.stop()
        self._rig.check_watch()
        sensors = self._open_sensors(self._rig.sensors_watched)
        period_s = self._rig.sample_period_s
        read.of(sensors.sensors)
        watch.sensors(sensors.sensors, max(LEAST_ANSWER_S, PERIODS_TO_ANSWER * period_s), period_s)

        def taken(sample: Sample) -> None:
            read.take(sample)
            watch.sample(sample)

        try:
            with Sampler(sensors, period_s, taken, watch.note, self._often):
                self.report = self._run.run()
            made_with = {result.made_with for result in self._run.results}
            if self._goldens and made_with and not made_with & set(self._goldens):
                watch.note("the goldens were made with other instructions or libraries: take new ones", plan.kind)
        finally:
            sensors.close()
            # What was stopped is over; the next load is another.
            self._stopped.clear()
        return self.report

    def stop(self) -> None:
        """End a running load."""
        self._stopped.set()
        if self._run is not None:
            self._run.stop()


class OwnMeasuring:
    """Measures this machine with its sensors watched."""

    def __init__(self, rig: Rig, open_sensors: Callable[[Sequence[str]], SensorTree] = _all_sensors) -> None:
        self._open_sensors, self._watched = open_sensors, rig.sensors_watched
        self._peak_gb_s = _peak_gb_s(rig.machine)
        self._stopped = threading.Event()
        self._measurer: Measurer | None = None

    def measure(self, plan: MeasurePlan, watch: MeasureWatch) -> Measured:
        """Measure until all is known well enough, time is up, or stopped."""
        from tenaz.measuring.here import PERIOD_S, Measurer, Watched  # noqa: PLC0415 - an agent has no room for it

        self._measurer = measurer = Measurer(self._peak_gb_s)
        if self._stopped.is_set():
            measurer.stop()
        sensors = self._open_sensors(self._watched)
        watched = Watched(sensors.sensors)
        try:
            with Sampler(sensors, PERIOD_S, watched.see):
                return measurer.measure(plan, watch, watched)
        finally:
            sensors.close()

    def stop(self) -> None:
        """End it."""
        self._stopped.set()
        if self._measurer is not None:
            self._measurer.stop()


def _peak_gb_s(machine: Machine | None) -> float | None:
    """By the data rate that the firmware tells, over all channels that hold a module; None where it does not."""
    fitted = [one for one in (machine.modules if machine else ()) if one.fitted]
    rates, channels = {one.present_mts for one in fitted if one.present_mts}, {one.channel for one in fitted}
    return peak_gb_s(min(rates), len(channels)) if rates and "" not in channels else None


def here_bench(
    rig: Rig,
    technician: Technician | None,
    clock: Clock,
    goldens: Goldens | None = None,
    read_machine: Callable[[], Machine] = read_machine,
    open_sensors: Callable[[Sequence[str]], SensorTree] = _all_sensors,
    often: Often | None = None,
) -> Bench:
    """This machine: the technician sets and restarts it, what can be read is read, loads really run. Without a
    technician it is taken as it runs. ``often``: who hears more of a load than is kept.
    """
    parts = ByRestart(rig, technician), FromTheMachine(rig, read_machine), OwnLoads(rig, open_sensors, goldens, often)
    return Bench(BenchKind.HERE, *parts, clock, technician, OwnMeasuring(rig, open_sensors))
