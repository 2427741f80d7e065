"""Where an edge lies, as a distribution."""

from collections.abc import Iterator
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class EdgeEstimate:
    """The posterior of an edge, in grid steps of strain.

    ``low`` and ``high`` bound it with probability ``confidence``; ``median`` halves it. ``chance`` is the
    probability of the edge lying in cells of ``width`` grid steps, the first of which begins at strain ``first``. A
    cell is one step, but for knobs with very many values.
    """

    low: float
    median: float
    high: float
    confidence: float
    first: int
    chance: tuple[float, ...]
    width: int = 1

    def chance_above(self, strain: int) -> float:
        """Chance that the edge lies between this strain and the next harder one; even within a cell."""
        k = (strain - self.first) // self.width
        return self.chance[k] / self.width if 0 <= k < len(self.chance) else 0.0

    def cells(self, low: int, high: int) -> Iterator[tuple[int, int, float]]:
        """Cells that reach into a stretch of strains: where each begins and ends, and its chance."""
        for k, chance in enumerate(self.chance):
            start = self.first + k * self.width
            if start + self.width > low and start < high:
                yield start, start + self.width, chance
