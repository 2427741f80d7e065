"""Keys typed for what is not in sight yet: a dialog that is still being made, the next question of a run.

They wait for it and are given to it in their order; they never act on what lies beneath.
"""

import time
from collections.abc import Collection
from typing import Any

from textual.events import Key

from tenaz.tui.base.taking_keys import TakesKeys

BURST_S, ANSWERS_S = 0.3, 0.06
"""Letters that come so close together are one burst: nobody has read anything in between. Answers may come faster."""


A_TIME = (*"0123456789hm", "enter")
"""Keys of a length of time, which is asked for after some answers."""


class TypedAhead:
    """What waits, and what is waited for."""

    def __init__(self) -> None:
        self._for: object = None
        self._only: Collection[str] | None = None
        self._keys: list[Key] = []
        self._burst_gap_s, self._last_s = 0.0, 0.0

    def wait(self, what: object, only: Collection[str] | None = None) -> None:
        """From now on what is typed (only these keys and times, where some are named) is meant for what will come."""
        self._for, self._only = what, only

    def refused(self, gap_s: float = BURST_S) -> None:
        """A command was refused, or another question came: what is typed right behind was meant for something else."""
        self._burst_gap_s = gap_s

    def takes(self, key: Key) -> bool:
        """Keep a key, if it is waited for what it is meant for; Escape ends the waiting."""
        now = time.monotonic()
        gap_s, self._last_s = now - self._last_s, now
        if gap_s >= self._burst_gap_s or not key.is_printable:
            self._burst_gap_s = 0.0
        if self._burst_gap_s:
            return True
        if self._for is None:
            return False
        if key.key == "escape":
            self.over()
            return True
        meant = key.is_printable or key.key == "enter"
        if self._only is not None:
            meant = key.key in self._only or key.key in A_TIME
        if meant:
            self._keys.append(key)
        return meant

    @property
    def waits(self) -> bool:
        """Whether anything is waited for."""
        return self._for is not None

    def waits_for(self, what: object) -> bool:
        """Whether this is waited for."""
        return self._for is not None and self._for is what

    def over(self, screen: Any = None) -> None:
        """It came, or will not come: what was typed goes to the screen that came; without one it is forgotten."""
        keys, self._for, self._keys = self._keys, None, []
        if isinstance(screen, TakesKeys):
            for key in keys:
                screen.takes(key)
