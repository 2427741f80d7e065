"""What of a worker's time was work: time that it had on a core, and pauses that belong to its load.

Time counts only as work. What a worker was kept from by other programs, by a signal, or by a parent that did not listen
is no time under load, whatever the wall's clock says.
"""

import time
from dataclasses import dataclass

FULL_SHARE = 0.9
"""A stretch in which a worker worked so much of the time counts whole: the rest are the system's own interruptions."""

STOOD_STILL_S, STANDING_SHARE = 1.0, 0.2
"""A stretch longer than this, with less than this part of it worked, is a standstill: a load takes that much longer."""


@dataclass(slots=True)
class WorkClock:
    """Seconds since :meth:`begin`: ``worked_s`` of work, ``asked_s`` in which there was work to do, and ``stood_s`` in
    which the worker stood still, which is part of neither.
    """

    worked_s: float = 0.0
    asked_s: float = 0.0
    stood_s: float = 0.0
    _wall_s: float = 0.0
    _cpu_s: float = 0.0
    _paused_s: float = 0.0

    def begin(self) -> None:
        """Count from now on."""
        self._wall_s, self._cpu_s, self._paused_s = time.monotonic(), time.process_time(), 0.0

    def paused(self, seconds: float) -> None:
        """So much of the time since the last look was left idle on purpose."""
        self._paused_s += seconds

    def look(self) -> None:
        """Count what has passed since the last look."""
        wall_s, cpu_s = time.monotonic(), time.process_time()
        passed_s = wall_s - self._wall_s
        did_s = min(passed_s, cpu_s - self._cpu_s + self._paused_s)
        self._wall_s, self._cpu_s, self._paused_s = wall_s, cpu_s, 0.0
        self.count(passed_s, did_s)

    def count(self, passed_s: float, did_s: float) -> None:
        """A stretch of ``passed_s``, in ``did_s`` of which work was done."""
        if passed_s > STOOD_STILL_S and did_s < STANDING_SHARE * passed_s:
            self.stood_s += passed_s - did_s
            passed_s = did_s
        self.asked_s += passed_s
        self.worked_s += passed_s if did_s >= FULL_SHARE * passed_s else did_s
