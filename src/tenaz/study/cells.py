"""One cell of the table: a strategy, or a practice, on so many hidden rigs of one population; and what comes out."""

import os
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import partial
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tenaz.core.base.tolerance import TOLERANCE, Tolerance
from tenaz.core.rigs.rig import Purpose
from tenaz.margins.bounds import share_bounds
from tenaz.margins.edge import edge_of
from tenaz.margins.experience import PastLine
from tenaz.margins.hazard import Numbers, log_tolerated
from tenaz.margins.posterior import posterior_of
from tenaz.margins.priors import prior_for
from tenaz.study.hands import hands
from tenaz.study.hidden import DrawnRig, Hidden
from tenaz.study.playing import Played, past_line, play
from tenaz.study.populations import HiddenPopulation, read_population
from tenaz.study.practices import PRACTICES, SOAK_H, FoundEdge
from tenaz.study.simulated_rigs import SimulatedHidden

CHUNK = 10
Told = Callable[[int, int], None]
"""Hears how many rigs are done, of how many."""
MOST_GUARD = 60
PAST_FROM = 3_000_000
QUARTERS = 4


@dataclass(frozen=True, slots=True)
class Study:
    """What is asked for: the tolerance that advice must meet, how many hours prove it, how many rigs, from which seed
    on. ``parameters`` are the strategy's.
    """

    tolerance: Tolerance = TOLERANCE
    proof_h: float = SOAK_H
    rigs: int = 2000
    first_seed: int = 0
    parameters: Mapping[str, object] = field(default_factory=dict)
    alike_h: float = 0.0
    """Clean hours that the workshop has on rigs like these."""
    past: int = 0
    """So many rigs were climbed before: of the same population, or of that which ``past_of`` names."""
    past_of: str = ""

    @property
    def log_tolerated(self) -> float:
        """Natural logarithm of the rate that is tolerated."""
        return log_tolerated(self.tolerance.failures, self.tolerance.hours)


@dataclass(frozen=True, slots=True)
class Cell:
    """What came out. Hours are means with their 90 % quantile; safety is the share of rigs whose advice is truly
    tolerated, with its Clopper–Pearson bounds; ``covered`` the share whose 95 % interval holds the edge, in all and by
    quarters of the slope, the steepest first; ``sure`` the chance that was told.
    """

    population: str
    strategy: str
    rigs: int
    first_seed: int
    hours: float
    hours_p90: float
    trials: float
    safe: float
    safe_low: float
    safe_high: float
    short_steps: float
    short_error: float
    covered: float | None = None
    covered_by_slope: tuple[float, ...] = ()
    guard_steps: int | None = None
    called_safe: float | None = None
    """The share of rigs whose verdict is *safe*, and of those that are called so and are not."""
    wrongly_safe: float | None = None
    past: int = 0
    """So many rigs were climbed before."""


def unheard(done: int, of: int) -> None:
    """Nobody listens."""
    del done, of


def hidden_rig(population: HiddenPopulation, seed: int) -> Hidden:
    """One of a population."""
    return SimulatedHidden(population.rigs, seed) if population.rigs else DrawnRig(population, seed)


def strategy_cell(population: HiddenPopulation, strategy: str, study: Study, told: Told = unheard) -> Cell:
    """A strategy on all rigs, over all cores."""
    run = partial(_play, population, strategy, study)
    played = [one for one in _over_cores(run, study, told) if one is not None]
    covered = np.array([one.covered for one in played], dtype=float)
    order = np.argsort([one.slope for one in played], kind="stable")
    quarters = tuple(float(covered[part].mean()) for part in np.array_split(order, QUARTERS) if part.size)
    found = _cell(
        population, strategy, study,
        np.array([one.hours for one in played]), np.array([one.safe for one in played]),
        np.array([one.short_steps for one in played]), float(np.mean([one.trials for one in played])),
        float(covered.mean()), quarters,
    )  # fmt: skip
    called = float(np.mean([one.called_safe for one in played]))
    return replace(
        found,
        called_safe=called,
        wrongly_safe=float(np.mean([one.called_safe and not one.safe for one in played])),
        past=study.past,
    )


