"""What can be said about a load while it runs."""

from enum import StrEnum

MEANS = "means"
"""Who says in the log how warm each sensor was: summed up at the end, and kept with the trial."""


class Alarm(StrEnum):
    """What is said about a load while it runs: by the guard, by the loads, by the watch itself."""

    WARNING = "warning"
    TOO_HOT = "too hot"
    BLIND = "guard lost"
    HARDWARE_ERROR = "hardware error"
    THROTTLED = "throttled"
    SENSOR = "sensor"
    WRONG_VALUE = "wrong value"
    NOTE = "note"

    @property
    def stops(self) -> bool:
        """Whether the run must stop for it."""
        return self in (Alarm.TOO_HOT, Alarm.BLIND, Alarm.HARDWARE_ERROR)
