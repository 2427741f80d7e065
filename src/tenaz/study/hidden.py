"""One hidden rig: it can be tried, and it knows its own edge, which no strategy sees."""

from dataclasses import dataclass
from typing import TYPE_CHECKING, Protocol

import numpy as np

from tenaz.core.knobs.knob import Grid, Harder, Knob
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.trials.costs import Costs
from tenaz.margins.hazard import folds_below, log_rate
from tenaz.study.populations import HiddenPopulation

if TYPE_CHECKING:
    from collections.abc import Iterator

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

    def start(self, strain: float) -> bool:
        """Try to start there."""
        ...

    def fails_after_h(self, strain: float, now_h: float) -> float:
        """Hours until it fails there, when begun so many hours into the day."""
        ...

    def edge(self, log_tolerated: float) -> float:
        """The strain up to which the rate is tolerated."""
        ...

    def alike_failures(self, hours: float) -> int:
        """How often rigs like it failed in so many hours by what no setting causes."""
        ...


def try_there(rig: Hidden, strain: float, hours: float, now_h: float) -> Tried:
    """One trial."""
    if not rig.start(strain):
        return Tried(False, 0.0, True, COSTS.failed_boot_s / 3600)
    after = rig.fails_after_h(strain, now_h)
    if after < hours:
        return Tried(True, after, True, after + (COSTS.boot_s + COSTS.crash_s) / 3600)
    return Tried(True, hours, False, hours + COSTS.boot_s / 3600)


@dataclass(frozen=True, slots=True)
class Weakness:
    """One way to fail: its log rate is ``folds_at_x_star`` at ``x_star``, and grows e-fold over ``slope``; over
    ``plateau_steps`` before it would fall below ``plateau_folds`` it stands still.
    """

    x_star: float
    slope: float
    folds_at_x_star: float = 0.0
    plateau_folds: float = 0.0
    plateau_steps: float = 0.0

    def log_rate(self, strain: float, curvature: float) -> float:
        """Natural logarithm of failures an hour."""
        if self.plateau_steps:
            level_from = self.x_star + self.plateau_folds * self.slope
            strain = strain if strain > level_from else min(level_from, strain + self.plateau_steps)
        folds = np.array((strain - self.x_star) / self.slope)
        return self.folds_at_x_star + float(log_rate(folds, np.array(curvature)))


DAY_H = 24.0
FINE = 1e-3


class DrawnRig:
    """Drawn from a population by a seed: the judgement's model, or one against it."""

    load = LoadKind.MARCH

    def __init__(self, population: HiddenPopulation, seed: int) -> None:
        self._of, grain = population, population.grain
        self._rng = np.random.default_rng([seed, 17])
        draw = np.random.default_rng([seed, 5])
        most = round(population.steps * grain) - 1
        self.knob = Knob("study_steps", "strain", "", "study", Grid(0, most, 1), Harder.UP)
        base = round(population.base * grain)
        self.base = Setpoint.of({self.knob.name: base})
        x_star = base + grain * population.x_star.draw(draw)
        self.slope = grain * population.slope.draw(draw)
        self._wall = x_star + grain * population.wall.draw(draw)
        self._weak = tuple(self._drawn(x_star, draw))

    def _drawn(self, x_star: float, draw: np.random.Generator) -> "Iterator[Weakness]":
        of, grain = self._of, self._of.grain
        plateau = (of.plateau.at_folds.draw(draw), grain * of.plateau.steps.draw(draw)) if of.plateau else (0.0, 0.0)
        yield Weakness(x_star, self.slope, 0.0, *plateau)
        for _ in range(of.cores - 1):
            off = grain * draw.uniform(0.0, of.core_spread_steps)
            yield Weakness(x_star + off, grain * of.slope.draw(draw))
        if of.second is not None:
            yield Weakness(x_star, self.slope * of.second.flatter.draw(draw), of.second.folds_at_x_star.draw(draw))

    def _drifted(self, now_h: float) -> float:
        return self._of.grain * self._of.drift_steps_per_h * min(now_h, self._of.drift_until_h)

    def _log_rate(self, strain: float) -> float:
        """Of all that can fail there, at the mean hour of the day."""
        rates = [one.log_rate(strain, self._of.curvature) for one in self._weak]
        if self._of.background_per_h:
            rates.append(float(np.log(self._of.background_per_h)))
        return float(np.logaddexp.reduce(rates))

    def start(self, strain: float) -> bool:
        """Try to start there."""
        beyond = strain - self._wall
        if self._of.wall_softness_steps:
            soft = self._of.grain * self._of.wall_softness_steps
            return bool(self._rng.random() >= 1.0 / (1.0 + np.exp(-beyond / soft)))
        turned = self._rng.random() < self._of.false_starts
        return bool(beyond < 0) != turned

    def fails_after_h(self, strain: float, now_h: float) -> float:
        """Hours until it fails there; for Weibull's shapes the rate is that of its scale."""
        log = self._log_rate(strain + self._drifted(now_h))
        log += self._of.day_folds * float(np.sin(2 * np.pi * now_h / DAY_H))
        log += self._rng.normal(0.0, self._of.frailty_folds) if self._of.frailty_folds else 0.0
        return float(self._rng.exponential() ** (1.0 / self._of.shape) * np.exp(-log))

    def edge(self, log_tolerated: float) -> float:
        """The strain up to which the rate is tolerated, at the end of the day and in its warmest hour; below the grid
        where none is.
        """
        asked = log_tolerated - self._of.day_folds
        if len(self._weak) == 1 and not self._weak[0].plateau_steps and not self._of.background_per_h:
            one = self._weak[0]
            return one.x_star - self._drifted(np.inf) - one.slope * folds_below(asked, self._of.curvature)
        low, high = -1.0 - self.knob.ends[1], float(self.knob.ends[1])
        if self._log_rate(low) > asked:
            return low
        while high - low > FINE:
            middle = (low + high) / 2
            low, high = (middle, high) if self._log_rate(middle) <= asked else (low, middle)
        return low - self._drifted(np.inf)

    def alike_failures(self, hours: float) -> int:
        """How often rigs like it failed in so many hours by what no setting causes."""
        return int(self._rng.poisson(self._of.background_per_h * hours))
