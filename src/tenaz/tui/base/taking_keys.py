"""Keys in the order in which they were typed, however fast they come."""

from typing import Protocol, runtime_checkable

from textual.events import Key


@runtime_checkable
class TakesKeys(Protocol):
    """A screen that takes its keys itself, one after the other, from the moment on at which it was asked for."""

    def takes(self, key: Key) -> bool:
        """Take a key, to be dealt with in its turn; False: it is none of this screen's."""
        ...
