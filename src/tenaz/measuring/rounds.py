"""Measuring in rounds: every figure that is not yet known well enough once a round, each round in another order."""

import random
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

from tenaz.core.scores.measure import LEAST_REPEATS, MeasurePlan, MeasureProgress, MeasureWatch
from tenaz.core.scores.score import Cores, Figure, Score, Unit
from tenaz.measuring.crew import Crew
from tenaz.measuring.tasks import Task, Work

REPEAT_S = 0.05
"""Length of one repeat: a hundred times what it takes to begin one."""
READY_WITHIN_S = 180.0
"""How long making ready may take."""
MOST_LEFT_OUT = 3
"""A figure of which so many times as many repeats were disturbed as not is given up."""
SEED = 17


@dataclass(slots=True)
class _Known:
    """A task, and what has been found of it."""

    number: int
    task: Task
    values: list[float] = field(default_factory=list)
    left_out: int = 0
    others: list[float] = field(default_factory=list)
    """What disturbed repeats came to: told where there is hardly anything else."""

    @property
    def together(self) -> bool:
        return self.task.figure.cores is Cores.ALL

    def score(self, best_possible: float | None) -> Score:
        if len(self.values) >= LEAST_REPEATS or not self.others:
            return Score(self.task.figure, tuple(self.values), self.left_out, best_possible)
        return Score(self.task.figure, (*self.values, *self.others), 0, best_possible, disturbed=True)

    def enough(self, narrow: float) -> bool:
        if self.left_out > MOST_LEFT_OUT * max(LEAST_REPEATS, len(self.values)):
            return True
        if len(self.values) < LEAST_REPEATS:
            return False
        half = self.score(None).half_width
        return half is not None and half <= narrow


def measured_in_rounds(
    crew: Crew,
    tasks: Sequence[Task],
    plan: MeasurePlan,
    watch: MeasureWatch,
    going_on: Callable[[], bool],
    best_possible: Callable[[Figure], float | None] = lambda _: None,
) -> tuple[Score, ...]:
    """Measure until all is known well enough, or time is up, or ``going_on`` says no; gives what is known by then.

    Raises:
        WorkerLost: one of the crew died or fell silent.
    """
    began = time.monotonic()
    until = began + plan.most_s
    order, known = random.Random(SEED), [_Known(number, task) for number, task in enumerate(tasks)]
    for one in known:
        if not going_on():
            return ()
        watch(_progress(began, plan, f"making ready: {one.task.figure.name}", 0.0))
        if time.monotonic() - began > READY_WITHIN_S:
            # What is not ready by now would take all the time that there is for measuring.
            known = known[: one.number]
            break
        if not crew.prepare(one.number, one.together):
            one.task = replace(one.task, figure=without_huge_pages(one.task.figure))
    until = max(until, time.monotonic() + plan.most_s / 2)
    while going_on() and time.monotonic() < until:
        left = [one for one in known if not one.enough(plan.narrow)]
        if not left:
            break
        order.shuffle(left)
        for one in left:
            if not going_on() or time.monotonic() >= until:
                break
            done = sum(other.enough(plan.narrow) for other in known) / len(known)
            watch(_progress(began, plan, one.task.figure.name, done))
            repeat = crew.repeat(one.number, one.together, REPEAT_S)
            value = _in_unit(one.task, repeat.rate)
            (one.values if repeat.undisturbed else one.others).append(value)
            one.left_out += not repeat.undisturbed
    return tuple(one.score(best_possible(one.task.figure)) for one in known if one.values or one.others)


def without_huge_pages(figure: Figure) -> Figure:
    """The figure under another name: its steps wait for translations too, so that it cannot be compared."""
    return replace(figure, what=f"{figure.what}, no huge pages", leads=False)


def _in_unit(task: Task, rate: float) -> float:
    return 1e9 / rate if task.work is Work.LATENCY and task.figure.unit == Unit.NS else rate / 1e9


def _progress(began: float, plan: MeasurePlan, doing: str, done: float) -> MeasureProgress:
    passed = time.monotonic() - began
    return MeasureProgress(max(done, min(1.0, passed / plan.most_s)), max(0.0, plan.most_s - passed), doing)
