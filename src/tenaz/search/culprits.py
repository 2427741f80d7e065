"""Which of many values moved together is it? The belief over culprits, and the sub-group that tells most.

One value alone, either of two, two that fail only together, or none (a stray failure): each such story is weighed
exactly after every trial.
A sub-group that holds a culprit may still pass (failure is chance), one that holds none may fail of something else.
What is tried next has the greatest mutual information with the story (Bayesian group testing; Dorfman 1943 is its
simplest case).
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

NONE, ONE, EITHER, TOGETHER = 0.02, 0.58, 0.25, 0.15
"""Before anything was tried: how often it is none, one alone, either of two, or two that fail only together."""
STRAY = 0.01
"""Chance that a sub-group without a culprit fails all the same."""
ROUNDS = 4
"""Times that the best sub-group is looked at with one or two values changed."""
DRAWN = 60
SEED = 16

Chances = NDArray[np.float64]
Groups = NDArray[np.bool_]


@dataclass(frozen=True, slots=True)
class Story:
    """Values by their places (none: nothing in the group fails), and whether they fail only ``together``."""

    places: tuple[int, ...]
    together: bool = False


class Culprits:
    """What is believed of ``count`` values; ``false_pass`` is the chance that a trial with a culprit in it passes."""

    def __init__(self, count: int, false_pass: float) -> None:
        self.count = count
        pairs = tuple(combinations(range(count), 2))
        self.stories = (
            Story(()),
            *(Story((one,)) for one in range(count)),
            *(Story(pair) for pair in pairs),
            *(Story(pair, True) for pair in pairs),
        )
        parts = [np.full(len(pairs), part / max(1, len(pairs))) for part in (EITHER, TOGETHER)]
        weights = np.concatenate([[NONE], np.full(count, ONE / count), *parts])
        self._log = np.log(weights)
        self._holds = np.zeros((len(self.stories), count), bool)
        for row, story in enumerate(self.stories):
            self._holds[row, list(story.places)] = True
        self._needs = np.array([2 if story.together else 1 for story in self.stories])
        self._fails, self._false_pass = 1.0 - false_pass, false_pass

    @property
    def weights(self) -> Chances:
        """How likely each story is."""
        found: Chances = np.exp(self._log - self._log.max())
        found /= found.sum()
        return found

    @property
    def likeliest(self) -> tuple[Story, float]:
        """The likeliest story, and its chance."""
        weights = self.weights
        at = int(weights.argmax())
        return self.stories[at], float(weights[at])

    def suspicion(self) -> Chances:
        """Of each value, the chance that it has a part in it."""
        suspicion: Chances = self.weights @ self._holds
        return suspicion

    def take(self, group: Sequence[bool], failed: bool) -> None:
        """A trial with these values at their new value, all others as before."""
        chance = self._failing(np.array([group], bool))[:, 0]
        self._log = self._log + np.log(chance if failed else 1.0 - chance)

    def bits(self) -> float:
        """How much is not known yet."""
        weights = self.weights
        return float(-(weights * np.log2(np.maximum(weights, 1e-300))).sum())

    def next_groups(self) -> list[tuple[tuple[bool, ...], float]]:
        """Sub-groups that tell most, the best first, with the bits that each tells."""
        groups = self._first_groups()
        best, told = groups[0], -1.0
        found: dict[bytes, tuple[tuple[bool, ...], float]] = {}
        for _ in range(ROUNDS):
            bits = self._information(groups)
            for at in np.argsort(-bits)[:8]:
                found[groups[at].tobytes()] = tuple(bool(one) for one in groups[at]), float(bits[at])
            if bits.max() <= told + 1e-9:
                break
            best, told = groups[int(bits.argmax())], float(bits.max())
            groups = self._around(best)
        return sorted(found.values(), key=lambda one: -one[1])

    def told_by(self, groups: Sequence[Sequence[bool]]) -> list[float]:
        """The bits that each of these sub-groups tells."""
        return [float(one) for one in self._information(np.array(groups, bool))]

    def _failing(self, groups: Groups) -> Chances:
        """Of each story and sub-group, the chance that a trial fails: (stories, groups)."""
        active = (self._holds.astype(np.int64) @ groups.T.astype(np.int64)) >= self._needs[:, None]
        return np.where(active, self._fails, STRAY)

    def _information(self, groups: Groups) -> Chances:
        weights, chances = self.weights, self._failing(groups)
        found: Chances = _entropy(weights @ chances) - weights @ _entropy(chances)
        # The whole group, and none of it, are known.
        size = groups.sum(axis=1)
        return np.where((size == 0) | (size == self.count), -1.0, found)

    def _first_groups(self) -> Groups:
        """By suspicion: the first so many, the others, every second; and some drawn."""
        order = np.argsort(-self.suspicion(), kind="stable")
        rows = []
        for size in range(1, self.count):
            for chosen in (order[:size], order[size:], order[1 : 1 + size], order[: 2 * size : 2]):
                row = np.zeros(self.count, bool)
                row[chosen] = True
                rows.append(row)
        luck = np.random.Generator(np.random.PCG64(SEED))
        drawn = luck.random((DRAWN, self.count)) < luck.random((DRAWN, 1))
        return np.concatenate([np.array(rows), drawn])

    def _around(self, group: Groups) -> Groups:
        """With one value changed, or two."""
        one = np.eye(self.count, dtype=bool)
        first, second = np.triu_indices(self.count, 1)
        return np.concatenate([group[None] ^ one, group[None] ^ one[first] ^ one[second]])


def _entropy(chances: Chances) -> Chances:
    safe = np.clip(chances, 1e-12, 1 - 1e-12)
    found: Chances = -(safe * np.log2(safe) + (1 - safe) * np.log2(1 - safe))
    return found
