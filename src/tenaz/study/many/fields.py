"""Fields of two knobs with a drawn boundary, tried until it is known."""

import math
import random
from dataclasses import dataclass

import numpy as np

from tenaz.search.boundaries import Boundary, Tried

SURE, PART_RIGHT = 0.98, 0.95
MOST_TRIALS = 150
WALLED = 0.3
SLOPES = (0.1, 1.5)
STRAY, DEEPER = 0.005, 0.4


@dataclass(frozen=True, slots=True)
class FieldKind:
    """What fields are drawn: cells a side, how often the cell right beyond the boundary passes, and by how many rows
    the boundary is ragged, against what is assumed.
    """

    cells: int
    false_pass: float
    ragged: float = 0.0


@dataclass(frozen=True, slots=True)
class Told:
    """Trials, and the part of the cells that is right."""

    trials: int
    right: float


def drawn_boundary(luck: random.Random, kind: FieldKind) -> list[int]:
    """How many rows hold in each column: a slope, in some with a wall."""
    columns = rows = kind.cells
    slope, start, level = luck.uniform(*SLOPES), luck.uniform(0, columns / 2), luck.uniform(0, rows + 3)
    wall = luck.randrange(columns // 2, columns) if luck.random() < WALLED else columns
    high, found = rows, list[int]()
    for column in range(columns):
        raw = level - slope * (column - start) + luck.gauss(0, kind.ragged)
        now = 0 if column >= wall else max(0, min(rows, round(raw)))
        high = now if kind.ragged else min(high, now)
        found.append(high)
    return found


def told_of(kind: FieldKind, seed: int) -> Told:
    """A drawn field, tried until it is sure enough."""
    luck = random.Random(seed)
    true = drawn_boundary(luck, kind)
    belief, trials = Boundary(kind.cells, kind.cells), 0
    while trials < MOST_TRIALS and not (trials and belief.sure(PART_RIGHT) >= SURE):
        column, row = divmod(int(belief.information().argmax()), kind.cells)
        trials += 1
        passes = 1 - STRAY if row < true[column] else kind.false_pass * DEEPER ** (row - true[column])
        failed = luck.random() >= passes
        after = min(1.0, luck.expovariate(-math.log(max(passes, 1e-9)))) if failed else 1.0
        belief.take(Tried(column, row, failed, after))
    right = (belief.holds >= 0.5) == (np.arange(kind.cells)[None] < np.array(true)[:, None])
    return Told(trials, float(right.mean()))
