"""Throttling seen in the clock that cores reach, whatever counters say."""

from collections.abc import Sequence

FALLEN_SHARE = 0.9
"""Below this part of the highest clock seen in the same load, a core counts as throttled."""

FALLEN_TIMES = 3
"""So many measurements in a row: one may have been disturbed."""


class ClockWatch:
    """Sees the measured clocks of all cores again and again, in MHz (0: not measured yet)."""

    def __init__(self) -> None:
        self._highest: list[float] = []
        self._fallen: list[int] = []

    def see(self, clocks_mhz: Sequence[float]) -> str:
        """Take measurements; gives a line when a core has fallen off, once for each time that it does."""
        if len(clocks_mhz) != len(self._highest):
            self._highest, self._fallen = [0.0] * len(clocks_mhz), [0] * len(clocks_mhz)
        told = []
        for place, clock in enumerate(clocks_mhz):
            if clock <= 0:
                continue
            self._highest[place] = max(self._highest[place], clock)
            low = clock < FALLEN_SHARE * self._highest[place]
            self._fallen[place] = self._fallen[place] + 1 if low else 0
            if self._fallen[place] == FALLEN_TIMES:
                told.append(f"worker {place} reaches {clock:.0f} of {self._highest[place]:.0f} MHz")
        return ", ".join(told)
