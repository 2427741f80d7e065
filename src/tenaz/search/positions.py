"""Where a climb stands: a strategy played over the results so far."""

from collections.abc import Iterable

from tenaz.core.climbs import Advice, Proposal, Result, Strategy


def position(strategy: Strategy, results: Iterable[Result]) -> Proposal | Advice:
    """Feed a fresh strategy the results in order; gives its proposal, or its advice when it is done.

    Nothing is kept between calls: after a record is undone, the same play over what is left tells where it stands.
    """
    try:
        standing = next(strategy)
        for result in results:
            standing = strategy.send(result)
    except StopIteration as done:
        advice: Advice = done.value
        return advice
    return standing
