"""A field of two knobs: what is believed of the boundary between what holds and what fails.

Cells are (column, row), both from easy to hard. In each column the cells from ``low`` on and below ``high`` hold; from
column to column ``high`` never rises and ``low`` never falls, since harder in either knob is never better. Usually
``low`` is nothing; a knob that fails on both sides, as voltages do, has a window. How steeply the boundary falls, and
how often a failing cell passes a trial, is not known: several stories of both are weighed by what was seen. All sums
are exact (forward and backward along the columns; Baum et al. 1970), only the chance that most cells are right is
drawn.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Numbers = NDArray[np.float64]

FALLS = (0.4, 1.5, 4.0)
"""Rows by which a boundary usually falls from one column to the next, by story."""
FALSE_PASSES = (0.05, 0.15, 0.30)
"""Chance that a trial passes in the cell right beyond the boundary, by story."""
WALL = 0.03
"""Chance that from one column to the next everything fails."""
STRAY = 0.01
"""Chance that a cell fails a trial that it would hold."""
DEEPER = 0.4
"""A cell one row further out passes so many times as often."""
SAMPLES = 160
SEED = 12


@dataclass(frozen=True, slots=True)
class Tried:
    """One trial: where, whether it failed, and after which part of the load (1: at its end; 0: it did not start)."""

    column: int
    row: int
    failed: bool
    after: float = 1.0


class Boundary:
    """What is believed of a field of so many ``columns`` and ``rows``; with a ``window`` it fails on both sides."""

    def __init__(self, columns: int, rows: int, window: bool = False) -> None:
        self.columns, self.rows = columns, rows
        lows = range(rows + 1) if window else range(1)
        self._states = np.array([(low, high) for low in lows for high in range(low, rows + 1)])
        self._starts, self._moves = self._stories()
        cells = np.arange(rows)
        self._holds = (cells >= self._states[:, :1]) & (cells < self._states[:, 1:])
        self._depth = self._depths()
        shape = len(FALSE_PASSES), columns, len(self._states)
        self._log_seen = np.zeros(shape)
        self._known: tuple[Numbers, Numbers, Numbers] | None = None

    # -- learning ----------------------------------------

    def take(self, tried: Tried) -> None:
        """One more trial."""
        for story, false_pass in enumerate(FALSE_PASSES):
            self._log_seen[story, tried.column] += np.log(self._likelihood(tried, false_pass))
        self._known = None

    def _likelihood(self, tried: Tried, false_pass: float) -> Numbers:
        """Of each state, how likely what was seen is. Failures come at a rate that grows with the depth: an early one
        tells of more than a late one.
        """
        passes = self._passes(false_pass)[:, tried.row]
        if not tried.failed:
            return passes
        rate = -np.log(passes)
        if tried.after <= 0:
            # It did not come up: that is what the deepest do.
            found: Numbers = np.where(self._holds[:, tried.row], STRAY, (1.0 - passes) * rate)
        else:
            found = rate * np.exp(-rate * min(1.0, tried.after))
        kept: Numbers = np.maximum(found, 1e-12)
        return kept

    def _passes(self, false_pass: float) -> Numbers:
        """Of each state and row, the chance that a trial passes."""
        beyond = false_pass * DEEPER ** np.maximum(0, self._depth - 1)
        found: Numbers = np.where(self._holds, 1.0 - STRAY, np.maximum(beyond, 1e-9))
        return found

    # -- believing ----------------------------------------

    @property
    def holds(self) -> Numbers:
        """Chance that each cell holds: (columns, rows)."""
        weights, states, _ = self._believed()
        found: Numbers = np.einsum("k,kcs,sr->cr", weights, states, self._holds.astype(float))
        return found

    @property
    def false_pass(self) -> float:
        """How often a trial passes in the cell right beyond the boundary, as far as that is known."""
        weights, _, _ = self._believed()
        return float(weights.reshape(len(FALLS), -1).sum(axis=0) @ np.array(FALSE_PASSES))

    def information(self) -> Numbers:
        """Bits that a trial in each cell tells of the boundary: (columns, rows)."""
        weights, states, _ = self._believed()
        passes = np.array([self._passes(false_pass) for false_pass in FALSE_PASSES])
        passes = np.tile(passes, (len(FALLS), 1, 1))
        overall = np.einsum("k,kcs,ksr->cr", weights, states, passes)
        left = np.einsum("k,kcs,ksr->cr", weights, states, _entropy(passes))
        found: Numbers = _entropy(overall) - left
        return found

    def sure(self, part: float = 0.95) -> float:
        """Chance that at least this part of all cells is what it is most likely held for."""
        guess = self.holds >= 0.5
        right = (self.drawn() == guess[None]).mean(axis=(1, 2))
        return float((right >= part).mean())

    def drawn(self) -> NDArray[np.bool_]:
        """Boundaries drawn from what is believed: (samples, columns, rows), as what holds."""
        weights, _, backward = self._believed()
        luck = np.random.Generator(np.random.PCG64(SEED))
        stories = luck.choice(len(weights), SAMPLES, p=weights)
        seen = self._emissions()
        held = np.zeros((SAMPLES, self.columns, self.rows), bool)
        chances = self._starts[stories] * seen[stories, 0] * backward[stories, 0]
        state = _picked(chances, luck)
        held[:, 0] = self._holds[state]
        for column in range(1, self.columns):
            chances = self._moves[stories, state] * seen[stories, column] * backward[stories, column]
            state = _picked(chances, luck)
            held[:, column] = self._holds[state]
        return held

    # -- sums ----------------------------------------

    def _believed(self) -> tuple[Numbers, Numbers, Numbers]:
        """The weight of each story, the chance of each state in each column by story, and the backward sums."""
        if self._known is None:
            seen = self._emissions()
            count, columns, states = seen.shape
            forward, backward = np.zeros((count, columns, states)), np.ones((count, columns, states))
            log_weight = np.zeros(count)
            row = self._starts * seen[:, 0]
            for column in range(columns):
                if column:
                    row = np.einsum("ks,kst->kt", forward[:, column - 1], self._moves) * seen[:, column]
                scale = row.sum(axis=1, keepdims=True)
                log_weight += np.log(np.maximum(scale[:, 0], 1e-300))
                forward[:, column] = row / np.maximum(scale, 1e-300)
            for column in range(columns - 2, -1, -1):
                row = np.einsum("kst,kt->ks", self._moves, seen[:, column + 1] * backward[:, column + 1])
                backward[:, column] = row / np.maximum(row.max(axis=1, keepdims=True), 1e-300)
            both = forward * backward
            both /= np.maximum(both.sum(axis=2, keepdims=True), 1e-300)
            log_weight += self._shifts
            weights = np.exp(log_weight - log_weight.max())
            self._known = weights / weights.sum(), both, backward
        return self._known

    def _emissions(self) -> Numbers:
        """Likelihoods by story, column and state, each column scaled by its largest over all stories."""
        log = np.tile(self._log_seen, (len(FALLS), 1, 1))
        most = log.max(axis=2, keepdims=True)
        self._shifts = most[:, :, 0].sum(axis=1)
        found: Numbers = np.exp(log - most)
        return found

    def _stories(self) -> tuple[Numbers, Numbers]:
        """Of each story the chances of the first column's states, and of the moves from state to state."""
        low, high = self._states[:, 0], self._states[:, 1]
        down, up = high[:, None] - high[None, :], low[None, :] - low[:, None]
        allowed = (down >= 0) & (up >= 0)
        empty = low == high
        starts, moves = [], []
        for falls in FALLS:
            weight = np.where(allowed, np.exp(-np.maximum(0, down) / falls - np.maximum(0, up) / falls), 0.0)
            # What is empty stays so, wherever its ends may lie.
            weight = np.where(empty[:, None], np.eye(len(low)), weight)
            weight /= weight.sum(axis=1, keepdims=True)
            nothing = np.zeros(len(low))
            nothing[0] = 1.0
            wall = np.where(empty[:, None], weight, (1 - WALL) * weight + WALL * nothing[None, :])
            start = np.ones(len(low)) * np.where(empty, 0.5, 1.0)
            for _ in FALSE_PASSES:
                moves.append(wall)
                starts.append(start / start.sum())
        return np.array(starts), np.array(moves)

    def _depths(self) -> NDArray[np.int64]:
        """Of each state and row, how many rows it lies outside."""
        cells = np.arange(self.rows)
        low, high = self._states[:, :1], self._states[:, 1:]
        above, below = cells - high + 1, low - cells
        found = np.where(cells >= high, above, np.where(cells < low, below, 0))
        # Where nothing holds, the nearer end counts.
        depth: NDArray[np.int64] = np.where(low == high, np.clip(np.abs(above), 1, self.rows), found).astype(np.int64)
        return depth


def _entropy(chances: Numbers) -> Numbers:
    safe = np.clip(chances, 1e-12, 1 - 1e-12)
    found: Numbers = -(safe * np.log2(safe) + (1 - safe) * np.log2(1 - safe))
    return found


def _picked(chances: Numbers, luck: np.random.Generator) -> NDArray[np.int64]:
    """One place of each row, by its chances."""
    known = np.cumsum(chances, axis=1)
    at = luck.random((len(chances), 1)) * known[:, -1:]
    found: NDArray[np.int64] = (known < at).sum(axis=1).clip(0, chances.shape[1] - 1)
    return found
