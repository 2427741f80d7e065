"""Noticing that everything stood still: a worker by itself, and who runs it. Such time is no time under load."""

import threading
import time

STANDSTILL_LOOKED_AT_S, STANDSTILL_S = 0.1, 1.0
"""A thread that only sleeps and wakes later than this was not allowed to run, and neither was the load."""

STOOD_STILL_S = 1.5
"""The same for who runs the workers, and looks up ten times a second."""


class StandstillWatch:
    """Notices from a thread of its own when the process stood still: stopped by a signal, or by the machine."""

    def __init__(self) -> None:
        self.stood_s = 0.0

    def begin(self) -> None:
        """Watch from now on."""
        threading.Thread(target=self._watch, name="standstill", daemon=True).start()

    def _watch(self) -> None:
        before = time.monotonic()
        while True:
            time.sleep(STANDSTILL_LOOKED_AT_S)
            now = time.monotonic()
            late_s = now - before - STANDSTILL_LOOKED_AT_S
            if late_s > STANDSTILL_S:
                self.stood_s += late_s
            before = now


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
