"""``solve`` in a worker: dense products that are exact, and linear systems with their residual; one thread each.

What it strains: multiply-add units through the machine's own linear algebra library, with all cache levels busy. A
product of matrices of small whole numbers is exact in double precision in whatever order it is summed, so it is
verified without a golden: exact row and column sums first, then every number against the verified product.
"""

import hashlib
import struct
from collections.abc import Iterator
from functools import partial
from itertools import chain
from random import SystemRandom

import numpy as np

from tenaz.core.loads.plan import MismatchKind
from tenaz.loads.spec import Spec
from tenaz.loads.tried import Checked, Plant, told
from tenaz.loads.worker import Line

Matrix = np.ndarray[tuple[int, int], np.dtype[np.float64]]
Vector = np.ndarray[tuple[int, ...], np.dtype[np.float64]]

PRODUCT_SIZE = 1024
SYSTEM_SIZE = 3000
SYSTEM_EVERY_LAPS = 12
FIRST_SYSTEM = 2
"""So many products for each system, the first soon: about as much time for each."""
LARGEST = 64
"""Entries lie between −64 and 63: sums of 1024 products stay below 2^53 by far."""
RIGHT_RESIDUAL = 0.0015
"""What right answers give, over size × machine epsilon × norms (Higham, Accuracy and Stability, 2002): measured on this
system with several libraries and vector widths.
"""
RESIDUAL_BOUND = 8 * RIGHT_RESIDUAL
"""A residual above this is no rounding: one number of the solution that is wrong by a part in 10⁹ shows."""
SEED = 1871
OTHER_BITS = "a solution with other bits than the first one"


def flop_of_product(size: int) -> int:
    """Operations of one product."""
    return 2 * size**3


def flop_of_system(size: int) -> int:
    """Operations of one factorisation with its two triangular solutions."""
    return 2 * size**3 // 3 + 2 * size**2


