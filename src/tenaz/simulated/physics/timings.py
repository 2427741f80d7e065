"""Timings of the simulated memory: floors as parts of the standards' times, and the weakness each belongs to."""

from typing import Final

from tenaz.simulated.physics.feeling import Weak

FLOORS: Final[dict[str, tuple[float, float, float, Weak]]] = {
    "t_rcd_nck": (0.620, 0.014, 1.0, Weak.ROW),
    "t_rp_nck": (0.590, 0.016, 0.0, Weak.ROW),
    "t_ras_nck": (0.560, 0.020, 0.5, Weak.ROW),
    "t_rc_nck": (0.585, 0.015, 0.5, Weak.ROW),
    "t_cwl_nck": (0.560, 0.018, 0.5, Weak.WRITE),
    "t_wr_nck": (0.420, 0.030, 1.0, Weak.WRITE),
    "t_rtp_nck": (0.500, 0.020, 0.0, Weak.WRITE),
    "t_rrd_s_nck": (0.540, 0.020, 0.0, Weak.ACTIVATE),
    "t_rrd_l_nck": (0.550, 0.020, 0.0, Weak.ACTIVATE),
    "t_faw_nck": (0.540, 0.020, 0.0, Weak.ACTIVATE),
    "t_wtr_s_nck": (0.480, 0.030, 0.0, Weak.TURN),
    "t_wtr_l_nck": (0.500, 0.025, 0.0, Weak.TURN),
    "t_rfc1_nck": (0.550, 0.020, 0.0, Weak.REFRESH),
    "t_rfc2_nck": (0.540, 0.020, 0.0, Weak.REFRESH),
    "t_rfc4_nck": (0.540, 0.020, 0.0, Weak.REFRESH),
    "t_rfcsb_nck": (0.540, 0.020, 0.0, Weak.REFRESH),
    "t_ccd_l_nck": (0.590, 0.015, 0.0, Weak.COLUMN),
    "t_ccd_l_wr_nck": (0.450, 0.030, 0.0, Weak.COLUMN),
    "t_ccd_l_wr2_nck": (0.500, 0.030, 0.0, Weak.COLUMN),
    "t_cke_nck": (0.520, 0.030, 0.0, Weak.POWER_DOWN),
    "t_xp_nck": (0.520, 0.030, 0.0, Weak.POWER_DOWN),
}
"""Floor as a part of the standard's time, its spread over rigs, how strongly it falls with voltage against the access
time (1: as strongly; sensing and restoring do, closing a row and the bus do not), and the kind of weakness.

The parts are chosen so that none is in the way of a data rate climbed with clocks as they stand: other edges come
first, as they do.
"""

GAPS: Final = {
    "rd_wr_gap_nck": (Weak.TURN, 2.4),
    "rd_rd_rank_gap_nck": (Weak.RANKS, 1.0),
    "wr_wr_rank_gap_nck": (Weak.RANKS, 1.0),
}
"""Gaps in clocks: the kind of weakness, and the ns that the bus needs beside the burst to turn round, or to be handed
to another rank.
"""

REFRESH_OF: Final = {
    "t_rfc1_nck": (1,),
    "t_rfc2_nck": (2,),
    "t_rfc4_nck": (4,),
    "t_rfcsb_nck": (2,),
}
"""The refresh modes in which each refresh time is used: same-bank refresh belongs to the fine mode (JESD79-5)."""
