"""What a purpose tolerates: at most so many failures in so many hours of use, and how sure one wants to be of it."""

from dataclasses import dataclass

from tenaz.core.base.errors import Refused


@dataclass(frozen=True, slots=True)
class Tolerance:
    """At most ``failures`` in ``hours`` of use, with this ``confidence`` (0.5 to 0.999)."""

    failures: float = 1.0
    hours: float = 1000.0
    confidence: float = 0.95

    def __post_init__(self) -> None:
        if not 0 < self.failures <= 1e6 or not 0 < self.hours <= 1e7:
            raise Refused(
                f"{self.failures:g} failures in {self.hours:g} h tolerate nothing that can be judged: give more than "
                f"none, in up to ten million hours, like 1 in 1000."
            )
        if not 0.5 <= self.confidence <= 0.999:
            raise Refused(f"a confidence of {self.confidence:.1%} cannot be aimed at: give 50 % to 99.9 %.")

    @property
    def rate_per_h(self) -> float:
        """The failure rate that is just tolerated."""
        return self.failures / self.hours

    def show(self) -> str:
        """Like ``1 failure in 1,000 h, 95 % sure``."""
        return f"{self.in_use()}, {self.confidence * 100:.3g} % sure"

    def in_use(self) -> str:
        """Like ``1 failure in 1,000 h``."""
        return f"{self.failures:g} failure{'s' if self.failures != 1 else ''} in {self.hours:,.6g} h"


TOLERANCE = Tolerance()
"""Where nobody said: one failure in a thousand hours."""
