"""This machine measured: its sensors watched meanwhile, each figure beside what arithmetic allows."""

import threading
import time

from tenaz.core.base.errors import Refused
from tenaz.core.scores.measure import Measured, MeasurePlan, MeasureWatch
from tenaz.core.scores.score import Circumstances, Figure, Score, Unit
from tenaz.core.sensors.names import of_graphics
from tenaz.core.sensors.telemetry import Record, Sample, Sensor, SensorKind
from tenaz.measuring.crew import Crew, WorkerLost
from tenaz.measuring.rounds import measured_in_rounds
from tenaz.measuring.tasks import Machine, Task, Work, tasks_of
from tenaz.probe import system

PERIOD_S = 0.5


class Watched:
    """What sensors say while it is measured."""

    def __init__(self, sensors: "tuple[Sensor, ...]") -> None:
        self._records = [Record(sensor) for sensor in sensors]
        self._first: list[float | None] | None = None
        self._last: list[float | None] = []

    def see(self, sample: Sample) -> None:
        """Take a sample."""
        self._last = list(sample.values)
        self._first = self._first or self._last
        for record, value in zip(self._records, sample.values, strict=True):
            record.see(value)

    def circumstances(self) -> Circumstances:
        """Summed up."""
        return Circumstances(
            self._mean(SensorKind.CLOCK),
            max((one.highest for one in self._records if self._told(one, SensorKind.TEMPERATURE)), default=None),
            self._largest_power(),
            held_back=self._held_back(),
        )

    def _told(self, one: Record, kind: SensorKind) -> bool:
        return one.sensor.kind is kind and one.count > 0 and not of_graphics(one.sensor.id)

    def _mean(self, kind: SensorKind) -> float | None:
        means = [one.total / one.count for one in self._records if self._told(one, kind)]
        return sum(means) / len(means) if means else None

    def _largest_power(self) -> float | None:
        """The package as a whole draws more than any of its parts."""
        means = [one.total / one.count for one in self._records if self._told(one, SensorKind.POWER)]
        return max(means, default=None)

    def _held_back(self) -> bool | None:
        counted = [
            (first, last)
            for one, first, last in zip(self._records, self._first or (), self._last, strict=False)
            if one.sensor.kind is SensorKind.THROTTLES and first is not None and last is not None
        ]
        return any(last > first for first, last in counted) if counted else None


def chosen_tasks(plan: MeasurePlan) -> tuple[Task, ...]:
    """What a plan asks of this machine.

    Raises:
        Refused: none of its figures is asked for.
    """
    machine = Machine(len(system.usable_cores()), system.caches(), system.memory().available_bytes)
    every = tasks_of(machine)
    tasks = tuple(task for task in every if plan.wants(task.figure.name))
    if not tasks:
        names = ", ".join(dict.fromkeys(task.figure.what for task in every))
        raise Refused(f"No figure is called {' or '.join(plan.only)}; there are: {names}.")
    return tasks


class Measurer:
    """Measures this machine; ``peak_gb_s`` is what its memory could give by its data rate (None: not known)."""

    def __init__(self, peak_gb_s: float | None = None) -> None:
        self._peak_gb_s = peak_gb_s
        self._stopped = threading.Event()

    def stop(self) -> None:
        """End it; may come from any thread."""
        self._stopped.set()

    def measure(self, plan: MeasurePlan, watch: MeasureWatch, watched: Watched) -> Measured:
        """Measure until all is known well enough, time is up, or stopped."""
        plan.check()
        tasks = chosen_tasks(plan)
        began = time.monotonic()
        why, down, scores = "", False, tuple[Score, ...]()
        try:
            with Crew(system.usable_cores(), tasks) as crew:
                scores = measured_in_rounds(
                    crew, tasks, plan, watch, lambda: not self._stopped.is_set(), self._best_possible(tasks)
                )
        except WorkerLost as lost:
            down = not lost.killed
            why = f"{lost}: {'what is not stable cannot be measured' if down else 'that says nothing of the machine'}"
        if self._stopped.is_set():
            why = "stopped by hand"
        elif not why and len(scores) < len(tasks):
            missing = len(tasks) - len(scores)
            why = f"{missing} of {len(tasks)} figures could not be told: time was over before they were ready"
        return Measured(scores, watched.circumstances(), time.monotonic() - began, why, down)

    def _best_possible(self, tasks: tuple[Task, ...]) -> "BestPossible":
        return BestPossible(self._peak_gb_s, max((t.figure.size_bytes or 0 for t in tasks), default=0))


TOLD_OF_BUS = {Work.READ: 1.0, Work.WRITE: 1 / 2, Work.COPY: 2 / 3, Work.TURN: 1.0}
"""Bytes that a figure counts, of each that crosses the bus: a copy reads one, fetches one and writes it."""


class BestPossible:
    """What the bus of the memory allows, for figures that are about it."""

    def __init__(self, peak_gb_s: float | None, memory_block: int) -> None:
        self._peak_gb_s, self._memory_block = peak_gb_s, memory_block

    def __call__(self, figure: Figure) -> float | None:
        """In the figure's unit; None where nobody can say. What is written crosses the bus twice: a line is fetched
        before it is written to.
        """
        if self._peak_gb_s is None or figure.unit != Unit.GB_S or figure.size_bytes != self._memory_block:
            return None
        told = next((told for work, told in TOLD_OF_BUS.items() if figure.what == work.value), None)
        return None if told is None else self._peak_gb_s * told
