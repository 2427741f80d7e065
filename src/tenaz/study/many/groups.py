"""Groups of values with culprits among them, unpicked."""

import random
from dataclasses import dataclass
from enum import StrEnum

from tenaz.search.culprits import Culprits

SURE = 0.97
MOST_TRIALS = 80
LEAST_ASSUMED = 0.02
"""Nobody assumes that nothing ever passes by chance."""


class Kind(StrEnum):
    """What is wrong with a group."""

    ONE = "one"
    EITHER = "either of two"
    TOGETHER = "two only together"


@dataclass(frozen=True, slots=True)
class Unpicked:
    """Trials after the group had failed, and whether what was told is so."""

    trials: int
    right: bool


def unpicked(kind: Kind, count: int, false_pass: float, seed: int) -> Unpicked:
    """A drawn group of so many values, unpicked until one story is sure enough."""
    luck = random.Random(seed)
    belief = Culprits(count, max(LEAST_ASSUMED, false_pass))
    belief.take([True] * count, True)
    pair = luck.sample(range(count), 2)
    true = tuple(sorted(pair[:1] if kind is Kind.ONE else pair))
    trials = 0
    while belief.likeliest[1] < SURE and trials < MOST_TRIALS:
        group = belief.next_groups()[0][0]
        trials += 1
        bad = sum(group[place] for place in true) >= (2 if kind is Kind.TOGETHER else 1)
        belief.take(group, bad and luck.random() >= false_pass)
    story = belief.likeliest[0]
    return Unpicked(trials, story.places == true and story.together is (kind is Kind.TOGETHER))
