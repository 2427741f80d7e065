"""The time of a simulated machine: its own seconds, boots and calendar, at a pace that may change while it runs."""

import threading
from collections.abc import Callable
from datetime import datetime, timedelta

from tenaz.core.base.pace import Pace
from tenaz.simulated.physics.constants import k
from tenaz.simulated.state import State

SLICE_S = 0.1
"""A change of pace is felt within so long."""


class SimulatedClock:
    """The clock of the machine under load."""

    def __init__(self, rig: str, state: State) -> None:
        self._rig, self._state = rig, state

    def monotonic_s(self) -> float:
        """Simulated seconds since the machine was made."""
        return self._state.now_s

    def utc(self) -> datetime:
        """Its calendar: after clearing it stands back, until it is set right."""
        return self._state.utc(k("clock_set_s"))

    def boot_id(self) -> str:
        """The name of this boot."""
        return f"sim {self._rig} {self._state.boots}"[:64]


class WorkshopClock:
    """The clock on the wall of the workshop in which a simulated rig stands: simulated time, and never set back. What
    beats in it are real seconds, and the boot is that of this computer.
    """

    def __init__(self, state: State, monotonic_s: Callable[[], float], boot_id: Callable[[], str]) -> None:
        self._state = state
        self.monotonic_s, self.boot_id = monotonic_s, boot_id

    def utc(self) -> datetime:
        """Simulated time."""
        return self._state.begun_utc + timedelta(seconds=self._state.now_s)


class Time:
    """Lets simulated time pass, until stopped."""

    def __init__(self, state: State, pace: Pace) -> None:
        self._state, self._pace = state, pace
        self._stopping = threading.Event()

    def go(self) -> None:
        """Forget that it was stopped."""
        self._stopping.clear()

    def stop(self) -> None:
        """End what passes."""
        self._stopping.set()

    def spend(self, simulated_s: float) -> bool:
        """Let it pass at the pace that is set; False when stopped meanwhile."""
        left_s = simulated_s
        while left_s > 0 and self._pace.factor is not None:
            piece_s = min(left_s, SLICE_S * self._pace.factor)
            if self._stopping.wait(piece_s / self._pace.factor):
                return False
            self._state.now_s += piece_s
            left_s -= piece_s
        self._state.now_s += max(0.0, left_s)
        return not self._stopping.is_set()
