"""Lines of the book's log as they are shown."""

from collections.abc import Sequence
from datetime import datetime

SIMULATED = "~"
"""Before a time that is not the wall's: of a simulated rig."""


def shown_log(lines: Sequence[tuple[datetime, str, str, bool]]) -> tuple[tuple[str, str, str], ...]:
    """Lines (time of day, source, text); the time of a simulated rig is marked, it is not the wall's."""
    return tuple(
        (f"{SIMULATED if simulated else ''}{instant.astimezone():%H:%M:%S}", source, text)
        for instant, source, text, simulated in lines
    )
