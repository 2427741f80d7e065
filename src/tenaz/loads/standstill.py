"""Noticing that who runs the workers stood still, so that the log says so."""

import time

STOOD_STILL_S = 1.5
"""Who looks up ten times a second and comes later than this stood still."""


class Gaps:
    """Notices that everything stood still: stopped from outside, or asleep with the machine."""

    def __init__(self) -> None:
        self._at_s = time.monotonic()
        self._asleep_s = self._sleep_s()

    @staticmethod
    def _sleep_s() -> float:
        return time.clock_gettime(time.CLOCK_BOOTTIME) - time.monotonic()

    def since_last(self) -> str:
        """Whether there was a gap since this was last asked, in words; empty when there was none."""
        now, asleep = time.monotonic(), self._sleep_s()
        stood_s, slept_s = now - self._at_s, asleep - self._asleep_s
        self._at_s, self._asleep_s = now, asleep
        if slept_s > STOOD_STILL_S:
            return f"the machine slept for {slept_s:.0f} s; that is no time under load"
        if stood_s > STOOD_STILL_S:
            return f"Tenaz stood still for {stood_s:.0f} s; what its workers did not do then is no time under load"
        return ""
