"""How fast simulated time passes; it may change while something runs."""

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass


@dataclass(slots=True)
class Pace:
    """Simulated seconds in one real second; None: as fast as the processor goes."""

    factor: float | None = None

    @contextmanager
    def hurried(self) -> Iterator[None]:
        """As fast as the processor goes, for as long as this lasts."""
        before, self.factor = self.factor, None
        try:
            yield
        finally:
            self.factor = before
