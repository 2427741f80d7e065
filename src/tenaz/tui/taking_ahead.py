"""What is typed in a burst comes faster than the line that it is meant for."""

from typing import Protocol, runtime_checkable

from textual.events import Key


@runtime_checkable
class TakesAhead(Protocol):
    """A screen that takes what was typed before it came up."""

    ready: bool
    """Whether its line takes keys by itself."""

    def take_ahead(self, key: Key) -> None:
        """A key that came too early; it is taken in its turn."""
        ...
