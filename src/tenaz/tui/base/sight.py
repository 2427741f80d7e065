"""Since when something stands on the screen: a key pressed before it can have been read was not meant for it."""

import math
import time

READ_S = 0.2
"""Nobody answers sooner what has just come into sight: a key within that time was meant for what stood there before."""
DOUBLE_S = 0.4
"""A second Enter within that time is the same hand's."""


class Sight:
    """What it is kept for says when it stands, and when it is covered or became another."""

    def __init__(self) -> None:
        self._since_s = math.inf

    def lost(self) -> None:
        """It does not stand on the screen, or not as it is."""
        self._since_s = math.inf

    def stands(self) -> None:
        """It has been drawn; the first time counts."""
        self._since_s = min(self._since_s, time.monotonic())

    def was_read(self, pressed_s: float, within_s: float = READ_S) -> bool:
        """Whether it can have been read before a key was pressed, by the clock of keys (monotonic)."""
        return pressed_s >= self._since_s + within_s
