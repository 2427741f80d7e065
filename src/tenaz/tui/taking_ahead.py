"""What is typed in a burst comes faster than the line that it is meant for."""

from typing import Protocol, runtime_checkable

CLEARS = "ctrl+u"
"""The key that empties a line; it must not overtake the letters before it either."""

CLEARED = "\x15"
"""That key, as it is typed."""


@runtime_checkable
class TakesAhead(Protocol):
    """A screen that takes what was typed before it came up."""

    ready: bool
    """Whether its line takes keys by itself."""

    def take_ahead(self, typed: str) -> None:
        """A letter; empty: Enter; ``CLEARED``: the line is emptied."""
        ...
