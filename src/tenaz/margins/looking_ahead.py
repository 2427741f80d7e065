"""What a trial would teach: by how many steps the value that can be advised is expected to rise, and what it costs.

For each value and duration that could be tried, the chances of all outcomes (no start, a failure in one of some spans
of time, a pass) are worked out for a few hundred beliefs. The value that can be advised lies about as many standard
deviations of the edge below its mean as the purpose's doubt asks; so what narrows the edge raises it.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from statistics import NormalDist

import numpy as np

from tenaz.core.base.tolerance import Tolerance
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.trials.costs import Costs
from tenaz.margins.hazard import Numbers, log_tolerated
from tenaz.margins.posterior import Posterior
from tenaz.margins.samples import samples_of

SAMPLES, FAR_OUT = 400, 0.04
SPANS_H = np.array([4 / 3600, 10 / 3600, 25 / 3600, 1 / 60, 2.5 / 60, 4 / 60, 10 / 60, 24 / 60, 1.0, 2.0, 4.0, 8.0])
"""Between these times a failure is told apart."""


@dataclass(frozen=True, slots=True)
class Prospect:
    """A trial that could be made: strain, hours of load; the steps it is expected to gain, the hours it is expected to
    cost, and the chances that it does not start and that it fails under load.
    """

    strain: int
    hours: float
    gain_steps: float
    cost_h: float
    no_start: float
    fails: float

    @property
    def gain_per_h(self) -> float:
        """Steps gained an hour."""
        return self.gain_steps / self.cost_h


def prospects(
    posterior: Posterior,
    kind: LoadKind,
    tolerance: Tolerance,
    strains: Sequence[int],
    hours: Sequence[float],
    costs: Costs,
) -> list[Prospect]:
    """What trials of each duration at each strain would teach and cost."""
    samples = samples_of(posterior, kind, log_tolerated(tolerance.failures, tolerance.hours), SAMPLES)
    parameter_grid = posterior.parameter_grid
    at = np.array(strains, dtype=float) / parameter_grid.width
    beyond = at[None, :] >= samples.wall[:, None]
    # A lucky start beyond the wall would teach much, and nobody can count on one: none is reckoned with.
    down = np.where(beyond, 1.0, parameter_grid.stray_start)
    rates = samples.rates(at)
    ends = _ends(tuple(hours))
    survive = np.exp(-rates[:, :, None] * ends)
    # Of every outcome only its chance and the edge's first two moments under it are needed, and these are linear: what
    # fails within a span is what survived until then, less what survived it.
    # What lies far out, like a rig that is unlike all others, is not what a trial is made for.
    near = np.clip(samples.edge, *np.quantile(samples.edge, (FAR_OUT, 1.0 - FAR_OUT)))
    edge = near - near.mean()
    moments = np.stack([np.ones_like(edge), edge, edge * edge]) / edge.size
    up = 1.0 - down
    starts_not, starts, survives = (np.tensordot(moments, one, 1) for one in (down, up, up[:, :, None] * survive))
    failing = np.concatenate([starts[:, :, None], survives[:, :, :-1]], axis=2) - survives
    found = []
    for one in hours:
        n = int(np.searchsorted(ends, one)) + 1
        outcomes = np.concatenate([starts_not[:, :, None], failing[:, :, :n], survives[:, :, n - 1 : n]], axis=2)
        found += _prospects(outcomes, float(edge.std()), strains, ends[:n], tolerance, costs, parameter_grid.width)
    return found


@lru_cache(maxsize=16)
def _ends(hours: tuple[float, ...]) -> Numbers:
    """Where spans of time end: the usual places, and every duration that could be run."""
    return np.unique(np.concatenate([SPANS_H[max(hours) > SPANS_H], np.array(hours)]))


def _prospects(
    outcomes: Numbers,
    spread: float,
    strains: Sequence[int],
    ends: Numbers,
    tolerance: Tolerance,
    costs: Costs,
    width: int,
) -> list[Prospect]:
    """Of one duration: ``outcomes`` are (chance, edge, edge squared) by strain and outcome: no start, a failure within
    each span, a pass.
    """
    hours = float(ends[-1])
    chance = np.maximum(outcomes[0], 0.0)
    mean, square = outcomes[1:] / np.maximum(chance, 1e-12)
    left = (chance * np.sqrt(np.maximum(square - mean * mean, 0.0))).sum(axis=1)
    gain = np.maximum(spread - left, 0.0) * NormalDist().inv_cdf(tolerance.confidence) * width
    fails = chance[:, 1:-1]
    cost_h = _cost_h(chance[:, 0], fails, chance[:, -1], ends, costs)
    numbers = np.stack([gain, cost_h, chance[:, 0], fails.sum(axis=1)], axis=1).tolist()
    return [Prospect(strain, hours, *row) for strain, row in zip(strains, numbers, strict=True)]


def _cost_h(no_start: Numbers, fails: Numbers, holds: Numbers, ends: Numbers, costs: Costs) -> Numbers:
    """Hours that trials of one duration are expected to cost, by the chances of their outcomes; those that fail, fail
    about in the middle of a span.
    """
    about = np.concatenate([ends[:1] / 2, np.sqrt(ends[1:] * ends[:-1])])
    cost_s = no_start * costs.no_start_s + (1 - no_start) * (costs.enter_s + costs.boot_s)
    cost_h: Numbers = cost_s / 3600 + fails @ (about + costs.crash_s / 3600) + holds * float(ends[-1])
    return cost_h


@dataclass(frozen=True, slots=True)
class Rise:
    """A trial at ``strain`` for ``hours``: by how many steps the hardest value that can be advised is expected to rise,
    what it costs in hours, and the chances that it does not start or that it fails.
    """

    strain: int
    hours: float
    steps: float
    cost_h: float
    no_start: float
    fails: float


def rises(
    posterior: Posterior,
    kind: LoadKind,
    tolerance: Tolerance,
    strains: Sequence[int],
    hours: Sequence[float],
    costs: Costs,
) -> list[Rise]:
    """What trials would bring, worked out outcome by outcome: of a few hundred beliefs, each outcome leaves some more
    likely; the value that could be advised then is that which all but the purpose's doubt of them lie above.
    """
    samples = samples_of(posterior, kind, log_tolerated(tolerance.failures, tolerance.hours), SAMPLES)
    parameter_grid, doubt = posterior.parameter_grid, 1.0 - tolerance.confidence
    order = np.argsort(samples.edge, kind="stable")
    edge = samples.edge[order]
    at = np.array(strains, dtype=float) / parameter_grid.width
    down = np.where(at[None, :] >= samples.wall[order, None], 1.0, parameter_grid.stray_start)
    rates = samples.rates(at)[order]
    ends = _ends(tuple(hours))
    survive = (1.0 - down)[:, :, None] * np.exp(-rates[:, :, None] * ends)
    failing = np.concatenate([(1.0 - down)[:, :, None], survive[:, :, :-1]], axis=2) - survive
    before = float(np.quantile(edge, doubt))
    found = []
    weighed = np.concatenate([down[:, :, None], failing, survive], axis=2) / edge.size
    chance = weighed.sum(axis=0)
    known = np.cumsum(weighed, axis=0)
    # The place at which the beliefs that an outcome leaves reach the doubt: the value that could be advised then.
    place = (known < doubt * chance).sum(axis=0)
    advised = edge[np.minimum(place, edge.size - 1)]
    gain = chance * (advised - before)
    for one in hours:
        n = int(np.searchsorted(ends, one)) + 1
        fails, holds = slice(1, 1 + n), 1 + ends.size + n - 1
        steps = (gain[:, 0] + gain[:, fails].sum(axis=1) + gain[:, holds]) * parameter_grid.width
        cost = _cost_h(chance[:, 0], chance[:, fails], chance[:, holds], ends[:n], costs)
        rows = np.stack([steps, cost, chance[:, 0], chance[:, fails].sum(axis=1)], axis=1).tolist()
        found += [Rise(strain, one, *row) for strain, row in zip(strains, rows, strict=True)]
    return found
