"""What may be at fault, how sure: every cause and every pair of causes, weighed by all that was seen.

Each cause has a severity, unknown. Under a load a cause fails at its rate while it can make itself felt as the parts
stand; of two causes the rates add. A load that held speaks by the failures that were to be expected and did not come
(exponential times to failure, after warming up); one that failed by its time, its end, and what it left. Exact over all
of these: Bayes' rule on a grid.
"""

from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

from tenaz.finding.causes import NOTHING, Cause, Suspect
from tenaz.finding.evidence import FaultEvidence
from tenaz.finding.grid import Grid, KnownOfFaults, Numbers
from tenaz.finding.learnt import Learnt, learnt
from tenaz.finding.maps import map_in_words

if TYPE_CHECKING:
    from tenaz.finding.sightings import FaultSighting

PRIOR = "before anything was known"


class Belief:
    """Weights over causes and pairs; made anew from all that is known."""

    def __init__(self, known: KnownOfFaults, table: Learnt | None = None) -> None:
        self.known, self.table = known, table or learnt()
        self.grid = Grid(known, self.table)
        self.causes = self.grid.causes
        self.parts = tuple(dict.fromkeys(one.suspect for one in self.causes))
        by_cause = np.array([self.parts.index(one.suspect) for one in self.causes] + [-1])
        first, second = by_cause[self.grid.first], by_cause[self.grid.second]
        self._of_parts = [(first == number) | (second == number) for number in range(len(self.parts))]
        log = self.grid.prior()
        self.trail: list[tuple[FaultSighting | str, Numbers]] = [(PRIOR, self._odds(log))]
        """After each thing that is known, the logarithms of the odds of each part: what speaks for which."""
        evidence = FaultEvidence(self.grid)
        for what, term in evidence.terms():
            log = log + term
            self.trail.append((what, self._odds(log)))
        self.weights: Numbers = _normal(log)
        self._by_map = evidence.by_map

    def _odds(self, log: Numbers) -> Numbers:
        by_pair = _normal(log).sum(axis=(1, 2))
        found = np.array([by_pair[mask].sum() for mask in self._of_parts])
        return np.asarray(np.log(np.maximum(found, 1e-12)) - np.log(np.maximum(1 - found, 1e-12)))

    @cached_property
    def by_pair(self) -> Numbers:
        """Chance of each pair, severities summed up."""
        return np.asarray(self.weights.sum(axis=(1, 2)))

    @property
    def address_map(self) -> str:
        """How addresses go to channels, where that was learnt."""
        return map_in_words(self.by_pair @ self._by_map)

    @cached_property
    def by_cause(self) -> Numbers:
        """Chance that each cause is there."""
        count = len(self.causes) + 1
        found = np.bincount(self.grid.first, self.by_pair, count) + np.bincount(self.grid.second, self.by_pair, count)
        return np.asarray(found[:-1], dtype=np.float64)

    @cached_property
    def suspects(self) -> tuple[tuple[Suspect, float], ...]:
        """Chance that each part is at fault, likeliest first; with two faults both are."""
        found: dict[Suspect, float] = {}
        for cause, sure in zip(self.causes, self.by_cause.tolist(), strict=True):
            found[cause.suspect] = found.get(cause.suspect, 0.0) + sure
        return tuple(sorted(found.items(), key=lambda item: (-item[1], item[0].part, item[0].place)))

    def sure_of(self, suspect: Suspect) -> float:
        """Chance that one part is at fault."""
        return dict(self.suspects).get(suspect, 0.0)

    @property
    def nothing(self) -> float:
        """Chance that nothing that is looked at is at fault."""
        return self.sure_of(NOTHING)

    def kinds_of(self, suspect: Suspect) -> tuple[tuple[Cause, float], ...]:
        """What may be wrong with a part, likeliest first."""
        found = [(one, float(s)) for one, s in zip(self.causes, self.by_cause, strict=True) if one.suspect == suspect]
        return tuple(sorted(found, key=lambda item: -item[1]))


def _normal(log: Numbers) -> Numbers:
    weights = np.exp(log - log.max())
    return np.asarray(weights / weights.sum())
