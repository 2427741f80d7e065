"""Which trial of a later visit tells most whether an edge has moved: by what each story expects to come of it.

Three stories: the edge is where it was; it lies so many steps nearer; it lies farther (as
:mod:`tenaz.margins.drift` has them). What a trial tells is by how much it is expected to lessen the doubt which of them
is so (mutual information), for each hour that it costs.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tenaz.core.base.amounts import to_digits
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.trials.costs import Costs
from tenaz.margins.drift import DIFFERS_STEPS, MOVED_BEFORE, USUAL_MOVE_STEPS, WALL_ALONG
from tenaz.margins.hazard import Numbers
from tenaz.margins.posterior import STRAY_PER_H, Posterior
from tenaz.margins.samples import MOST_FOLDS, Samples, samples_of
from tenaz.margins.sightings import EdgeSighting

SAMPLES, FARTHEST_STEPS = 300, 9
MOST_STRAINS, BINS = 24, 5
FIRST_H = 0.5 / 60
"""Failures that come sooner are not told apart."""
HOURS = (10 / 60, 24 / 60, 1.0)
VISIT_H = 2.0
"""Nobody pays for more of it."""


@dataclass(frozen=True, slots=True)
class Telling:
    """A trial of a visit: strain, hours of load, what part of the doubt it is expected to take away, what it costs, and
    the chance that it fails or does not start, were the edge where it was.
    """

    strain: int
    hours: float
    tells: float
    cost_h: float
    fails: float


class Visit:
    """What both stories expect, after what was seen ``now``, of one knob under one kind of load."""

    def __init__(self, then: Posterior, now: Sequence[EdgeSighting], kind: LoadKind) -> None:
        self._width = then.parameter_grid.width
        self._samples: Samples = samples_of(then, kind, 0.0, SAMPLES)
        self._stray = then.parameter_grid.stray_start, then.parameter_grid.lucky_start
        self._ends = then.knob.ends
        once: Numbers = np.arange(-FARTHEST_STEPS, FARTHEST_STEPS + 1, dtype=np.float64)
        usual = np.exp(-0.5 * (once / USUAL_MOVE_STEPS) ** 2) * (np.abs(once) >= DIFFERS_STEPS)
        still = MOVED_BEFORE * usual / usual.sum() + (1 - MOVED_BEFORE) * (once == 0)
        # Each move twice: the wall moved along, or lies behind the edge as it does on another belief.
        self.moves: Numbers = np.concatenate([once, once])
        before = np.concatenate([WALL_ALONG * still, (1 - WALL_ALONG) * still])
        along = self._samples.wall[:, None] + once / self._width
        behind = np.roll(self._samples.wall - self._samples.x_star, SAMPLES // 2)
        apart = (self._samples.x_star + behind)[:, None] + once / self._width
        self._walls: Numbers = np.concatenate([along, apart], axis=1)
        log = np.log(before)[None, :] + np.zeros((SAMPLES, 1))
        for one in now:
            log += self._log_likelihood(one)
        weights: Numbers = np.exp(log - log.max())
        self._weights: Numbers = weights / weights.sum()

    @property
    def stories(self) -> tuple[float, float, float]:
        """How likely each is now: nearer, as it was, farther."""
        chances = self._by_story(self._weights[:, :, None])[:, 0]
        return float(chances[0]), float(chances[1]), float(chances[2])

    def best(self, hours_left: float, costs: Costs, hardest: int | None = None) -> Telling | None:
        """The trial that tells most for what it costs, no harder than ``hardest``; None where no time is left."""
        strains = [one for one in self._strains() if hardest is None or one <= hardest]
        found = [one for hours in HOURS for one in self._looked_at(strains, hours, costs) if one.cost_h <= hours_left]
        return max(found, key=lambda one: (to_digits(one.tells / one.cost_h, 5), -one.strain), default=None)

    # -- what is expected ----------------------------------------

    def _log_rates(self, strain: float) -> Numbers:
        """At a strain, were the edge moved by each of the moves: (samples, moves)."""
        return np.minimum(self._samples.log_rates((strain - self.moves) / self._width), MOST_FOLDS)

    def _beyond(self, strain: float) -> NDArray[np.bool_]:
        """Whether it lies past the wall."""
        found: NDArray[np.bool_] = strain / self._width >= self._walls
        return found

    def _log_likelihood(self, one: EdgeSighting) -> Numbers:
        stray, lucky = self._stray
        beyond = self._beyond(one.strain)
        up, down = np.where(beyond, lucky, 1 - stray), np.where(beyond, 1 - lucky, stray)
        found: Numbers = np.log(up) * one.up + np.log(down) * one.down
        if one.up and (one.clean_h or one.failed_by_h is not None):
            log_rate = self._log_rates(one.strain)
            rate = np.exp(log_rate)
            found = found - rate * one.clean_h
            if one.failed_by_h is not None:
                within = one.failed_by_h - one.clean_h
                ended = np.log(np.maximum(-np.expm1(-(rate + STRAY_PER_H) * within), 1e-300))
                found += ended if within > 0 else np.logaddexp(log_rate, np.log(STRAY_PER_H))
        return found

    def _by_story(self, weighed: Numbers) -> Numbers:
        """Summed over all beliefs that tell the same story: (3, …)."""
        nearer, farther = self.moves <= -DIFFERS_STEPS, self.moves >= DIFFERS_STEPS
        parts = (weighed[:, chosen].sum(axis=(0, 1)) for chosen in (nearer, ~(nearer | farther), farther))
        return np.stack(list(parts))

    def _strains(self) -> list[int]:
        """From where hardly anything fails to past the wall."""
        low = np.quantile(self._samples.x_star, 0.05) * self._width - 2 * USUAL_MOVE_STEPS
        high = np.quantile(self._samples.wall, 0.95) * self._width + 1
        begin, end = max(self._ends[0], int(low)), min(self._ends[1], int(high))
        count = max(1, min(MOST_STRAINS, end - begin + 1))
        return sorted({round(one) for one in np.linspace(begin, max(begin, end), count)})

    def _looked_at(self, strains: Sequence[int], hours: float, costs: Costs) -> list[Telling]:
        ends = np.geomspace(FIRST_H, hours, BINS)
        doubt = _doubt(np.array(self.stories)[:, None])[0]
        found = []
        for strain in strains:
            down = np.where(self._beyond(strain), 1.0, self._stray[0])
            lives = (1 - down)[:, :, None] * np.exp(-np.exp(self._log_rates(strain))[:, :, None] * ends)
            fails = np.concatenate([(1 - down)[:, :, None], lives[:, :, :-1]], axis=2) - lives
            ways = np.concatenate([down[:, :, None], fails, lives[:, :, -1:]], axis=2) * self._weights[:, :, None]
            joint = self._by_story(ways)
            chance = joint.sum(axis=0)
            left = float((chance * _doubt(joint / np.maximum(chance, 1e-300))).sum())
            times = np.concatenate([ends[:1] / 2, (ends[1:] + ends[:-1]) / 2])
            cost_s = costs.enter_s + chance[0] * costs.no_start_s + (1 - chance[0]) * costs.boot_s
            cost_s += float(chance[1:-1] @ (times * 3600 + costs.crash_s)) + float(chance[-1]) * hours * 3600
            same = joint[1] / max(float(joint[1].sum()), 1e-300)
            tells = max(0.0, (doubt - left) / max(doubt, 1e-9))
            found.append(Telling(strain, hours, tells, cost_s / 3600, float(1 - same[-1])))
        return found


def _doubt(chances: Numbers) -> Numbers:
    """The entropy of the stories, in nats: along the first axis."""
    found: Numbers = -(chances * np.log(np.maximum(chances, 1e-300))).sum(axis=0)
    return found
