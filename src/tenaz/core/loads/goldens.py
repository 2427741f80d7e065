"""Goldens: results that must always be the same, taken at stock by majority of several runs."""

from collections import Counter, defaultdict
from collections.abc import Iterable
from dataclasses import dataclass

Goldens = dict[str, dict[str, str]]
"""Digests by what they were made with (instructions and libraries) and by name."""

LEAST_RUNS = 5
MAJORITY = 0.5


@dataclass(frozen=True, slots=True)
class Result:
    """One result of one run on one core."""

    made_with: str
    name: str
    digest: str
    worker: int = 0


def disagreeing(results: Iterable[Result]) -> tuple[tuple[Result, str], ...]:
    """Of first results of the same work on several cores, those that the majority does not share, each with what it
    should be; where no digest has more than half, nobody knows which core is right, and all are given.
    """
    alike: dict[tuple[str, str], list[Result]] = defaultdict(list)
    for one in results:
        alike[one.made_with, one.name].append(one)
    found = []
    for same in alike.values():
        digest, votes = Counter(one.digest for one in same).most_common(1)[0]
        if votes == len(same):
            continue
        agreed = digest if votes > MAJORITY * len(same) else ""
        found += [(one, agreed) for one in same if one.digest != agreed]
    return tuple(found)


def by_majority(results: Iterable[Result]) -> tuple[Goldens, tuple[str, ...]]:
    """Goldens of all names on which more than half of at least five runs agree; and the names on which they do not all
    agree: what is not the same at stock is a finding by itself.
    """
    found: dict[tuple[str, str], Counter[str]] = defaultdict(Counter)
    for one in results:
        found[one.made_with, one.name][one.digest] += 1
    goldens: Goldens = {}
    unsure = []
    for (made_with, name), digests in found.items():
        digest, votes = digests.most_common(1)[0]
        if digests.total() >= LEAST_RUNS and votes > MAJORITY * digests.total():
            goldens.setdefault(made_with, {})[name] = digest
        if len(digests) > 1 or digests.total() < LEAST_RUNS:
            unsure.append(name)
    return goldens, tuple(unsure)
