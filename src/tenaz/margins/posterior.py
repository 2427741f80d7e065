"""What is believed of an edge after what was seen: exact on a grid, over x*, slope, tail and wall, by kind of load.

Each kind of load feels the rig in its own way: a *strand* with an x* and a slope of its own. All share one wall, since
whether a rig starts does not depend on what is to be run. Failures are exponential in time, passes right-censored;
starts below the wall fail, and starts beyond it succeed, with small chances of their own. Since starts tell of the
wall alone and times of x*, slope and tail alone, the sums are apart and nothing is sampled.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from math import fsum
from statistics import median

import numpy as np

from tenaz.core.knobs.knob import Knob
from tenaz.core.loads.kinds import LoadKind
from tenaz.margins.hazard import Numbers
from tenaz.margins.parameter_grid import ParameterGrid, lattice_for
from tenaz.margins.priors import EdgePrior
from tenaz.margins.sightings import EdgeSighting

RETRAINS_WITHIN, RETRAINS_NEAR = 2.0, 0.3
"""A start comes up on a second training only so many cells from the wall with this chance; elsewhere hardly ever."""

STRAY_PER_H = 0.0002
"""Failures that no setting causes (a plug, a person, the supply of the house), beside those of the value: about so many
an hour. One failure at an easy value then weighs as much as many clean hours above it leave it.
"""

LEAST_WARMTH_SPREAD_K = 4.0
"""Less than that, and nothing can be learnt of what warmth does."""


@dataclass(frozen=True)
class LoadSeries:
    """One kind of load: the logarithm of the likelihood over (x*, slope, manner), the strains that failed, each as
    often as it did, and the hours of those that held.
    """

    log_likelihood: Numbers
    failures: tuple[float, ...] = ()
    held_h: Mapping[float, float] = field(default_factory=dict)
    hours: float = 0.0

    @property
    def failed(self) -> float | None:
        """The easiest strain that failed."""
        return min(self.failures, default=None)

    @property
    def held(self) -> float | None:
        """The hardest strain that held."""
        return max(self.held_h, default=None)

    @property
    def failed_once(self) -> bool:
        """Whether the easiest strain that failed did so once only."""
        return self.failed is not None and self.failures.count(self.failed) == 1

    @property
    def held_since_h(self) -> float:
        """Hours for which the easiest strain that failed held as well."""
        return 0.0 if self.failed is None else self.held_h.get(self.failed, 0.0)


@dataclass(frozen=True)
class Posterior:
    """``log_wall`` is the logarithm of the likelihood over places of the wall; ``usual_c`` the temperature at which its
    rates hold.
    """

    knob: Knob
    parameter_grid: ParameterGrid
    series: Mapping[LoadKind, LoadSeries]
    log_wall: Numbers
    usual_c: float | None = None
    stopped_at: float | None = None
    """The easiest strain at which it did not start."""
    drawn: dict[tuple[LoadKind, int], object] = field(default_factory=dict, init=False, compare=False, repr=False)
    """Samples that were drawn of it; see :mod:`tenaz.margins.samples`."""
    _weights: dict[LoadKind, Numbers] = field(default_factory=dict, init=False, compare=False, repr=False)

    # -- learning ----------------------------------------

    def update(self, kind: LoadKind, seen: EdgeSighting) -> "Posterior":
        """After one more sighting; the order in which independent ones come makes no difference."""
        return self.learn(kind, [seen])

    def learn(self, kind: LoadKind, seen: Sequence[EdgeSighting], starts_too: bool = True) -> "Posterior":
        """After several sightings under one kind of load. Trials under other loads say nothing new of starts once these
        were counted: ``starts_too`` False leaves them out.
        """
        strand = self.series.get(kind) or self._untouched
        log_likelihood, log_wall = strand.log_likelihood, self.log_wall
        for (strain, warmer_k), alike in sorted(self._alike(seen).items()):
            log_likelihood = log_likelihood + self._of_times(strain, warmer_k, alike)
        if starts_too:
            log_wall = log_wall + self._of_starts(seen)
        loaded = [one for one in seen if one.up and (one.clean_h or one.failed_by_h is not None)]
        held_h = dict(strand.held_h)
        for one in loaded:
            if not one.failed:
                held_h[one.strain] = held_h.get(one.strain, 0.0) + one.clean_h
        strand = LoadSeries(
            log_likelihood,
            (*strand.failures, *(one.strain for one in loaded if one.failed)),
            held_h,
            strand.hours + fsum(one.clean_h for one in loaded),
        )
        down = [one.strain for one in seen if not one.up]
        stopped = min([*down, *([] if self.stopped_at is None else [self.stopped_at])], default=None)
        return replace(self, series={**self.series, kind: strand}, log_wall=log_wall, stopped_at=stopped)

    def _alike(self, seen: Iterable[EdgeSighting]) -> dict[tuple[float, float], list[EdgeSighting]]:
        found: dict[tuple[float, float], list[EdgeSighting]] = {}
        for one in seen:
            warmer = 0.0 if one.warm_c is None or self.usual_c is None else round(one.warm_c - self.usual_c)
            found.setdefault((one.strain, warmer), []).append(one)
        return found

    def _of_times(self, strain: float, warmer_k: float, alike: Sequence[EdgeSighting]) -> Numbers:
        clean_h = fsum(sorted(one.clean_h for one in alike if one.up))
        failures = sorted((one.clean_h, one.failed_by_h) for one in alike if one.up and one.failed_by_h is not None)
        if not clean_h and not failures:
            return np.zeros(1)
        log_rate = np.minimum(self.parameter_grid.log_rates(strain, warmer_k), 50.0)
        rate = np.exp(log_rate)
        found: Numbers = -clean_h * rate
        exact = sum(by == at for at, by in failures)
        found += exact * np.logaddexp(log_rate, np.log(STRAY_PER_H))
        for at, by in failures:
            if by > at:
                found += np.log(np.maximum(-np.expm1(-(rate + STRAY_PER_H) * (by - at)), 1e-300))
        return found

    def _of_starts(self, seen: Sequence[EdgeSighting]) -> Numbers:
        beyond_up, beyond_down = np.log(self.parameter_grid.lucky_start), np.log1p(-self.parameter_grid.lucky_start)
        below_up, below_down = np.log1p(-self.parameter_grid.stray_start), np.log(self.parameter_grid.stray_start)
        counts: dict[float, tuple[int, int]] = {}
        for one in seen:
            up, down = counts.get(one.strain, (0, 0))
            counts[one.strain] = up + one.up, down + one.down
        found, middles = np.zeros(self.parameter_grid.wall.size), self.parameter_grid.wall_middles
        for strain, (up, down) in sorted(counts.items()):
            beyond = strain / self.parameter_grid.width >= middles
            found += np.where(beyond, up * beyond_up + down * beyond_down, up * below_up + down * below_down)
        for strain in sorted(one.strain for one in seen if one.retrained):
            near = np.abs(strain / self.parameter_grid.width - middles) <= RETRAINS_WITHIN
            found += np.log(np.where(near, RETRAINS_NEAR, self.parameter_grid.stray_start))
        return found

    # -- believing ----------------------------------------

    @property
    def _untouched(self) -> LoadSeries:
        return LoadSeries(np.zeros((1, 1, 1)))

    def log_wall_for(self, kind: LoadKind) -> Numbers:
        """What starts, and the series of all other kinds, say of the wall's place."""
        found = self.log_wall
        for other, strand in self.series.items():
            if other is not kind and strand.hours:
                log = self.parameter_grid.log_prior + strand.log_likelihood
                weight = np.exp(log - log.max()).sum(axis=2)
                found = found + self.parameter_grid.from_x_star(np.broadcast_to(weight, self.parameter_grid.shape[:2]))
        return found

    def weights(self, kind: LoadKind) -> Numbers:
        """How likely each belief is, (X, S, M), for one kind of load."""
        if kind not in self._weights:
            self._weights[kind] = self._weighed(kind)
        return self._weights[kind]

    def _weighed(self, kind: LoadKind) -> Numbers:
        strand = self.series.get(kind) or self._untouched
        log = self.parameter_grid.log_prior + self.parameter_grid.to_wall(self.log_wall_for(kind))[:, :, None]
        log = log + strand.log_likelihood
        found: Numbers = np.exp(log - log.max())
        found /= found.sum()
        return found


def prior_only(prior: EdgePrior, knob: Knob) -> Posterior:
    """What is believed before anything was seen."""
    parameter_grid = lattice_for(prior, knob)
    return Posterior(knob, parameter_grid, {}, np.zeros(parameter_grid.wall.size))


def posterior_of(
    prior: EdgePrior, knob: Knob, seen: Mapping[LoadKind, Sequence[EdgeSighting]], coarse: bool = False
) -> Posterior:
    """What is believed after everything that was seen, by kind of load. Starts are counted once: from the kind that has
    most sightings, since every trial is among those of every kind.
    """
    warm = [one.warm_c for sightings in seen.values() for one in sightings if one.warm_c is not None]
    spread = max(warm) - min(warm) >= LEAST_WARMTH_SPREAD_K if warm else False
    parameter_grid = lattice_for(prior, knob, measured_warmth=spread, coarse=coarse)
    usual_c = median(warm) if warm else None
    found = Posterior(knob, parameter_grid, {}, np.zeros(parameter_grid.wall.size), usual_c)
    first = True
    for kind, sightings in seen.items():
        found = found.learn(kind, sightings, starts_too=first)
        first = False
    return found
