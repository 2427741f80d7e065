"""The values that a knob can take: whole numbers in its unit, evenly spaced or listed."""

from bisect import bisect_left
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise

from tenaz.core.base.limits import LARGEST_NUMBER, MOST_GRID_VALUES


@dataclass(frozen=True, slots=True)
class Grid:
    """The allowed values: first, first + step, … up to last; or, where they are not even, those ``listed`` (rising).

    With ``listed``, ``step`` is 0 and ``first`` and ``last`` are its ends.
    """

    first: int
    last: int
    step: int
    listed: tuple[int, ...] = ()

    def __post_init__(self) -> None:
        if max(abs(self.first), abs(self.last), abs(self.step)) > LARGEST_NUMBER:
            raise ValueError(f"a grid's values lie within ±{LARGEST_NUMBER}")
        if len(self.listed) > MOST_GRID_VALUES:
            raise ValueError(f"a grid of {len(self.listed)} values has too many")
        if self.listed:
            if self.step or (self.listed[0], self.listed[-1]) != (self.first, self.last):
                raise ValueError("a listed grid has step 0, and its ends are those of its list")
            if any(later <= earlier for earlier, later in pairwise(self.listed)):
                raise ValueError(f"a listed grid must rise: {', '.join(map(str, self.listed))}")
        elif self.step > 0 and (self.last - self.first) // self.step >= MOST_GRID_VALUES:
            raise ValueError(f"grid {self.first} to {self.last} in steps of {self.step} has too many values")
        elif self.step <= 0 or self.last < self.first or (self.last - self.first) % self.step:
            raise ValueError(f"grid {self.first} to {self.last} cannot be walked in steps of {self.step}")

    @classmethod
    def of(cls, values: Iterable[int]) -> "Grid":
        """A grid of exactly these values; even ones become an even grid."""
        listed = tuple(sorted(set(values)))
        if not listed:
            raise ValueError("a grid needs a value")
        steps = {later - earlier for earlier, later in pairwise(listed)}
        if len(steps) <= 1:
            return cls(listed[0], listed[-1], steps.pop() if steps else 1)
        return cls(listed[0], listed[-1], 0, listed)

    def __contains__(self, value: object) -> bool:
        return isinstance(value, int) and value in self.values()

    def __len__(self) -> int:
        return len(self.values())

    def values(self) -> Sequence[int]:
        """All values, lowest first."""
        return self.listed or range(self.first, self.last + 1, self.step)

    @property
    def spacing(self) -> float:
        """How far apart neighbours are, on average; 1 where there is one value only."""
        return (self.last - self.first) / (len(self) - 1) if len(self) > 1 else 1.0

    def index(self, value: int) -> int:
        """Position of a value of the grid, from 0; of a number between two, that of the lower one."""
        if self.listed:
            place = bisect_left(self.listed, value)
            return place if place < len(self.listed) and self.listed[place] == value else place - 1
        return (value - self.first) // self.step

    def at(self, index: int) -> int | None:
        """The value at a position; None beyond the ends."""
        return self.values()[index] if 0 <= index < len(self) else None

    def nearest(self, value: float) -> tuple[int, ...]:
        """The one or two grid values on either side of any number."""
        values = self.values()
        place = bisect_left(values, value)
        if place == len(values):
            return (values[-1],)
        if place == 0 or values[place] == value:
            return (values[place],)
        return values[place - 1], values[place]

    def show(self) -> str:
        """In words, for a hint or a refusal."""
        if self.listed:
            shown = self.listed if len(self.listed) <= 12 else (*self.listed[:4], "…", *self.listed[-4:])
            return ", ".join(map(str, shown))
        return f"{self.first} to {self.last} in steps of {self.step}"
