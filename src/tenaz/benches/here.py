"""The bench ``here``: this machine. The technician sets and restarts it; what can be read is read; loads really run."""

import threading
from collections.abc import Callable, Sequence

from tenaz.benches import questions
from tenaz.core.goldens import Goldens
from tenaz.core.intake import present_values
from tenaz.core.loading import CacheLevel, LoadPlan, LoadReport
from tenaz.core.loop import Move
from tenaz.core.machine import Machine, show_gib
from tenaz.core.ports import LoadWatch, Reading, Step, Technician
from tenaz.core.rigs import BenchKind, Rig
from tenaz.core.setpoints import Setpoint
from tenaz.loads.crews import Surroundings, specs_for
from tenaz.loads.run import LoadRun
from tenaz.probe import system
from tenaz.probe.here import read_machine
from tenaz.probe.sampler import Sampler
from tenaz.probe.sensors import SensorTree

LEAST_ANSWER_S, PERIODS_TO_ANSWER = 5.0, 3
"""After so long without a sample, and so many periods, the guard counts as blind."""

SAME_MEMORY = 0.05
"""Memory seen may be this much less than fitted: firmware and graphics keep some for themselves."""


def surroundings() -> Surroundings:
    """What loads must know of this machine."""
    memory, caches = system.memory(), system.caches()
    return Surroundings(
        cores=system.usable_cores(),
        total_bytes=memory.total_bytes,
        available_bytes=memory.available_bytes,
        cache_bytes={
            CacheLevel.L1: caches.l1_bytes,
            CacheLevel.L2: caches.l2_bytes,
            CacheLevel.L3: caches.l3_bytes,
        },
        siblings=system.sibling_threads(system.usable_cores()),
    )


def _all_sensors(chosen: Sequence[str]) -> SensorTree:
    return SensorTree(chosen=chosen)


class HereBench:
    """This machine. Setting means a restart, which ends Tenaz too: the trial is in the book and goes on afterwards."""

    kind = BenchKind.HERE

    def __init__(
        self,
        rig: Rig,
        technician: Technician,
        read_machine: Callable[[], Machine] = read_machine,
        open_sensors: Callable[[Sequence[str]], SensorTree] = _all_sensors,
        goldens: Goldens | None = None,
    ) -> None:
        self.rig = rig
        self.goldens = goldens or {}
        self._technician = technician
        self._read_machine = read_machine
        self._open_sensors = open_sensors
        self.report: LoadReport | None = None
        self._run: LoadRun | None = None
        self._stopped = threading.Event()

    def check(self, plan: LoadPlan) -> None:
        """Refuse a load that this machine has no room for now, or that nothing would guard."""
        self.rig.check_watch()
        specs_for(plan, surroundings())

    def set(self, setpoint: Setpoint, before: Setpoint) -> Step:
        """Show the sheet; the machine may restart under us, and the trial is then taken up again."""
        self._stopped.clear()
        if not setpoint.changes_from(before):
            return Step(Move.ENTERED, "nothing to change; this machine runs with these values")
        return questions.asked(
            self._technician,
            questions.entering(
                self.rig,
                setpoint,
                before,
                "restart, and open Tenaz again (or say that they are in force already)",
            ),
        )

    def boot(self) -> Step:
        """We are running, so it came up."""
        return Step(Move.CAME_UP, "this machine is up")

    def confirm(self, setpoint: Setpoint) -> tuple[Step, tuple[Reading, ...]]:
        """Read the machine and compare it with the rig and the sheet; what cannot be read is asked for."""
        machine = self._read_machine()
        present = present_values(machine)
        knobs = (
            Reading(k.label, k.show(setpoint[k.name]), k.show(present[k.name]) if k.name in present else None)
            for k in self.rig.knobs
        )
        readings = (*self._read(machine), *knobs)
        lines = tuple(
            f"{' ' if r.agrees else '≠'} {r.name:<12} {r.asked:>10}   "
            + (f"reads {r.read}" if r.read is not None else "cannot be read here")
            for r in readings
        )
        for reading in readings:
            if not reading.agrees:
                step = questions.asked(self._technician, questions.differing(reading))
                if step.move is not Move.CONFIRMED:
                    return step, readings
        prompt = "Do the values that cannot be read here stand as asked?"
        if all(r.read is not None for r in readings):
            prompt = "Everything was read back. Load it?"
        return questions.asked(self._technician, questions.confirming(lines, prompt)), readings

    def load(self, plan: LoadPlan, watch: LoadWatch) -> LoadReport:
        """Run the load in child processes of this machine."""
        self._run = LoadRun(
            plan,
            surroundings(),
            on_progress=watch.progress,
            on_mismatch=watch.mismatch,
            temperature_c=system.temperature_c,
            goldens=self.goldens,
            on_note=lambda text: watch.note(text, plan.kind),
        )
        if self._stopped.is_set():
            self._run.stop()
        self.rig.check_watch()
        sensors = self._open_sensors(self.rig.sensors_watched)
        period_s = self.rig.sample_period_s
        watch.sensors(sensors.sensors, max(LEAST_ANSWER_S, PERIODS_TO_ANSWER * period_s))
        try:
            with Sampler(sensors, period_s, watch.sample, watch.note):
                self.report = self._run.run()
            made_with = {result.made_with for result in self._run.results}
            if self.goldens and made_with and not made_with & set(self.goldens):
                watch.note("the goldens were made with other instructions or libraries: take new ones", plan.kind)
        finally:
            sensors.close()
        return self.report

    def stop(self) -> None:
        """End a running load."""
        self._stopped.set()
        if self._run is not None:
            self._run.stop()

    def _read(self, machine: Machine) -> tuple[Reading, ...]:
        readings = []
        if self.rig.processor:
            readings.append(Reading("processor", self.rig.processor, machine.processor or None))
        if self.rig.cores:
            readings.append(Reading("cores", str(self.rig.cores), str(len(machine.cores)) if machine.cores else None))
        if self.rig.memory_bytes:
            asked, seen = self.rig.memory_bytes, machine.memory_bytes
            same = seen is None or abs(seen - asked) <= SAME_MEMORY * asked
            readings.append(Reading("memory", show_gib(asked), show_gib(asked if same or seen is None else seen)))
        return tuple(readings)
