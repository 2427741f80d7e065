"""All strategies by name: every module of :mod:`tenaz.search.strategies` declares one as ``STRATEGY``."""

from functools import cache
from importlib import import_module
from pkgutil import iter_modules

from tenaz.core.base.errors import Refused
from tenaz.search import strategies
from tenaz.search.strategy_kinds import StrategyKind


@cache
def all_strategies() -> dict[str, StrategyKind]:
    """What there is, by name."""
    modules = (import_module(f"{strategies.__name__}.{found.name}") for found in iter_modules(strategies.__path__))
    return {module.STRATEGY.name: module.STRATEGY for module in modules}


def strategy_of(name: str) -> StrategyKind:
    """One strategy.

    Raises:
        Refused: naming those that there are.
    """
    found = all_strategies()
    if name not in found:
        raise Refused(f"{name!r} is no strategy here; there are: {', '.join(sorted(found))}.")
    return found[name]
