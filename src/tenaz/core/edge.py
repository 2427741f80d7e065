"""Where an edge lies, as a distribution."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class EdgeEstimate:
    """The posterior of an edge, in grid steps of strain.

    ``low`` and ``high`` bound it with probability ``confidence``; ``median`` halves it. ``chance`` is the
    probability of the edge lying between grid strain k and k + 1, for k from ``first`` on.
    """

    low: float
    median: float
    high: float
    confidence: float
    first: int
    chance: tuple[float, ...]

    def chance_above(self, strain: int) -> float:
        """Chance that the edge lies between this strain and the next harder one."""
        k = strain - self.first
        return self.chance[k] if 0 <= k < len(self.chance) else 0.0
