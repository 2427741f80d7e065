"""Clocks and nanoseconds, and the three ways of rounding between them."""

from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction

from tenaz.core.base.errors import Refused
from tenaz.core.base.limits import HIGHEST_RATE_MTS


class Family(StrEnum):
    """Generations of memory with their own rules."""

    DDR4 = "DDR4"
    DDR5 = "DDR5"

    @property
    def burst(self) -> int:
        """Transfers in a burst: BL8 (JESD79-4), BL16 (JESD79-5)."""
        return 8 if self is Family.DDR4 else 16


class Rounding(StrEnum):
    """How nanoseconds become whole clocks."""

    STANDARD = "standard"
    CAUTIOUS = "cautious"


PS_IN_THIRDS = 6_000_000
"""Picoseconds of a clock × thirds of an MT/s of its data rate: 2 000 000 / R with R counted in thirds."""


@dataclass(frozen=True, slots=True)
class MemoryClock:
    """The memory clock at a data rate in MT/s.

    Names of rates are cut to whole numbers: 2666 stands for 2666⅔. A rate within one of a multiple of 33⅓ is that.
    """

    rate_mts: int

    def __post_init__(self) -> None:
        if not 0 < self.rate_mts <= HIGHEST_RATE_MTS:
            raise Refused(f"a data rate of {self.rate_mts} MT/s has no clock; give one from 1 to {HIGHEST_RATE_MTS}.")

    @property
    def thirds_mts(self) -> int:
        """The rate that the name stands for, in thirds of an MT/s: exact in whole numbers."""
        near = (self.rate_mts * 3 + 50) // 100 * 100
        return near if abs(near - 3 * self.rate_mts) < 3 else 3 * self.rate_mts

    @property
    def mhz(self) -> Fraction:
        """The clock: half the data rate."""
        return Fraction(self.thirds_mts, 6)

    @property
    def t_ck_ps(self) -> Fraction:
        """One clock in picoseconds, exact."""
        return Fraction(PS_IN_THIRDS, self.thirds_mts)

    def t_ck_whole_ps(self, family: Family) -> int:
        """One clock in whole picoseconds, as the speed bins of the standards write it: DDR4's tables have the nearest
        one (682 at 2933, but 937 at 2133), DDR5 cuts off (416 at 4800).
        """
        if family is Family.DDR4:
            # Halves go down: 937.5 is 937 there.
            return -((self.thirds_mts - 2 * PS_IN_THIRDS) // (2 * self.thirds_mts))
        return PS_IN_THIRDS // self.thirds_mts

    def ns(self, clocks: float) -> float:
        """So many clocks in nanoseconds."""
        return clocks * PS_IN_THIRDS / self.thirds_mts / 1000


def to_clocks(time_ps: Fraction | int, clock: MemoryClock, family: Family, rounding: Rounding) -> int:
    """Whole clocks that last at least a time, as far as the rounding goes.

    The standards work in whole picoseconds and forgive a small excess: DDR4 adds 0.974 of a clock and cuts off
    (JESD79-4, rounding algorithms; the correction of SPD annex L); DDR5 takes 0.997 of the time, adds a clock and cuts
    off (JESD79-5, rounding definitions and algorithms). Their tCK is that of their speed bins: see
    :meth:`MemoryClock.t_ck_whole_ps`. Cautious is the plain next whole clock. A time that is a whole
    number of clocks stays that one under each, and what is forgiven is always less than one clock (by its formula
    DDR5's 0.3 % would be more beyond 333 clocks), so that more time never gives fewer clocks.
    """
    return _to_clocks(time_ps.numerator, time_ps.denominator, clock, family, rounding)


def carried_clocks(clocks: int, before: MemoryClock, after: MemoryClock, family: Family, rounding: Rounding) -> int:
    """Clocks at one rate as clocks at another that last as long; see :func:`to_clocks`."""
    return _to_clocks(clocks * PS_IN_THIRDS, before.thirds_mts, after, family, rounding)


def _to_clocks(ps: int, over: int, clock: MemoryClock, family: Family, rounding: Rounding) -> int:
    """For a time of ps/over picoseconds; whole numbers only, since a sheet is carried while a knob turns."""
    whole, rest = divmod(ps * clock.thirds_mts, over * PS_IN_THIRDS)
    up = whole + (rest > 0)
    if rounding is Rounding.CAUTIOUS or not rest:
        return up
    t_ck_ps, whole_ps = clock.t_ck_whole_ps(family), ps // over
    if family is Family.DDR4:
        forgiving = (whole_ps * 1000 // t_ck_ps + 974) // 1000
    else:
        forgiving = (whole_ps * 997 // t_ck_ps + 1000) // 1000
    return max(whole, min(up, forgiving))
