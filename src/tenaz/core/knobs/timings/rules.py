"""What the standards say of each timing: a time, a count of clocks, or the greater of both; and its least.

Out of the tables of timing parameters by speed grade of JESD79-4 (DDR4) and JESD79-5 (DDR5).
"""

from dataclasses import dataclass
from enum import StrEnum

from tenaz.core.knobs.timings.clocks import Family


class Scaling(StrEnum):
    """What becomes of a timing at another data rate."""

    TIME = "a time: kept in ns, rounded up"
    LONGEST = "a longest time: kept in ns, rounded down"
    COUNT = "a count of clocks: the same at every rate"
    GREATER = "the greater of a time and a count: kept in ns, never fewer clocks than the count"
    COUNT_OR_TIME = "at its least a count of clocks that stays; above that a time, kept in ns"


@dataclass(frozen=True, slots=True)
class TimingRule:
    """One timing of a family: how it scales, the fewest clocks that the standard allows at any rate, and the standard's
    own words for it.
    """

    name: str
    scaling: Scaling
    least_nck: int = 1
    standard: str = ""

    def stays(self, clocks: int) -> bool:
        """Whether so many clocks are the same number at every rate."""
        at_its_count = self.scaling is Scaling.COUNT_OR_TIME and clocks <= self.least_nck
        return self.scaling is Scaling.COUNT or at_its_count


_TIME, _LONGEST, _COUNT = Scaling.TIME, Scaling.LONGEST, Scaling.COUNT
_GREATER, _COUNT_OR_TIME = Scaling.GREATER, Scaling.COUNT_OR_TIME

_BUS_GAPS = (
    TimingRule("command_rate_nck", _COUNT, 1, "clocks of the command bus"),
    TimingRule("rd_wr_gap_nck", _COUNT, 1, "burst and preamble, in clocks"),
    TimingRule("rd_rd_rank_gap_nck", _COUNT, 1, "burst and preamble, in clocks"),
    TimingRule("wr_wr_rank_gap_nck", _COUNT, 1, "burst and preamble, in clocks"),
)
"""Neither standard gives these a time: they follow from bursts and preambles, which are clocks."""

_DDR4 = (
    TimingRule("t_cl_nck", _TIME, 9, "tAA by speed bin"),
    TimingRule("t_rcd_nck", _TIME, 1, "by speed bin"),
    TimingRule("t_rp_nck", _TIME, 1, "by speed bin"),
    TimingRule("t_ras_nck", _TIME, 1, "by speed bin"),
    TimingRule("t_rc_nck", _TIME, 1, "by speed bin"),
    TimingRule("t_cwl_nck", _TIME, 9, "mode register 2, by speed bin"),
    TimingRule("t_wr_nck", _TIME, 10, "15 ns; mode register 0 holds no fewer than 10 nCK"),
    TimingRule("t_rfc1_nck", _TIME, 1, "by density"),
    TimingRule("t_rfc2_nck", _TIME, 1, "by density"),
    TimingRule("t_rfc4_nck", _TIME, 1, "by density"),
    TimingRule("t_refi_nck", _LONGEST, 1, "7.8 µs up to 85 °C"),
    TimingRule("t_rrd_s_nck", _COUNT_OR_TIME, 4, "4 nCK with pages of 1 KiB or less; max(4 nCK, 5.3 ns) with 2 KiB"),
    TimingRule("t_rrd_l_nck", _GREATER, 4, "max(4 nCK, 4.9 ns), with pages of 2 KiB 6.4 ns"),
    TimingRule("t_faw_nck", _COUNT_OR_TIME, 16, "16 nCK with pages of ½ KiB; max(20 nCK, 21 ns) and more above"),
    TimingRule("t_wtr_s_nck", _GREATER, 2, "max(2 nCK, 2.5 ns)"),
    TimingRule("t_wtr_l_nck", _GREATER, 4, "max(4 nCK, 7.5 ns)"),
    TimingRule("t_rtp_nck", _GREATER, 4, "max(4 nCK, 7.5 ns)"),
    TimingRule("t_ccd_s_nck", _COUNT, 4, "4 nCK"),
    TimingRule("t_ccd_l_nck", _GREATER, 5, "max(5 nCK, 5 ns)"),
    TimingRule("t_cke_nck", _GREATER, 3, "max(3 nCK, 5 ns)"),
    TimingRule("t_xp_nck", _GREATER, 4, "max(4 nCK, 6 ns)"),
    TimingRule("t_mrd_nck", _COUNT, 8, "8 nCK"),
    TimingRule("t_mod_nck", _GREATER, 24, "max(24 nCK, 15 ns)"),
    *_BUS_GAPS,
)

_DDR5 = (
    TimingRule("t_cl_nck", _TIME, 22, "tAA by speed bin, even"),
    TimingRule("t_rcd_nck", _TIME, 1, "by speed bin"),
    TimingRule("t_rp_nck", _TIME, 1, "by speed bin"),
    TimingRule("t_ras_nck", _TIME, 1, "32 ns"),
    TimingRule("t_rc_nck", _TIME, 1, "tRAS + tRP"),
    TimingRule("t_cwl_nck", _TIME, 20, "tCL − 2"),
    TimingRule("t_wr_nck", _TIME, 48, "30 ns; mode register 6 holds no fewer than 48 nCK"),
    TimingRule("t_rfc1_nck", _TIME, 1, "by density"),
    TimingRule("t_rfc2_nck", _TIME, 1, "by density"),
    TimingRule("t_rfcsb_nck", _TIME, 1, "by density"),
    TimingRule("t_refi_nck", _LONGEST, 1, "3.9 µs up to 85 °C"),
    TimingRule("t_rrd_s_nck", _COUNT, 8, "8 nCK"),
    TimingRule("t_rrd_l_nck", _GREATER, 8, "max(8 nCK, 5 ns)"),
    TimingRule("t_faw_nck", _COUNT, 32, "32 nCK with pages of 1 KiB, 40 nCK with 2 KiB"),
    TimingRule("t_wtr_s_nck", _GREATER, 4, "max(4 nCK, 2.5 ns)"),
    TimingRule("t_wtr_l_nck", _GREATER, 16, "max(16 nCK, 10 ns)"),
    TimingRule("t_rtp_nck", _GREATER, 12, "max(12 nCK, 7.5 ns)"),
    TimingRule("t_ccd_s_nck", _COUNT, 8, "8 nCK"),
    TimingRule("t_ccd_l_nck", _GREATER, 8, "max(8 nCK, 5 ns)"),
    TimingRule("t_ccd_l_wr_nck", _GREATER, 32, "max(32 nCK, 20 ns)"),
    TimingRule("t_ccd_l_wr2_nck", _GREATER, 16, "max(16 nCK, 10 ns)"),
    TimingRule("t_ppd_nck", _COUNT, 2, "2 nCK"),
    TimingRule("t_xp_nck", _GREATER, 8, "max(8 nCK, 7.5 ns)"),
    TimingRule("t_mrd_nck", _GREATER, 16, "max(16 nCK, 14 ns)"),
    *_BUS_GAPS,
)

RULES = {
    Family.DDR4: {rule.name: rule for rule in _DDR4},
    Family.DDR5: {rule.name: rule for rule in _DDR5},
}

DDR4_WRITE_LATENCIES_NCK = (9, 10, 11, 12, 14, 16, 18, 20)
"""tCWL that mode register 2 can hold (JESD79-4)."""

BASE_REFRESH_PS = {Family.DDR4: 7_800_000, Family.DDR5: 3_900_000}
"""Refresh interval of both standards up to 85 °C; above it, half of that."""