class Products:
    """A product that is exact: verified once by sums, then number for number."""

    def __init__(self, size: int = PRODUCT_SIZE) -> None:
        chosen = np.random.Generator(np.random.PCG64(SEED))
        self.left = chosen.integers(-LARGEST, LARGEST, (size, size)).astype(np.float64)
        self.right = chosen.integers(-LARGEST, LARGEST, (size, size)).astype(np.float64)
        self.out = np.empty((size, size))
        self.golden: Matrix | None = None

    def wrong(self) -> list[tuple[int, int, float, float]]:
        """Multiply; row, column, expected and found of each number that is wrong."""
        np.matmul(self.left, self.right, out=self.out)
        return self._first() if self.golden is None else self.differing()

    def differing(self) -> list[tuple[int, int, float, float]]:
        """Of the product that stands there, row, column, expected and found of each number that is wrong."""
        assert self.golden is not None
        rows, columns = np.nonzero(self.out != self.golden)
        return [
            (int(r), int(c), float(self.golden[r, c]), float(self.out[r, c]))
            for r, c in zip(rows, columns, strict=True)
        ]

    def plants(self, luck: SystemRandom) -> Iterator[Plant]:
        """A number of the product that is wrong, in each lane of the comparison's vectors."""
        if self.golden is not None:
            row, column = luck.randrange(self.out.shape[0]), luck.randrange(self.out.shape[1] // 16) * 16
            yield lambda: self._in_product(row, column + luck.randrange(16), luck.randrange(52))

    def _in_product(self, row: int, column: int, bit: int) -> str:
        right = self.out[row, column]
        self.out.view(np.uint64)[row, column] ^= np.uint64(1 << bit)
        wrong = [(r, c, _bits(found) ^ _bits(expected)) for r, c, expected, found in self.differing()]
        self.out[row, column] = right
        return "" if (row, column, 1 << bit) in wrong else told(f"row {row}, column {column} of a product", bit)

    def _first(self) -> list[tuple[int, int, float, float]]:
        """Weighted sums of rows and columns, exact in whole numbers, against those of the factors."""
        weights = np.arange(1, self.out.shape[0] + 1, dtype=np.int64)
        largest = LARGEST * LARGEST * self.out.shape[0]
        # Only what is a whole number within reach may become one: a cast would cut off what is wrong behind the point.
        whole_numbers = (np.rint(self.out) == self.out) & (np.abs(self.out) <= largest)
        if not whole_numbers.all():
            rows, columns = np.nonzero(~whole_numbers)
            return [
                (int(r), int(c), float(np.rint(self.out[r, c])), float(self.out[r, c]))
                for r, c in zip(rows, columns, strict=True)
            ]
        whole = self.out.astype(np.int64)
        left, right = self.left.astype(np.int64), self.right.astype(np.int64)
        wanted_rows, wanted_columns = left @ (right @ weights), (weights @ left) @ right
        row_sums, column_sums = whole @ weights, weights @ whole
        wrong = [
            (int(r), -1, float(wanted_rows[r]), float(row_sums[r])) for r in np.nonzero(row_sums != wanted_rows)[0]
        ]
        wrong += [
            (-1, int(c), float(wanted_columns[c]), float(column_sums[c]))
            for c in np.nonzero(column_sums != wanted_columns)[0]
        ]
        if not wrong:
            self.golden = self.out.copy()
        return wrong


class Systems:
    """A system solved again and again: a small residual, and the same bits as the first good solution."""

    def __init__(self, size: int = SYSTEM_SIZE) -> None:
        chosen = np.random.Generator(np.random.PCG64(SEED + 1))
        self.matrix = chosen.uniform(-1.0, 1.0, (size, size))
        self.right = chosen.uniform(-1.0, 1.0, size)
        self.golden: bytes | None = None

    def wrong(self) -> str:
        """Solve; what is wrong in words, empty when nothing is."""
        return self.judged(np.asarray(np.linalg.solve(self.matrix, self.right), dtype=np.float64))

    def judged(self, solution: Vector) -> str:
        """What is wrong with a solution, in words."""
        size = len(solution)
        residual = np.abs(self.matrix @ solution - self.right).max()
        norms = np.abs(self.matrix).sum(axis=1).max() * np.abs(solution).max() + np.abs(self.right).max()
        relative = float(residual / (norms * size * np.finfo(float).eps))
        if not relative <= RESIDUAL_BOUND:
            return f"residual {relative:.3g} times what rounding explains"
        bits = solution.tobytes()
        if self.golden is None:
            self.golden = bits
        return "" if bits == self.golden else OTHER_BITS

    def plants(self, luck: SystemRandom) -> Iterator[Plant]:
        """A solution with one bit other than the first one's, and one with a residual."""
        if self.golden is None:
            return
        for bit in (luck.randrange(8), 52 + luck.randrange(3)):
            solution = np.frombuffer(self.golden, dtype=np.float64).copy()
            at = luck.randrange(len(solution))
            solution.view(np.uint64)[at] ^= np.uint64(1 << bit)
            wanted = OTHER_BITS if bit < 8 else "residual"
            yield partial(self._in_solution, solution, at, bit, wanted)

    def _in_solution(self, solution: Vector, at: int, bit: int, wanted: str) -> str:
        return "" if self.judged(solution).startswith(wanted) else told(f"number {at} of a solution", bit)


def run(spec: Spec, line: Line) -> float:
    """Until told to stop or until the laps are done; a lap is a product, now and then with a system."""
    products, systems = Products(), Systems()
    line.wait_for_go(address=0, bytes=systems.matrix.nbytes, locked=0)
    line.check_by(Checked(lambda luck: chain(products.plants(luck), systems.plants(luck))))
    laps = 0
    while not line.stopping and laps != spec.plan.laps:
        laps += 1
        first_product = products.golden is None
        for row, column, expected, found in products.wrong():
            words = (_bits(expected), _bits(found), _bits(found))
            line.wrong_word(laps, 0, words, MismatchKind.COMPUTED, f"product, row {row}, column {column}")
        if first_product and products.golden is not None:
            line.golden(f"product of {PRODUCT_SIZE}", hashlib.sha256(products.golden.tobytes()).hexdigest())
        line.worked(float(laps), flop_of_product(PRODUCT_SIZE), f"product of {PRODUCT_SIZE}")
        if laps % SYSTEM_EVERY_LAPS == FIRST_SYSTEM and not line.stopping:
            first = systems.golden is None
            if said := systems.wrong():
                line.wrong_word(laps, 0, (0, 1, 1), MismatchKind.COMPUTED, said)
            if first and systems.golden is not None:
                line.golden(f"system of {SYSTEM_SIZE}", hashlib.sha256(systems.golden).hexdigest())
            line.worked(float(laps), flop_of_system(SYSTEM_SIZE), f"system of {SYSTEM_SIZE}")
    return float(laps)


def _bits(value: float) -> int:
    return int(struct.unpack("<Q", struct.pack("<d", value))[0])
