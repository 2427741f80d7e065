"""What an attack came to: how often it was tried, what it broke, how long the slowest took."""

import time
from collections.abc import Callable
from dataclasses import dataclass, field

MOST_SHOWN = 5


@dataclass
class Tally:
    """One kind of attack."""

    name: str
    attempts: int = 0
    failures: list[str] = field(default_factory=list)
    slowest_s: float = 0.0
    slowest: str = ""

    def attempt(self, what: str, act: Callable[[], str]) -> None:
        """Do it once; ``act`` gives what went wrong, empty when nothing did."""
        began = time.monotonic()
        self.attempts += 1
        try:
            wrong = act()
        except Exception as error:  # noqa: BLE001 - it is told, and the rest goes on
            wrong = f"{type(error).__name__}: {str(error)[:200]}"
        took = time.monotonic() - began
        if took > self.slowest_s:
            self.slowest_s, self.slowest = took, what
        if wrong:
            self.failures.append(f"{what}: {wrong}")

    def show(self) -> str:
        """A row, and under it the first failures."""
        row = (
            f"{self.name:<34} {self.attempts:>6} {len(self.failures):>8} {self.slowest_s:>9.2f} s  {self.slowest[:60]}"
        )
        return "\n".join([row, *(f"    {one[:300]}" for one in self.failures[:MOST_SHOWN])])
