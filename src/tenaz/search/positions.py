"""Where a search stands: a strategy played over the trials so far."""

from collections.abc import Iterable

from tenaz.core.searches.search import Advice, Proposal, Strategy, TrialFacts


def position(strategy: Strategy, seen: Iterable[TrialFacts]) -> Proposal | Advice:
    """Feed a fresh strategy all that was seen, in order; gives its proposal, or its advice when it is done.

    Nothing is kept between calls: after a record is undone, the same play over what is left tells where it stands.
    """
    standing, all_seen = next(strategy), tuple(seen)
    return strategy.send(all_seen) if all_seen else standing
