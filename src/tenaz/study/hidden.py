"""One hidden rig: it can be tried, and it knows its own edge, which no strategy sees."""

from dataclasses import dataclass
from typing import Protocol

import numpy as np

from tenaz.core.knobs.knob import Grid, Harder, Knob
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.trials.costs import Costs
from tenaz.margins.hazard import folds_below, log_rate
from tenaz.study.populations import HiddenPopulation

COSTS = Costs(enter_s=0.0, boot_s=90.0, failed_boot_s=480.0, crash_s=180.0)
"""A start, a start that failed (tried again, cleared, entered anew), a failure under load."""


@dataclass(frozen=True, slots=True)
class Tried:
    """What came of a trial: it did not start, or ran ``hours`` and failed or not; and what it cost."""

    started: bool
    hours: float
    failed: bool
    cost_h: float


class Hidden(Protocol):
    """What a strategy is played against."""

    @property
    def knob(self) -> Knob:
        """What is moved."""
        ...

    @property
    def base(self) -> Setpoint:
        """Where the search begins."""
        ...

    @property
    def load(self) -> LoadKind:
        """What it is tried under."""
        ...

    @property
    def slope(self) -> float:
        """The steps over which its rate grows e-fold."""
        ...

    def start(self, strain: int) -> bool:
        """Try to start there."""
        ...

    def fails_after_h(self, strain: int, now_h: float) -> float:
        """Hours until it fails there, when begun so many hours into the day."""
        ...

    def edge(self, log_tolerated: float) -> float:
        """The strain up to which the rate is tolerated."""
        ...


def try_there(rig: Hidden, strain: int, hours: float, now_h: float) -> Tried:
    """One trial."""
    if not rig.start(strain):
        return Tried(False, 0.0, True, COSTS.failed_boot_s / 3600)
    after = rig.fails_after_h(strain, now_h)
    if after < hours:
        return Tried(True, after, True, after + (COSTS.boot_s + COSTS.crash_s) / 3600)
    return Tried(True, hours, False, hours + COSTS.boot_s / 3600)


class DrawnRig:
    """Drawn from a population by a seed: the judgement's model, or one against it."""

    load = LoadKind.MARCH

    def __init__(self, population: HiddenPopulation, seed: int) -> None:
        self._of = population
        self._rng = np.random.default_rng([seed, 17])
        draw = np.random.default_rng([seed, 5])
        self.knob = Knob("study_steps", "strain", "", "study", Grid(0, population.steps - 1, 1), Harder.UP)
        self.base = Setpoint.of({self.knob.name: population.base})
        self._x_star = population.base + population.x_star.draw(draw)
        self.slope = population.slope.draw(draw)
        self._wall = self._x_star + population.wall.draw(draw)

    def _drifted(self, now_h: float) -> float:
        return self._of.drift_steps_per_h * min(now_h, self._of.drift_until_h)

    def start(self, strain: int) -> bool:
        """Try to start there."""
        beyond = strain - self._wall
        if self._of.wall_softness_steps:
            return bool(self._rng.random() >= 1.0 / (1.0 + np.exp(-beyond / self._of.wall_softness_steps)))
        turned = self._rng.random() < self._of.false_starts
        return bool(beyond < 0) != turned

    def fails_after_h(self, strain: int, now_h: float) -> float:
        """Hours until it fails there; for Weibull's shapes the rate is that of its scale."""
        folds = np.array((strain - self._x_star + self._drifted(now_h)) / self.slope)
        log = float(log_rate(folds, np.array(self._of.curvature)))
        log += self._rng.normal(0.0, self._of.frailty_folds) if self._of.frailty_folds else 0.0
        return float(self._rng.exponential() ** (1.0 / self._of.shape) * np.exp(-log))

    def edge(self, log_tolerated: float) -> float:
        """The strain up to which the rate is tolerated, at the end of the day."""
        return self._x_star - self._drifted(np.inf) - self.slope * folds_below(log_tolerated, self._of.curvature)