@dataclass(frozen=True)
class PracticeRuns:
    """What a practice found on each rig before its guard, and where the best value would have been."""

    population: HiddenPopulation
    practice: str
    study: Study
    strains: Numbers
    best: Numbers
    hours: Numbers

    def guarded(self, steps: int) -> Cell:
        """With a fixed guard."""
        safe, short = self.strains - steps <= self.best, self.best - (self.strains - steps)
        found = _cell(self.population, self.practice, self.study, self.hours, safe, short, 0.0)
        return replace(found, guard_steps=steps, past=self.study.past)

    def least_guard(self, safe: float) -> Cell:
        """With the least guard that is as safe."""
        return next((c for c in map(self.guarded, range(MOST_GUARD)) if c.safe >= safe), self.guarded(MOST_GUARD))

    def short_at(self, safe: float) -> float:
        """Steps short of best at a given safety, between two guards where none is just as safe."""
        cells = [self.guarded(steps) for steps in range(MOST_GUARD)]
        at = next((k for k, cell in enumerate(cells) if cell.safe >= safe), MOST_GUARD - 1)
        if at == 0 or cells[at].safe == cells[at - 1].safe:
            return cells[at].short_steps
        part = (safe - cells[at - 1].safe) / (cells[at].safe - cells[at - 1].safe)
        return cells[at - 1].short_steps + part * (cells[at].short_steps - cells[at - 1].short_steps)


def practice_runs(population: HiddenPopulation, practice: str, study: Study) -> PracticeRuns:
    """A practice on all rigs."""
    found = _over_cores(partial(_practise, population, practice, study), study, unheard)
    strains = np.array([float(one.strain) for one, _ in found])
    return PracticeRuns(
        population, practice, study, strains, np.floor([edge for _, edge in found]),
        np.array([one.hours for one, _ in found]),
    )  # fmt: skip


def _play(population: HiddenPopulation, strategy: str, study: Study, seed: int) -> Played | None:
    rig = hidden_rig(population, seed)
    purpose = Purpose("a study", 0, ((rig.load, study.proof_h),), tolerance=study.tolerance)
    whose = read_population(study.past_of) if study.past_of else population
    past = past_of(whose, purpose, study.past)
    return play(rig, strategy, study.parameters, purpose, study.alike_h, past)


_PAST: dict[tuple[str, int], tuple[PastLine, ...]] = {}
"""Of this process: the same for every rig of a cell."""


def past_of(population: HiddenPopulation, purpose: Purpose, count: int) -> tuple[PastLine, ...]:
    """What was seen of rigs of before; none of them is one of the table's."""
    key = population.name, count
    if key not in _PAST:
        rigs = (hidden_rig(population, PAST_FROM + k) for k in range(count))
        _PAST[key] = tuple(past_line(rig, f"past {k}", purpose) for k, rig in enumerate(rigs))
    return _PAST[key]


def learnt_guard(population: HiddenPopulation, practice: str, study: Study) -> int:
    """The least guard that somebody learns who practised on the same rigs of before, and knows of each what Tenaz
    knows: where its edge most likely lies. So many of them would have been safe with it as advice is to be sure.
    """
    whose = read_population(study.past_of) if study.past_of else population
    rigs = [hidden_rig(whose, PAST_FROM + k) for k in range(study.past)]
    purpose = Purpose("a study", 0, ((rigs[0].load, study.proof_h),), tolerance=study.tolerance)
    over = []
    for rig, line in zip(rigs, past_of(whose, purpose, study.past), strict=True):
        posterior = posterior_of(prior_for(line.knob), line.knob, {line.kind: line.seen})
        believed = edge_of(posterior, (line.kind,), study.tolerance).median
        over.append(PRACTICES[practice](rig).strain - believed)
    at = min(len(over), int(np.ceil(study.tolerance.confidence * (len(over) + 1)))) - 1
    return max(0, int(np.ceil(sorted(over)[at])))


def _practise(population: HiddenPopulation, practice: str, study: Study, seed: int) -> tuple[FoundEdge, float]:
    rig = hidden_rig(population, seed)
    return PRACTICES[practice](rig), rig.edge(study.log_tolerated)


def _over_cores(run: Callable[[int], Any], study: Study, told: Told) -> list[Any]:
    seeds = range(study.first_seed, study.first_seed + study.rigs)
    os.environ.setdefault("OMP_NUM_THREADS", "1")
    found = []
    with hands() as many:
        for one in many.map(run, seeds, chunk=CHUNK):
            found.append(one)
            told(len(found), study.rigs)
    return found


def _cell(
    population: HiddenPopulation,
    strategy: str,
    study: Study,
    hours: Numbers,
    safe: NDArray[np.bool_],
    short: Numbers,
    trials: float,
    covered: float | None = None,
    by_slope: Sequence[float] = (),
) -> Cell:
    low, high = share_bounds(int(safe.sum()), safe.size)
    error = float(short.std() / np.sqrt(max(1, short.size)))
    return Cell(
        population.name, strategy, safe.size, study.first_seed, float(hours.mean()), float(np.percentile(hours, 90)),
        trials, float(safe.mean()), low, high, float(short.mean()), error, covered, tuple(by_slope),
    )  # fmt: skip
