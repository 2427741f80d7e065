"""Where an edge lies, as a distribution."""

from collections.abc import Iterator
from dataclasses import dataclass

from tenaz.core.base.tolerance import TOLERANCE, Tolerance


@dataclass(frozen=True, slots=True)
class EdgeEstimate:
    """The posterior of an edge for what a purpose tolerates, in grid steps of strain.

    ``low`` and ``high`` bound it with probability ``confidence`` (the shortest such stretch) and ``median`` halves it,
    if failures die out before it as is usual; the chances allow for a flatter tail, and lie a little lower. ``chance``
    is the probability of the edge lying in cells of ``width`` grid steps, the first of which begins at strain
    ``first``; a cell is one step, but for knobs with very many values. ``before`` are the same chances before anything
    was tried. ``beyond`` is the chance that it lies past the grid's hardest value, where nothing can be tried.
    """

    low: float
    median: float
    high: float
    confidence: float
    first: int
    chance: tuple[float, ...]
    width: int = 1
    before: tuple[float, ...] = ()
    tolerance: Tolerance = TOLERANCE
    beyond: float = 0.0

    def tolerated(self, strain: float) -> float:
        """Chance that a value's rate is tolerated: that the edge lies no lower."""
        part = (strain - self.first) / self.width
        whole = int(part // 1)
        if whole < 0:
            return 1.0
        within = self.chance[whole] * (part - whole) if whole < len(self.chance) else 0.0
        return min(1.0, max(0.0, 1.0 - sum(self.chance[:whole]) - within))

    def hardest(self, confidence: float) -> int:
        """The hardest strain whose rate is tolerated with this confidence; below the first cell where there is none."""
        passed = 0.0
        for k, chance in enumerate(self.chance):
            if passed + chance > 1.0 - confidence:
                part = (1.0 - confidence - passed) / chance
                return int((self.first + (k + part) * self.width + 1e-9) // 1)
            passed += chance
        return self.first + len(self.chance) * self.width

    def cells(self, low: int, high: int, before: bool = False) -> Iterator[tuple[int, int, float]]:
        """Cells that reach into a stretch of strains: where each begins and ends, and its chance."""
        for k, chance in enumerate(self.before if before else self.chance):
            start = self.first + k * self.width
            if start + self.width > low and start < high:
                yield start, start + self.width, chance
