"""Lines of the book's log as they are shown."""

from collections.abc import Sequence
from datetime import datetime


def shown_log(lines: Sequence[tuple[datetime, str, str]]) -> tuple[tuple[str, str, str], ...]:
    """Lines (time of day as the wall has it, source, text)."""
    return tuple((instant.astimezone().strftime("%H:%M:%S"), source, text) for instant, source, text in lines)
