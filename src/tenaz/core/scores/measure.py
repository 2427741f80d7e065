"""What a measure is asked to do, what it says while it runs, and what came of it."""

from collections.abc import Callable
from dataclasses import dataclass

from tenaz.core.base.errors import Refused
from tenaz.core.scores.score import Circumstances, Score

QUICK_S = 60.0
NARROW = 0.005
LEAST_S, MOST_S = 5.0, 24 * 3600.0
LEAST_REPEATS = 5


@dataclass(frozen=True, slots=True)
class MeasurePlan:
    """Measure for at most ``most_s``, each figure until half of its interval is at most ``narrow`` of it. ``only`` are
    words of which one must be in a figure's name (none: all figures).
    """

    most_s: float = QUICK_S
    narrow: float = NARROW
    only: tuple[str, ...] = ()

    def check(self) -> None:
        """Refuse one that can measure nothing.

        Raises:
            Refused: naming what is asked, and what would do.
        """
        if not LEAST_S <= self.most_s <= MOST_S:
            raise Refused(f"a measure takes between {LEAST_S:g} s and a day, not {self.most_s:g} s.")
        if not 0 < self.narrow < 1:
            raise Refused(f"an interval of {100 * self.narrow:g} % is none; give more than 0 and less than 100.")

    def wants(self, name: str) -> bool:
        """Whether a figure is to be measured."""
        return not self.only or any(word.lower() in name.lower() for word in self.only)


QUICK = MeasurePlan()


@dataclass(frozen=True, slots=True)
class MeasureProgress:
    """How far a measure is: the part done, seconds left at most, what is measured now."""

    part: float
    left_s: float
    doing: str


@dataclass(frozen=True, slots=True)
class Measured:
    """What came of it; ``why`` is why it ended before its time, where it did (``down``: because the rig went down)."""

    scores: tuple[Score, ...]
    circumstances: Circumstances
    seconds: float
    why: str = ""
    down: bool = False


MeasureWatch = Callable[[MeasureProgress], None]
"""Hears how far it is, a few times a second."""
