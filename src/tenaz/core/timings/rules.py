"""What the standards say of each timing: what it may not go below by itself, and what follows from the others."""

from dataclasses import dataclass
from enum import StrEnum

from tenaz.core.timings.clocks import Family


class Scaling(StrEnum):
    """What becomes of a timing at another data rate."""

    TIME = "a time: kept in ns, rounded up"
    LONGEST = "a longest time: kept in ns, rounded down"
    CLOCKS = "a number of clocks: stays"


@dataclass(frozen=True, slots=True)
class TimingRule:
    """One timing of a family: how it scales, and the fewest clocks that the standard allows at any rate."""

    name: str
    scaling: Scaling
    least_nck: int = 1


def _rules(family: Family) -> tuple[TimingRule, ...]:
    """JESD79-4 and JESD79-5, timing parameters by speed bin: those with max(n·nCK, t) have their n here."""
    four = family is Family.DDR4
    time, longest, clocks = Scaling.TIME, Scaling.LONGEST, Scaling.CLOCKS
    return (
        TimingRule("t_cl_nck", time, 9 if four else 22),
        TimingRule("t_rcd_nck", time),
        TimingRule("t_rp_nck", time),
        TimingRule("t_ras_nck", time),
        TimingRule("t_rc_nck", time),
        TimingRule("t_cwl_nck", time, 9 if four else 20),
        TimingRule("t_wr_nck", time, 10 if four else 48),
        TimingRule("t_rfc1_nck", time),
        TimingRule("t_rfc2_nck", time),
        TimingRule("t_rfc4_nck", time),
        TimingRule("t_rfcsb_nck", time),
        TimingRule("t_refi_nck", longest),
        TimingRule("t_rrd_s_nck", time, 4 if four else 8),
        TimingRule("t_rrd_l_nck", time, 4 if four else 8),
        TimingRule("t_faw_nck", time, 16 if four else 32),
        TimingRule("t_wtr_s_nck", time, 2 if four else 4),
        TimingRule("t_wtr_l_nck", time, 4 if four else 16),
        TimingRule("t_rtp_nck", time, 4 if four else 12),
        TimingRule("t_ccd_s_nck", clocks, family.burst // 2),
        TimingRule("t_ccd_l_nck", time, 5 if four else 8),
        TimingRule("t_ccd_l_wr_nck", time, 5 if four else 32),
        TimingRule("t_ccd_l_wr2_nck", time, 16),
        TimingRule("t_ppd_nck", clocks, 2),
        TimingRule("t_cke_nck", time, 3),
        TimingRule("t_xp_nck", time, 4 if four else 8),
        TimingRule("t_mrd_nck", clocks, 8),
        TimingRule("t_mod_nck", clocks, 24),
    )


RULES = {family: {rule.name: rule for rule in _rules(family)} for family in Family}

DDR4_WRITE_LATENCIES_NCK = (9, 10, 11, 12, 14, 16, 18, 20)
"""tCWL that mode register 2 can hold (JESD79-4)."""

BASE_REFRESH_PS = {Family.DDR4: 7_800_000, Family.DDR5: 3_900_000}
"""Refresh interval of both standards up to 85 °C; above it, half of that."""
