"""A knob: one adjustable value with its unit, its grid, the direction in which it gets harder, its ceilings."""

import re
from dataclasses import dataclass
from enum import StrEnum

from tenaz.core.errors import Refused


class OffGrid(Refused):
    """A value between two grid values, or beyond the grid's ends."""


class AboveCeiling(Refused):
    """A value above the hard ceiling; no reason lifts that."""


class NeedsReason(Refused):
    """A value above the advised ceiling without a typed reason."""


class NotANumber(Refused):
    """Something typed that is no value of the knob."""


class Harder(StrEnum):
    """Which way along the grid asks more of the rig."""

    UP = "up"
    DOWN = "down"

    @property
    def sign(self) -> int:
        """+1 or −1 grid steps."""
        return 1 if self is Harder.UP else -1


@dataclass(frozen=True, slots=True)
class Grid:
    """The allowed values: first, first + step, … up to last, whole numbers in the knob's unit."""

    first: int
    last: int
    step: int

    def __post_init__(self) -> None:
        if self.step <= 0 or self.last < self.first or (self.last - self.first) % self.step:
            raise ValueError(f"grid {self.first} to {self.last} cannot be walked in steps of {self.step}")

    def __contains__(self, value: int) -> bool:
        return self.first <= value <= self.last and (value - self.first) % self.step == 0

    def __len__(self) -> int:
        return (self.last - self.first) // self.step + 1

    def values(self) -> range:
        """All values, lowest first."""
        return range(self.first, self.last + 1, self.step)

    def index(self, value: int) -> int:
        """Position of a value of the grid, from 0."""
        return (value - self.first) // self.step

    def nearest(self, value: int) -> tuple[int, ...]:
        """The one or two grid values on either side of any number."""
        if value <= self.first:
            return (self.first,)
        if value >= self.last:
            return (self.last,)
        below = self.first + self.index(value) * self.step
        return (below,) if below == value else (below, below + self.step)


@dataclass(frozen=True, slots=True)
class Knob:
    """One adjustable value.

    ``name`` carries the unit (``memory_vdd_mv``), ``label`` is what the screen shows. Ceilings are upper limits in
    the knob's unit; None where a high value does no harm.
    """

    name: str
    label: str
    unit: str
    domain: str
    grid: Grid
    harder: Harder
    advised_ceiling: int | None = None
    hard_ceiling: int | None = None

    def harder_by(self, value: int, steps: int) -> int | None:
        """The value so many grid steps in the harder direction (negative: easier); None past the grid's end."""
        moved = value + self.harder.sign * steps * self.grid.step
        return moved if moved in self.grid else None

    def strain(self, value: int) -> int:
        """Grid steps counted in the harder direction, so that a larger number always asks more."""
        return self.harder.sign * self.grid.index(value)

    def at_strain(self, strain: int) -> int:
        """The value at a strain; the opposite of :meth:`strain`."""
        return self.grid.first + self.harder.sign * strain * self.grid.step

    def show(self, value: int) -> str:
        """The value with its unit, as the screen and the sheet write it."""
        return f"{value} {self.unit}"

    def check(self, value: int, reason: str = "") -> None:
        """Refuse what may not be set: above the hard ceiling, off the grid, above the advised one without reason.

        Raises:
            AboveCeiling, OffGrid, NeedsReason: each naming the knob, the value and what would be accepted.
        """
        if self.hard_ceiling is not None and value > self.hard_ceiling:
            raise AboveCeiling(
                f"{self.label} {self.show(value)} is above its hard ceiling of {self.show(self.hard_ceiling)}; "
                f"choose a value up to {self.hard_ceiling}."
            )
        if value not in self.grid:
            near = " and ".join(str(v) for v in self.grid.nearest(value))
            raise OffGrid(
                f"{self.label} {self.show(value)} is not on its grid ({self.grid.first} to {self.grid.last} in "
                f"steps of {self.grid.step}); nearest: {near}."
            )
        if self.advised_ceiling is not None and value > self.advised_ceiling and not reason.strip():
            raise NeedsReason(
                f"{self.label} {self.show(value)} is above its advised ceiling of "
                f"{self.show(self.advised_ceiling)}; type a reason to go there."
            )

    def parse(self, text: str) -> int:
        """Read a typed value: a whole number, with or without the unit; volts are taken for millivolts.

        Raises:
            NotANumber: for anything else.
        """
        found = re.fullmatch(r"\s*(\d+(?:[.,]\d+)?)\s*([A-Za-z/]*)\s*", text)
        if found is not None:
            number, unit = float(found[1].replace(",", ".")), found[2].lower()
            if self.unit == "mV" and unit == "v":
                number, unit = number * 1000, "mv"
            if unit in ("", self.unit.lower()) and abs(number - round(number)) < 1e-6:
                return round(number)
        raise NotANumber(
            f"{text!r} is no value of {self.label}; type a whole number of {self.unit}, like {self.grid.first}."
        )


def show_steps(count: int) -> str:
    """Like ``1 step`` or ``3 steps``."""
    return f"{count} step{'s' if abs(count) != 1 else ''}"
