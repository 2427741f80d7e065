"""The real clock."""

import time
from datetime import UTC, datetime

from tenaz.probe.system import boot_id


class RealClock:
    """Monotonic seconds, the calendar in UTC, and the name of this boot."""

    def __init__(self) -> None:
        self._boot_id = boot_id()

    def monotonic_s(self) -> float:
        """Seconds that only go forward."""
        return time.monotonic()

    def utc(self) -> datetime:
        """The calendar, which may jump."""
        return datetime.now(UTC)

    def boot_id(self) -> str:
        """Name of this boot of the operating system."""
        return self._boot_id
