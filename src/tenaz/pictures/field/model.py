"""The Field picture: two knobs, a cell for each pair of values, what was tried and what follows."""

from dataclasses import dataclass

from tenaz.core.base.outcomes import Outcome
from tenaz.core.knobs.knob import Knob
from tenaz.search.extending import Least

SURE = 0.975


@dataclass(frozen=True, slots=True)
class TriedCell:
    """What was tried in one cell: the numbers of the trials and how each ended, the oldest first."""

    trials: tuple[tuple[int, Outcome], ...]

    @property
    def newest(self) -> Outcome:
        """How the last one ended; a failure stands, whatever passed later."""
        failed = [outcome for _, outcome in self.trials if outcome is not Outcome.HELD]
        return failed[-1] if failed else self.trials[-1][1]


@dataclass(frozen=True, slots=True)
class FieldPicture:
    """``holds`` is the chance that a cell holds by column and row, both from easy to hard; ``tolerated`` are cells
    whose rate the purpose tolerates as surely as it asks. ``following`` is the cell that comes next, ``scores`` a
    measured figure by cell (higher is better) in ``score_unit``. ``sure`` is the chance that 95 % of
    the cells are right.
    """

    rig: str
    knobs: tuple[Knob, Knob]
    values: tuple[tuple[int, ...], tuple[int, ...]]
    holds: tuple[tuple[float, ...], ...]
    tolerated: frozenset[tuple[int, int]]
    tried: dict[tuple[int, int], TriedCell]
    following: tuple[int, int] | None
    words: str
    sure: float
    false_pass: float
    load: str
    scores: dict[tuple[int, int], float]
    score_unit: str = ""
    faster: tuple[tuple[float, ...], ...] = ()
    """By column and row, how much faster than at the easiest cell (a part), fitted to what was measured; empty where
    too little was.
    """
    least: tuple[Least, ...] = ()
    """Where the second knob is a voltage: the least that holds at each value of the first, and one step further."""

    @property
    def fastest_safe(self) -> tuple[int, int] | None:
        """Of the cells that are tolerated the one with the best score, as fitted where enough was measured; without
        scores the hardest of them.
        """
        safe = sorted(self.tolerated)
        if not safe:
            return None
        if self.faster:
            return max(safe, key=lambda cell: self.faster[cell[0]][cell[1]])
        measured = [cell for cell in safe if cell in self.scores]
        if measured:
            return max(measured, key=lambda cell: self.scores[cell])
        return max(safe, key=lambda cell: (sum(cell), cell))
