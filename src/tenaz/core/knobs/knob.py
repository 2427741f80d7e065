"""A knob: one adjustable value with its unit, its grid, the direction in which it gets harder, its ceilings."""

import re
from dataclasses import dataclass, replace
from enum import StrEnum

from tenaz.core.base.errors import Refused
from tenaz.core.base.limits import MOST_DIGITS
from tenaz.core.knobs.grid import Grid
from tenaz.core.knobs.setpoint import AUTO, UNKNOWN, Auto, Value

__all__ = ["Grid", "Harder", "Knob"]


MOST_VOLTS = 5.0
"""A number with a point, of a voltage, is volts up to here."""
LOWEST_KHZ = 1000
"""Of a clock in kHz, what is less was meant in MHz."""

RATE_UNIT, RATE_ROUNDING_MTS = "MT/s", 1
"""Data rates are multiples of 100/3 MT/s, told as whole numbers: rounded, or cut off."""


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
class Knob:
    """One adjustable value.

    ``name`` carries the unit (``memory_vdd_mv``), ``label`` is what the screen shows: the board's own spelling where
    that is known, and then ``standard_label`` the standard's. ``group`` is the page of the firmware where it stands.
    Ceilings are upper limits in the knob's unit; None where a high value does no harm. ``default`` is the standard's;
    ``affects`` says in words what moves with it. ``locked`` is the reason why it is not to be moved; empty: it may be.
    """

    name: str
    label: str
    unit: str
    domain: str
    grid: Grid
    harder: Harder
    advised_ceiling: int | None = None
    hard_ceiling: int | None = None
    group: str = ""
    may_be_auto: bool = False
    default: Value | None = None
    affects: str = ""
    locked: str = ""
    standard_label: str = ""
    parts: int = 1
    """Of its unit, of which a value is one: 4 where values are quarters, shown as 45.25."""

    def harder_by(self, value: int, steps: int) -> int | None:
        """The value so many grid steps in the harder direction (negative: easier); None past the grid's end."""
        return self.grid.at(self.grid.index(value) + self.harder.sign * steps) if value in self.grid else None

    def strain(self, value: int) -> int:
        """Grid steps counted in the harder direction, so that a larger number always asks more."""
        return self.harder.sign * self.grid.index(value)

    def at_strain(self, strain: int) -> int:
        """The value at a strain; the opposite of :meth:`strain`.

        Raises:
            OffGrid: past the grid's ends.
        """
        value = self.grid.at(self.harder.sign * strain)
        if value is None:
            raise OffGrid(f"{self.label} has no value there; its grid is {self.grid.show()} {self.unit}.")
        return value

    @property
    def ends(self) -> tuple[int, int]:
        """The strains of the easiest and of the hardest value of its grid."""
        first, last = self.strain(self.grid.first), self.strain(self.grid.last)
        return min(first, last), max(first, last)

    def between(self, strain: float) -> float:
        """The number at a strain between grid values, in the knob's unit; beyond an end, that end."""
        place = max(0.0, min(len(self.grid) - 1.0, self.harder.sign * strain))
        values = self.grid.values()
        below = int(place)
        above = min(below + 1, len(values) - 1)
        return values[below] + (place - below) * (values[above] - values[below])

    @property
    def most(self) -> int:
        """The highest value that may be set at all."""
        if self.hard_ceiling is None or self.grid.last <= self.hard_ceiling:
            return self.grid.last
        return max(value for value in self.grid.values() if value <= self.hard_ceiling)

    def holding(self, value: int) -> "Knob":
        """The knob with a value among those of its grid, because it was in force once; ceilings stay."""
        return self if value in self.grid else replace(self, grid=Grid.of((*self.grid.values(), value)))

    def as_found(self, value: int) -> "Knob":
        """The knob of a rig that came with a value: that is on its grid, and no ceiling lies below it."""
        advised, hard = (None if one is None else max(one, value) for one in (self.advised_ceiling, self.hard_ceiling))
        return replace(self.holding(value), advised_ceiling=advised, hard_ceiling=hard)

    def alike(self, asked: int, read: int) -> bool:
        """Whether a reading can be the value that was asked for, rounded otherwise: firmware, standards and people
        write the same data rate as 2133 and 2134, 2666 and 2667.
        """
        return asked == read or (self.unit == RATE_UNIT and abs(asked - read) <= RATE_ROUNDING_MTS)

    def nearest_alike(self, value: int) -> int:
        """The grid value that a reading is; the reading itself where it is none of them."""
        return next((one for one in self.grid.nearest(value) if self.alike(one, value)), value)

    def show(self, value: Value) -> str:
        """The value with its unit, as the screen and the sheet write it."""
        if isinstance(value, Auto):
            return value.value
        return f"{value if self.parts == 1 else f'{value / self.parts:g}'} {self.unit}".rstrip()

    def check(self, value: Value, reason: str = "") -> None:
        """Refuse what may not be set: above the hard ceiling, beyond the grid, above the advised one or between two
        values without a reason.

        Raises:
            AboveCeiling, OffGrid, NeedsReason: each naming the knob, the value and what would be accepted.
        """
        if value is UNKNOWN:
            return
        if isinstance(value, Auto):
            if not self.may_be_auto:
                raise OffGrid(f"{self.label} cannot be left to the firmware; give a number: {self.grid.show()}.")
            return
        if self.hard_ceiling is not None and value > self.hard_ceiling:
            raise AboveCeiling(
                f"{self.label} {self.show(value)} is above its hard ceiling of {self.show(self.hard_ceiling)}; "
                f"choose a value up to {self.hard_ceiling}."
            )
        if value not in self.grid:
            near = " and ".join(self.show(v).removesuffix(f" {self.unit}") for v in self.grid.nearest(value))
            if not self.grid.first < value < self.grid.last:
                raise OffGrid(
                    f"{self.label} {self.show(value)} is not on its grid ({self.grid.show()}) but beyond it; nearest: "
                    f"{near}. A board's file makes it reach further (tenaz rig --knobs)."
                )
            if not reason.strip():
                raise NeedsReason(
                    f"{self.label} {self.show(value)} is not on its grid ({self.grid.show()}); nearest: {near}. Type a "
                    f"reason to take it as it is."
                )
        if self.advised_ceiling is not None and value > self.advised_ceiling and not reason.strip():
            raise NeedsReason(
                f"{self.label} {self.show(value)} is above its advised ceiling of "
                f"{self.show(self.advised_ceiling)}; type a reason to go there."
            )

    def check_past(self, value: Value) -> None:
        """Refuse what cannot have been: further beyond its grid than that is wide. What was, was, above a ceiling too.

        Raises:
            OffGrid: naming the knob, the value and how far values are believed.
        """
        span = self.grid.last - self.grid.first
        if not isinstance(value, Auto) and not self.grid.first - span <= value <= self.grid.last + span:
            raise OffGrid(
                f"{self.label} {self.show(value)} cannot have been: values go {self.grid.show()}. Look at the number "
                f"again; if it is right, a board's file makes them reach further (tenaz rig --knobs)."
            )

    def show_stretch(self, low: float, high: float) -> str:
        """Two strains between grid values in the knob's unit, the lower number first, like ``6050 to 6310 MT/s``."""
        ends = sorted((self.between(low), self.between(high)))
        return f"{ends[0]:.0f} to {ends[1]:.0f} {self.unit}".rstrip()

    def parse(self, text: str) -> Value:
        """Read a typed value: a whole number, with or without the unit; or ``auto``. Volts are taken for millivolts,
        ``1.35`` too, and megahertz for kilohertz.

        Raises:
            NotANumber: for anything else.
        """
        if text.strip().lower() == AUTO:
            return AUTO
        found = re.fullmatch(
            rf"\s*([-+−]?\d{{1,{MOST_DIGITS}}}(?:[.,]\d{{1,{MOST_DIGITS}}})?)\s*([A-Za-zµ/%×°]*)\s*", text
        )
        if found is not None:
            number, unit = float(found[1].replace(",", ".").replace("−", "-")), found[2].lower()
            if self.unit == "mV" and (unit == "v" or (unit == "" and _as_volts(found[1], number))):
                number, unit = number * 1000, "mv"
            elif self.unit == "kHz" and (unit == "mhz" or (unit == "" and 0 < number < LOWEST_KHZ)):
                number, unit = number * 1000, "khz"
            number *= self.parts
            signed = number >= 0 or self.grid.first < 0
            if signed and unit in ("", self.unit.lower()) and abs(number - round(number)) < 1e-6:
                return round(number)
        raise NotANumber(
            f"{text[:40]!r} is no value of {self.label}; type a whole number of {self.unit or 'steps'}, like "
            f"{self.grid.first}{' or auto' if self.may_be_auto else ''}."
        )


def _as_volts(typed: str, number: float) -> bool:
    """Whether a number without a unit is volts: 1.35, as the trade writes a voltage."""
    return bool(re.search(r"[.,]\d", typed)) and abs(number) < MOST_VOLTS


def show_steps(count: int) -> str:
    """Like ``1 step`` or ``3 steps``."""
    return f"{count} step{'s' if abs(count) != 1 else ''}"
