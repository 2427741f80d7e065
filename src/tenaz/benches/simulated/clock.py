"""The clock of a simulated machine: its own seconds, its own boots."""

from datetime import UTC, datetime


class SimulatedClock:
    """Seconds of simulated time since the bench was made; a boot of its own for each turn of the rig."""

    def __init__(self, rig: str, boots_before: int = 0) -> None:
        self._rig = rig
        self._boots = boots_before
        self._now_s = 0.0

    def pass_s(self, seconds: float) -> None:
        """Let time pass."""
        self._now_s += seconds

    def booted(self) -> None:
        """The machine was started."""
        self._boots += 1

    def monotonic_s(self) -> float:
        """Simulated seconds."""
        return self._now_s

    def utc(self) -> datetime:
        """The calendar of the workshop: that of the machine does not matter yet."""
        return datetime.now(UTC)

    def boot_id(self) -> str:
        """The name of this boot."""
        return f"sim {self._rig} {self._boots}"[:64]
