"""How fast simulated time passes; it may change while something runs."""

from dataclasses import dataclass


@dataclass(slots=True)
class Pace:
    """Simulated seconds in one real second; None: as fast as the processor goes."""

    factor: float | None = None
