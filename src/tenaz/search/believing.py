"""What a strategy believes of the edge on its line: kept up to date trial by trial, the same whatever the order."""

from collections import Counter
from collections.abc import Sequence

import numpy as np

from tenaz.core.base.amounts import show_sure
from tenaz.core.evidence.edge import EdgeEstimate
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.searches.search import SearchGround, TrialFacts
from tenaz.margins.doubts import Misfit, misfits
from tenaz.margins.edge import edge_of
from tenaz.margins.hazard import log_tolerated
from tenaz.margins.judging import judged_kinds, least_sure, to_stand_at
from tenaz.margins.looking_ahead import Prospect, prospects
from tenaz.margins.posterior import Posterior, posterior_of, prior_only
from tenaz.margins.priors import EdgePrior, prior_for, prior_in
from tenaz.margins.safety import MOST_FURTHER
from tenaz.margins.samples import samples_of
from tenaz.margins.sightings import EdgeSighting, sightings_of

MOST_STRAINS = 24
MOST_TRIES = 12
"""One value was once tried 78 times for ten minutes, and failed at once each time."""
LIKELY = 0.02
"""Values are looked at from where x* is hardly ever to where the wall hardly ever is."""
BELOW_STEPS = 6
HARDLY_FAILS = 0.1


class Belief:
    """Of one ground: its posterior under the load of the search, and under each other kind that failed there."""

    def __init__(self, ground: SearchGround, prior: EdgePrior | None = None) -> None:
        self.ground = ground
        self.prior = prior or (prior_in(ground.experience) if ground.experience else prior_for(ground.knob))
        self.posterior: Posterior = prior_only(self.prior, ground.knob)
        self._seen: list[TrialFacts] = []
        self._sightings: list[EdgeSighting] = []
        self._warm = False
        self._kinds: tuple[LoadKind, ...] | None = None

    @property
    def kinds(self) -> tuple[LoadKind, ...]:
        """The kinds of load whose edges are judged; see :func:`tenaz.margins.judging.judged_kinds`."""
        if self._kinds is None:
            ground = self.ground
            limit = ground.knob.strain(ground.limits[0])
            self._kinds = judged_kinds(self.posterior, ground.load.kind, ground.purpose, limit, ground.stock)
        return self._kinds

    def take(self, seen: Sequence[TrialFacts]) -> None:
        """Learn of more trials."""
        self._seen += seen
        self._kinds = None
        own, knob = self.ground.load.kind, self.ground.knob
        self._sightings += sightings_of(knob, seen, own, self.ground.purpose.least_reach(own))
        others = {kind for one in self._seen for kind in one.kinds if kind is not own}
        least = self.ground.purpose.least_reach
        self._warm = self._warm or any(one.facts.sensors for one in seen)
        if others or self._warm:
            found = {
                kind: sightings_of(knob, self._seen, kind, least(kind)) for kind in (own, *sorted(others, key=str))
            }
            self.posterior = posterior_of(self.prior, knob, found)
        else:
            self.posterior = self.posterior.learn(own, sightings_of(knob, seen, own, least(own)))

    def slope_steps(self) -> float:
        """Over how many grid steps failures grow e-fold, by what is believed now: as likely less as more."""
        weights = np.cumsum(self.posterior.weights(self.ground.load.kind).sum(axis=(0, 2)))
        grid = self.posterior.parameter_grid
        return float(grid.slope[int(np.searchsorted(weights, weights[-1] / 2))] * grid.width)

    def edge(self) -> EdgeEstimate:
        """The edge of the purpose, under the worst of the kinds."""
        return edge_of(self.posterior, self.kinds, self.ground.purpose.tolerance)

    def unsure_of(self, strain: int) -> list[LoadKind]:
        """Loads that the purpose asks for, that are not judged yet, and that may fall short of it at a strain."""
        tolerance = self.ground.purpose.tolerance
        return [
            kind
            for kind, _ in self.ground.purpose.hours_asked
            if kind not in self.kinds
            and edge_of(self.posterior, (kind,), tolerance).tolerated(strain) < tolerance.confidence
        ]

    def sure_words(self, strain: int) -> str:
        """How sure it is that a strain is tolerated, and under which load: the one that is least sure."""
        sure, kind = least_sure(self.posterior, self.kinds, self.ground.purpose, strain)
        return f"{show_sure(sure)} sure under {kind}"

    def likely_to_hold(self, strain: int, hours: float) -> int | None:
        """The hardest of the next strains that most likely holds so long under the load of the search."""
        most = min(self.ground.knob.strain(self.ground.limits[0]), strain + MOST_FURTHER)
        looked = self.prospects(range(strain + 1, most + 1), (hours,)) if most > strain else []
        return max((one.strain for one in looked if one.no_start + one.fails < HARDLY_FAILS), default=None)

    def tried(self, kind: LoadKind, strain: int) -> bool:
        """Whether anything so hard ran under a kind of load."""
        strand = self.posterior.series.get(kind)
        return strand is not None and any(at is not None and at >= strain for at in (strand.held, strand.failed))

    def to_stand_at(self, edge: EdgeEstimate) -> int | None:
        """The hardest strain that can be advised; None where not even the easiest value can."""
        limit = self.ground.knob.strain(self.ground.limits[0])
        return to_stand_at(self.posterior, edge, self.ground.purpose, limit, self.ground.stock)

    def contradiction(self) -> Misfit | None:
        """A failure that hardly had a chance, and was not repeated."""
        found = misfits(self.posterior, self.ground.load.kind, self._sightings)
        return next((one for one in reversed(found) if one.failed), None)

    def strains(self) -> list[int]:
        """Those worth a look: where failures, passes and starts are all but certain nothing is learnt."""
        knob, parameter_grid = self.ground.knob, self.posterior.parameter_grid
        tolerance = self.ground.purpose.tolerance
        found = samples_of(self.posterior, self.kinds[0], log_tolerated(tolerance.failures, tolerance.hours), 200)
        easiest = knob.ends[0]
        most = min(knob.strain(self.ground.limits[0]), self._within_reach())
        low = int(np.floor((np.quantile(found.x_star, LIKELY) - BELOW_STEPS) * parameter_grid.width))
        high = int(np.ceil((np.quantile(found.wall, 1 - LIKELY) + 1) * parameter_grid.width))
        low, high = min(max(easiest, low), most), max(min(most, high), easiest)
        count = min(MOST_STRAINS, high - low + 1)
        found_there = sorted({int(one) for one in np.round(np.linspace(low, high, max(1, count)))})
        return [one for one in found_there if one not in self.worn_out] or found_there

    @property
    def worn_out(self) -> frozenset[int]:
        """Strains that were tried so often that one more trial there says nothing new: no search goes on there."""
        tries = Counter(round(one.strain) for one in self._sightings)
        return frozenset(strain for strain, count in tries.items() if count >= MOST_TRIES)

    def _within_reach(self) -> int:
        """The hardest strain that may be tried next: so many steps past what held, or past where it begins."""
        ground = self.ground
        if ground.leap is None:
            return ground.knob.ends[1]
        base = ground.base[ground.knob.name]
        held = [strand.held for strand in self.posterior.series.values() if strand.held is not None]
        first = ground.knob.strain(base) if isinstance(base, int) else ground.knob.ends[0]
        return int(max([first, *held])) + ground.leap

    def prospects(self, strains: Sequence[int], hours: Sequence[float]) -> list[Prospect]:
        """What trials there would teach, under every kind whose edge is judged; the first is the search's own."""
        return prospects(
            self.posterior, self.kinds[0], self.ground.purpose.tolerance, strains, hours, self.ground.costs
        )
