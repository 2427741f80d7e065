"""Clocks and nanoseconds, and the three ways of rounding between them."""

from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction

from tenaz.core.base.errors import Refused
from tenaz.core.base.limits import HIGHEST_RATE_MTS


class Family(StrEnum):
    """Generations of memory with their own rules."""

    DDR3 = "DDR3"
    DDR4 = "DDR4"
    DDR5 = "DDR5"
    LPDDR4 = "LPDDR4"
    LPDDR5 = "LPDDR5"
    UNKNOWN = "unknown"
    """One that has no rules here: its rig is loaded and recorded as any other, and nothing is said of its timings."""

    @classmethod
    def named(cls, kind: str) -> "Family | None":
        """The family that is called so, ``lpddr4x`` is LPDDR4; *unknown* is one too. None: nothing is."""
        wanted = kind.strip().upper().removesuffix("X")
        return next((one for one in cls if one.value.upper() == wanted), None)

    @classmethod
    def of(cls, kind: str) -> "Family":
        """The family that firmware, or a person, calls so; what is none of them is unknown."""
        return cls.named(kind) or cls.UNKNOWN

    @classmethod
    def typed(cls, kind: str) -> "Family":
        """The family that somebody typed.

        Raises:
            Refused: there is none of that name.
        """
        family = cls.named(kind)
        if family is None:
            raise Refused(f"{kind[:20]!r} is no kind of memory that is known here; it is one of {', '.join(cls)}.")
        return family

    @property
    def burst(self) -> int:
        """Transfers in a burst: BL8 (JESD79-3, -4), BL16 (JESD79-5, JESD209-4, -5)."""
        return 8 if self in (Family.DDR3, Family.DDR4) else 16

    @property
    def transfers_a_clock(self) -> int:
        """Transfers in one clock of its commands, which timings count: two; of LPDDR5 eight, whose data clock runs at
        four times the clock of commands (JESD209-5, WCK:CK of 4:1).
        """
        return 8 if self is Family.LPDDR5 else 2


class Rounding(StrEnum):
    """How nanoseconds become whole clocks."""

    STANDARD = "standard"
    CAUTIOUS = "cautious"


PS_IN_THIRDS = 3_000_000
"""Picoseconds of a transfer × thirds of an MT/s of its data rate: 1 000 000 / R with R counted in thirds."""


@dataclass(frozen=True, slots=True)
class MemoryClock:
    """The memory clock at a data rate in MT/s.

    Names of rates are cut to whole numbers: 2666 stands for 2666⅔. A rate within one of a multiple of 33⅓ is that.
    ``transfers`` are those in one clock.
    """

    rate_mts: int
    transfers: int = 2

    @classmethod
    def of(cls, rate_mts: int, family: Family) -> "MemoryClock":
        """The clock that a family's timings count."""
        return cls(rate_mts, family.transfers_a_clock)

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
        """The clock: half the data rate, where two are transferred in one."""
        return Fraction(self.thirds_mts, 3 * self.transfers)

    @property
    def ps_in_thirds(self) -> int:
        """Picoseconds of a clock × thirds of an MT/s of its data rate."""
        return PS_IN_THIRDS * self.transfers

    @property
    def t_ck_ps(self) -> Fraction:
        """One clock in picoseconds, exact."""
        return Fraction(self.ps_in_thirds, self.thirds_mts)

    def t_ck_whole_ps(self, family: Family) -> int:
        """One clock in whole picoseconds, as the speed bins of the standards write it: DDR4's tables have the nearest
        one (682 at 2933, but 937 at 2133), DDR5 cuts off (416 at 4800).
        """
        if family is Family.DDR4:
            # Halves go down: 937.5 is 937 there.
            return -((self.thirds_mts - 2 * self.ps_in_thirds) // (2 * self.thirds_mts))
        return self.ps_in_thirds // self.thirds_mts

    def ns(self, clocks: float) -> float:
        """So many clocks in nanoseconds."""
        return clocks * self.ps_in_thirds / self.thirds_mts / 1000


def to_clocks(time_ps: Fraction | int, clock: MemoryClock, family: Family, rounding: Rounding) -> int:
    """Whole clocks that last at least a time, as far as the rounding goes.

    The standards work in whole picoseconds and forgive a small excess: DDR4 adds 0.974 of a clock and cuts off
    (JESD79-4, rounding algorithms; the correction of SPD annex L); DDR5 takes 0.997 of the time, adds a clock and cuts
    off (JESD79-5, rounding definitions and algorithms). Their tCK is that of their speed bins: see
    :meth:`MemoryClock.t_ck_whole_ps`. The others round up (JESD79-3, JESD209-4 and -5). Cautious is the plain next
    whole clock. A time that is a whole number of clocks stays that one under each, and what is forgiven is always less
    than one clock (by its formula DDR5's 0.3 % would be more beyond 333 clocks), so that more time never gives fewer
    clocks.
    """
    return _to_clocks(time_ps.numerator, time_ps.denominator, clock, family, rounding)


def carried_clocks(clocks: int, before: MemoryClock, after: MemoryClock, family: Family, rounding: Rounding) -> int:
    """Clocks at one rate as clocks at another that last as long; see :func:`to_clocks`."""
    return _to_clocks(clocks * before.ps_in_thirds, before.thirds_mts, after, family, rounding)


def _to_clocks(ps: int, over: int, clock: MemoryClock, family: Family, rounding: Rounding) -> int:
    """For a time of ps/over picoseconds; whole numbers only, since a sheet is carried while a knob turns."""
    whole, rest = divmod(ps * clock.thirds_mts, over * clock.ps_in_thirds)
    up = whole + (rest > 0)
    if rounding is Rounding.CAUTIOUS or not rest or family not in (Family.DDR4, Family.DDR5):
        return up
    t_ck_ps, whole_ps = clock.t_ck_whole_ps(family), ps // over
    if family is Family.DDR4:
        forgiving = (whole_ps * 1000 // t_ck_ps + 974) // 1000
    else:
        forgiving = (whole_ps * 997 // t_ck_ps + 1000) // 1000
    return max(whole, min(up, forgiving))
