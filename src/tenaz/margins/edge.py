"""Where the edge of a purpose lies, out of what is believed: as chances, as an interval, as a value to stand at."""

from collections.abc import Sequence
from functools import lru_cache

import numpy as np

from tenaz.core.base.tolerance import Tolerance
from tenaz.core.evidence.edge import EdgeEstimate
from tenaz.core.knobs.knob import Knob
from tenaz.core.loads.kinds import LoadKind
from tenaz.margins.hazard import Numbers, log_tolerated
from tenaz.margins.parameter_grid import EDGE_CELLS_A_STEP
from tenaz.margins.posterior import STRAY_PER_H, Posterior, prior_only
from tenaz.margins.priors import EdgePrior
from tenaz.margins.samples import samples_of

INTERVAL = 0.95


def edge_chances(
    posterior: Posterior, kind: LoadKind, tolerance: Tolerance, usual_tail: bool = False
) -> tuple[int, Numbers]:
    """The chance of the edge lying in each fine cell (:data:`EDGE_CELLS_A_STEP` a cell), and the first one's
    place. A value that failed lies outside the edge, as far as that was its own doing (:func:`blame`): a failure that
    many clean hours at harder values speak against leaves both possible. With ``usual_tail`` as if only the prior's
    first tail were so.
    """
    parameter_grid, weights = posterior.parameter_grid, posterior.weights(kind)
    first, place = parameter_grid.edge_cells(log_tolerated(tolerance.failures, tolerance.hours))
    if usual_tail:
        weights = weights * np.array([one == parameter_grid.tails[0] for one in parameter_grid.tails])
    chances: Numbers = np.bincount(place, weights=(weights / weights.sum()).ravel()).astype(np.float64)
    strand = posterior.series.get(kind)
    if strand is not None and strand.failed is not None:
        its_own = blame(posterior, kind)
        chances = its_own * _below(chances, first, strand.failed, parameter_grid.width) + (1.0 - its_own) * chances
    if posterior.stopped_at is not None:
        chances = _below(chances, first, posterior.stopped_at, parameter_grid.width)
    return first, chances


def _below(chances: Numbers, first: int, strain: float, width: int) -> Numbers:
    """The same, were the edge below a strain; as they are where that cannot be."""
    end = max(1, int(np.ceil(strain / width * EDGE_CELLS_A_STEP)) - first)
    kept = chances[:end].sum()
    return np.concatenate([chances[:end] / kept, np.zeros(chances[end:].size)]) if kept > 0 else chances


BEYOND_DOUBT, REPEATED_H = 0.1, 2.0
"""A failure that is less likely to be its value's doing, where the value held so long besides, was a stray one."""


def was_stray(posterior: Posterior, kind: LoadKind) -> bool:
    """Whether the easiest failure under a load is not held against its value any more."""
    strand = posterior.series.get(kind)
    return strand is not None and strand.held_since_h >= REPEATED_H and blame(posterior, kind) < BEYOND_DOUBT


def blame(posterior: Posterior, kind: LoadKind) -> float:
    """How likely the easiest failure under a load was the doing of its value, and no stray one: its rate there by all
    that was seen, against that of strays. What failed twice at one value is none.
    """
    strand = posterior.series.get(kind)
    if strand is None or strand.failed is None or not strand.failed_once:
        return 1.0
    samples = samples_of(posterior, kind, 0.0, BLAME_SAMPLES)
    at = np.array([strand.failed / posterior.parameter_grid.width])
    rates = samples.rates(at)[:, 0]
    return float(np.mean(rates / (rates + STRAY_PER_H)))


BLAME_SAMPLES = 200


def hardest_of_all(chances: Sequence[tuple[int, Numbers]]) -> tuple[int, Numbers]:
    """The edge of several series together: the lowest of theirs, as if each knew nothing of the others."""
    if len(chances) == 1:
        return chances[0]
    first = min(begin for begin, _ in chances)
    end = max(begin + found.size for begin, found in chances)
    beyond = np.ones(end - first)
    for begin, found in chances:
        own = np.ones(end - first)
        own[begin - first : begin - first + found.size] = 1.0 - np.cumsum(found)
        own[begin - first + found.size :] = 0.0
        beyond *= np.clip(own, 0.0, 1.0)
    return first, -np.diff(np.concatenate([[1.0], beyond]))


def edge_of(
    posterior: Posterior,
    kinds: Sequence[LoadKind],
    tolerance: Tolerance,
    before: EdgePrior | None = None,
    confidence: float = INTERVAL,
) -> EdgeEstimate:
    """The edge of a purpose under one kind of load, or under the worst of several. ``before``: the prior, to be shown
    beside it.

    Interval and median hold if failures die out before the edge as is usual; the chances, from which a value to stand
    at is taken, allow for a tail that is flatter. No data of some hours tells one from the other: so the first says
    where the edge most likely is, and the second keeps clear of where it might be.
    """
    first, fine = hardest_of_all([edge_chances(posterior, kind, tolerance) for kind in kinds])
    begin, usual = hardest_of_all([edge_chances(posterior, kind, tolerance, usual_tail=True) for kind in kinds])
    parameter_grid = posterior.parameter_grid
    place, chance = _whole_cells(first, fine)
    low, median, high = _bounds(usual, confidence)
    cell = parameter_grid.width / EDGE_CELLS_A_STEP
    past = (parameter_grid.highest / parameter_grid.width + 1.0) * EDGE_CELLS_A_STEP - first
    return EdgeEstimate(
        low=(begin + low) * cell,
        median=(begin + median) * cell,
        high=(begin + high) * cell,
        confidence=confidence,
        first=place * parameter_grid.width,
        chance=tuple(chance.tolist()),
        width=parameter_grid.width,
        before=_before(before, posterior.knob, tolerance, place, chance.size) if before else (),
        tolerance=tolerance,
        beyond=float(fine[max(0, int(np.ceil(past))) :].sum()),
    )


@lru_cache(maxsize=64)
def _before(prior: EdgePrior, knob: Knob, tolerance: Tolerance, first: int, count: int) -> tuple[float, ...]:
    """The same cells before anything was seen."""
    begin, fine = edge_chances(prior_only(prior, knob), LoadKind.MARCH, tolerance)
    place, chance = _whole_cells(begin, fine)
    found = np.zeros(count)
    for k in range(count):
        at = first + k - place
        if 0 <= at < chance.size:
            found[k] = chance[at]
    return tuple(found.tolist())


def _whole_cells(first: int, fine: Numbers) -> tuple[int, Numbers]:
    place = first // EDGE_CELLS_A_STEP
    lead = first - place * EDGE_CELLS_A_STEP
    padded = np.concatenate([np.zeros(lead), fine, np.zeros(-(lead + fine.size) % EDGE_CELLS_A_STEP)])
    return place, padded.reshape(-1, EDGE_CELLS_A_STEP).sum(axis=1)


def _bounds(fine: Numbers, confidence: float) -> tuple[float, float, float]:
    """The shortest stretch that holds the interval's chance, and the median between; in fine cells."""
    known = np.concatenate([[0.0], np.cumsum(fine)])
    known /= known[-1]
    rising = known + 1e-13 * np.arange(known.size)
    begin = np.linspace(0.0, 1.0 - confidence, 201)
    places = np.arange(known.size, dtype=float)
    low, high = (np.interp(part, rising, places) for part in (begin, begin + confidence))
    best = int(np.argmin(np.round(high - low, 9)))
    return float(low[best]), float(np.interp(0.5, rising, places)), float(high[best])
