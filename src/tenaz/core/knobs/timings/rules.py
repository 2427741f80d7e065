"""What the standards say of each timing: a time, a count of clocks, or the greater of both; and its least.

Out of the tables of timing parameters by speed grade of JESD79-3 (DDR3), JESD79-4 (DDR4), JESD79-5 (DDR5), JESD209-4
(LPDDR4) and JESD209-5 (LPDDR5).
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
    TimingRule("rd_rd_gap_nck", _COUNT, 1, "burst, in clocks"),
    TimingRule("wr_wr_gap_nck", _COUNT, 1, "burst, in clocks"),
    TimingRule("wr_rd_gap_nck", _COUNT, 1, "latency, burst and turn-round, in clocks"),
    TimingRule("wr_rd_rank_gap_nck", _COUNT, 1, "burst and preamble, in clocks"),
    TimingRule("rd_wr_gap_nck", _COUNT, 1, "burst and preamble, in clocks"),
    TimingRule("rd_rd_rank_gap_nck", _COUNT, 1, "burst and preamble, in clocks"),
    TimingRule("wr_wr_rank_gap_nck", _COUNT, 1, "burst and preamble, in clocks"),
)
"""Neither standard gives these a time: they follow from bursts and preambles, which are clocks."""

_DDR3 = (
    TimingRule("t_cl_nck", _TIME, 5, "tAA by speed bin"),
    TimingRule("t_rcd_nck", _TIME, 1, "by speed bin"),
    TimingRule("t_rp_nck", _TIME, 1, "by speed bin"),
    TimingRule("t_ras_nck", _TIME, 1, "by speed bin"),
    TimingRule("t_rc_nck", _TIME, 1, "by speed bin"),
    TimingRule("t_cwl_nck", _TIME, 5, "mode register 2, by speed bin"),
    TimingRule("t_wr_nck", _TIME, 5, "15 ns; mode register 0 holds no fewer than 5 nCK"),
    TimingRule("t_rfc_nck", _TIME, 1, "by density"),
    TimingRule("t_refi_nck", _LONGEST, 1, "7.8 µs up to 85 °C"),
    TimingRule("t_rrd_nck", _GREATER, 4, "max(4 nCK, 6 ns), with pages of 2 KiB 7.5 ns"),
    TimingRule("t_faw_nck", _TIME, 1, "27 to 40 ns with pages of 1 KiB, more with 2 KiB"),
    TimingRule("t_wtr_nck", _GREATER, 4, "max(4 nCK, 7.5 ns)"),
    TimingRule("t_rtp_nck", _GREATER, 4, "max(4 nCK, 7.5 ns)"),
    TimingRule("t_ccd_nck", _COUNT, 4, "4 nCK"),
    TimingRule("t_xp_nck", _GREATER, 3, "max(3 nCK, 6 ns)"),
    TimingRule("t_mrd_nck", _COUNT, 4, "4 nCK"),
    TimingRule("t_mod_nck", _GREATER, 12, "max(12 nCK, 15 ns)"),
    *_BUS_GAPS,
)

_LPDDR4 = (
    TimingRule("t_cl_nck", _TIME, 6, "read latency, mode register 2"),
    TimingRule("t_cwl_nck", _TIME, 4, "write latency, mode register 2"),
    TimingRule("t_rcd_nck", _GREATER, 4, "max(4 nCK, 18 ns)"),
    TimingRule("t_rp_nck", _GREATER, 4, "max(4 nCK, 18 ns), one bank"),
    TimingRule("t_rpab_nck", _GREATER, 4, "max(4 nCK, 21 ns), all banks"),
    TimingRule("t_ras_nck", _GREATER, 3, "max(3 nCK, 42 ns)"),
    TimingRule("t_rc_nck", _TIME, 1, "tRAS + tRP"),
    TimingRule("t_wr_nck", _GREATER, 6, "max(6 nCK, 18 ns)"),
    TimingRule("t_rrd_nck", _GREATER, 4, "max(4 nCK, 10 ns), 7.5 ns at 4266"),
    TimingRule("t_faw_nck", _TIME, 1, "40 ns, 30 ns at 4266"),
    TimingRule("t_wtr_nck", _GREATER, 8, "max(8 nCK, 10 ns)"),
    TimingRule("t_rtp_nck", _GREATER, 8, "max(8 nCK, 7.5 ns)"),
    TimingRule("t_ccd_nck", _COUNT, 8, "8 nCK"),
    TimingRule("t_xp_nck", _GREATER, 5, "max(5 nCK, 7.5 ns)"),
    TimingRule("t_rfcab_nck", _TIME, 1, "all banks, by density"),
    TimingRule("t_rfcpb_nck", _TIME, 1, "one bank, by density"),
    TimingRule("t_refi_nck", _LONGEST, 1, "3.904 µs up to 85 °C"),
    *_BUS_GAPS,
)

_LPDDR5 = (
    TimingRule("t_cl_nck", _TIME, 3, "read latency, mode register 2"),
    TimingRule("t_cwl_nck", _TIME, 2, "write latency, mode register 1"),
    TimingRule("t_rcd_nck", _GREATER, 2, "max(2 nCK, 18 ns)"),
    TimingRule("t_rp_nck", _GREATER, 2, "max(2 nCK, 18 ns), one bank"),
    TimingRule("t_rpab_nck", _GREATER, 2, "max(2 nCK, 21 ns), all banks"),
    TimingRule("t_ras_nck", _GREATER, 3, "max(3 nCK, 42 ns)"),
    TimingRule("t_rc_nck", _TIME, 1, "tRAS + tRP"),
    TimingRule("t_wr_nck", _GREATER, 3, "max(3 nCK, 34 ns)"),
    TimingRule("t_rrd_nck", _GREATER, 2, "max(2 nCK, 5 ns)"),
    TimingRule("t_faw_nck", _TIME, 1, "20 ns"),
    TimingRule("t_wtr_s_nck", _GREATER, 4, "max(4 nCK, 6.25 ns)"),
    TimingRule("t_wtr_l_nck", _GREATER, 4, "max(4 nCK, 12 ns)"),
    TimingRule("t_rtp_nck", _GREATER, 2, "max(2 nCK, 7.5 ns)"),
    TimingRule("t_xp_nck", _GREATER, 3, "max(3 nCK, 7 ns)"),
    TimingRule("t_rfcab_nck", _TIME, 1, "all banks, by density"),
    TimingRule("t_rfcpb_nck", _TIME, 1, "one bank, by density"),
    TimingRule("t_refi_nck", _LONGEST, 1, "3.906 µs up to 85 °C"),
    *_BUS_GAPS,
)

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

_OF_FAMILY = {
    Family.DDR3: _DDR3,
    Family.DDR4: _DDR4,
    Family.DDR5: _DDR5,
    Family.LPDDR4: _LPDDR4,
    Family.LPDDR5: _LPDDR5,
    Family.UNKNOWN: (),
}
RULES = {family: {rule.name: rule for rule in rules} for family, rules in _OF_FAMILY.items()}

DDR4_WRITE_LATENCIES_NCK = (9, 10, 11, 12, 14, 16, 18, 20)
"""tCWL that mode register 2 can hold (JESD79-4)."""

BASE_REFRESH_PS = {
    Family.DDR3: 7_800_000,
    Family.DDR4: 7_800_000,
    Family.DDR5: 3_900_000,
    Family.LPDDR4: 3_904_000,
    Family.LPDDR5: 3_906_000,
}
"""Refresh interval of the standards up to 85 °C; above it, half of that."""
