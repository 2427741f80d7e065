"""When a load fails next, through which weakness, and whether that takes the machine down."""

from dataclasses import dataclass

import numpy as np

from tenaz.core.base.outcomes import Outcome
from tenaz.simulated.machine import Machine
from tenaz.simulated.physics.constants import k
from tenaz.simulated.physics.course import Course
from tenaz.simulated.physics.feeling import Weak
from tenaz.simulated.physics.memory import Column

DOWN = {
    Weak.SUPPLY: 0.97, Weak.CORE: 0.35, Weak.FABRIC: 0.5, Weak.CONTROLLER: 0.45, Weak.SLOT: 0.25, Weak.CONTACT: 0.35,
    Weak.REGION: 0.03, Weak.ROW_BROKEN: 0.02, Weak.LANE: 0.04, Weak.RETENTION: 0.03, Weak.DISTURB: 0.05,
    Weak.GRAPHICS: 0.05, Weak.GRAPHICS_MEMORY: 0.05,
}  # fmt: skip
"""Part of failures near the edge that take the machine down; of what is not named, very few."""
USUAL_DOWN = 0.06
FREEZES = 0.6
"""Part of them that freeze it; others restart it. A supply that drops out always restarts it."""
OF_CELLS = (Weak.REGION, Weak.ROW_BROKEN, Weak.RETENTION, Weak.DISTURB, Weak.LANE)
OF_CARDS = (Weak.GRAPHICS, Weak.GRAPHICS_MEMORY)
OF_CELLS_DOWN = 0.1
"""Single cells seldom hold what the system itself lives on, however often they fail."""
FROM_RECORDS = (Weak.CORE, Weak.SUPPLY)


@dataclass(frozen=True, slots=True)
class Failure:
    """A failure to come: its time in s of the load, its weakness (None: none before the end), its log rate, and when a
    hardware record announces it.
    """

    at_s: float
    column: Column | None = None
    log_rate: float = 0.0
    recorded_at_s: float = float("inf")


class Failing:
    """Draws failures along a course, one after the other."""

    def __init__(self, machine: Machine, course: Course, luck: np.random.Generator) -> None:
        self._machine, self._course, self._luck = machine, course, luck
        self._expected = 0.0

    def next(self) -> Failure:
        """The next failure."""
        luck, course = self._luck, self._course
        self._expected += float(luck.exponential())
        at_s = course.fails_at_s(self._expected)
        if at_s == float("inf"):
            return Failure(at_s)
        log_rates = course.log_hazards[:, course.tick_at(at_s)]
        rates = np.exp(log_rates - log_rates.max())
        place = int(np.searchsorted(np.cumsum(rates), luck.random() * rates.sum()))
        column = self._machine.columns[min(place, len(rates) - 1)]
        recorded_s = float("inf")
        if column.weak in FROM_RECORDS and luck.random() < k("record_before"):
            recorded_s = max(0.0, at_s - float(luck.exponential(k("record_ahead_s"))))
        return Failure(at_s, column, float(log_rates[place]), recorded_s)


def goes_down(failure: Failure, luck: np.random.Generator) -> Outcome | None:
    """Frozen, restarted, or None: wrong values only. The further beyond the edge, the oftener."""
    assert failure.column is not None
    weak = failure.column.weak
    near = DOWN.get(weak, USUAL_DOWN)
    deep = 1.0 / (1.0 + np.exp(k("freeze_folds") - failure.log_rate))
    if weak in OF_CELLS:
        deep *= OF_CELLS_DOWN
    if luck.random() >= near + (1 - near) * deep:
        return None
    if weak is Weak.SUPPLY or luck.random() >= FREEZES:
        return Outcome.RESTARTED
    return Outcome.FROZE
