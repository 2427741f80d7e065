"""What the workshop's other rigs of the same memory have shown together."""

from dataclasses import dataclass

LATE_H = 1.0
"""What fails after so long under load may have failed by something else than its values: each such failure counts."""


@dataclass(frozen=True, slots=True)
class Alike:
    """Clean hours, and failures that came late."""

    hours: float = 0.0
    failures: int = 0
