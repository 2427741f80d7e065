"""Keys typed for what is not in sight yet: a dialog that is still being made, the next question of a run.

They wait for it and are given to it in their order; they never act on what lies beneath.
"""

import time
from typing import Any

from textual.events import Key

from tenaz.tui.base.taking_keys import TakesKeys

BURST_S = 0.2
"""Letters that come so close together are one burst: nobody has read anything in between."""

NEVER_KEPT = ("s", "q", "question_mark")
"""Whatever is waited for: stopping, leaving and help act."""


class TypedAhead:
    """What waits, and what is waited for."""

    def __init__(self) -> None:
        self._for: object = None
        self._times_only = False
        self._keys: list[Key] = []
        self._burst_gap_s, self._last_s = 0.0, 0.0

    def wait(self, what: object, times_only: bool = False) -> None:
        """From now on what is typed is meant for what will come. After an answer that is a time at most: all else goes
        to no later question, and to nothing else.
        """
        self._for, self._times_only = what, times_only

    def refused(self) -> None:
        """A command was refused: what is typed right behind was meant for something else."""
        self._burst_gap_s = BURST_S

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
        if not (key.is_printable or key.key == "enter") or (self._times_only and key.key in NEVER_KEPT):
            return False
        if not self._times_only or (key.character or "") in ("0123456789hm." if self._keys else "0123456789"):
            self._keys.append(key)
        return True

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
