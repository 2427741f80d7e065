"""How fast the simulated machine is: memory bandwidth and latency, processor throughput."""

from dataclasses import dataclass

import numpy as np

from tenaz.core.knobs.clock_tree import IN_STEP_WITHIN
from tenaz.core.knobs.timings.clocks import Family
from tenaz.simulated.firmware import BURST_NCK, Numbers, Values
from tenaz.simulated.physics.constants import k
from tenaz.simulated.physics.memory import fabric_mhz

XP_PART = 0.004
"""Part of lines that find the module in power-down."""
WRITES = 0.3
"""Part of lines before a row closes that were written."""


@dataclass(frozen=True, slots=True)
class Speed:
    """Bandwidth in GB/s, latency of a dependent read in ns, throughput in GFLOP/s; without noise."""

    bandwidth_gb_s: Numbers
    latency_ns: Numbers
    throughput_gflop_s: Numbers


def memory_speed(
    v: Values, family: Family, channels: int, several_ranks: bool, runs_to_mhz: float
) -> tuple[Numbers, Numbers]:
    """Bandwidth in GB/s and latency in ns at effective values."""
    rate, burst = v["rate"], BURST_NCK[family]
    t_ck_ns = 2000.0 / rate

    def ns(name: str, otherwise_nck: float) -> Numbers:
        return v[name] * t_ck_ns if name in v else otherwise_nck * t_ck_ns

    cycle = np.maximum(ns("t_rc_nck", 60.0), ns("t_ras_nck", 40.0) + ns("t_rp_nck", 20.0))
    opening = ns("t_rp_nck", 20.0) + ns("t_rcd_nck", 20.0) + 0.15 * cycle
    closing = WRITES * ns("t_wr_nck", 24.0) + (1 - WRITES) * ns("t_rtp_nck", 10.0)
    turning = 0.5 * (ns("t_wtr_l_nck", 20.0) + ns("t_wtr_s_nck", 8.0) + ns("t_cwl_nck", 18.0)) + ns(
        "rd_wr_gap_nck", 14.0
    )
    column = np.maximum(ns("t_ccd_l_nck", burst), burst * t_ck_ns) - burst * t_ck_ns
    writing = 0.2 * (ns("t_ccd_l_wr_nck", 2 * burst) + ns("t_ccd_l_wr2_nck", burst))
    activating = np.maximum(ns("t_faw_nck", 20.0) / 4, 0.7 * ns("t_rrd_s_nck", 4.0) + 0.3 * ns("t_rrd_l_nck", 6.0))
    switching = (
        0.5 * (ns("rd_rd_rank_gap_nck", burst + 2) + ns("wr_wr_rank_gap_nck", burst + 2)) if several_ranks else 0.0
    )
    waking = XP_PART * (ns("t_xp_nck", 12.0) + 0.5 * ns("t_cke_nck", 6.0))
    command = 0.02 * v.get("command_rate_nck", np.ones(1)) * t_ck_ns
    line = (
        burst * t_ck_ns
        + k("row_miss") * (opening + 0.3 * closing + activating)
        + k("turns") * turning
        + k("same_group") * (column + writing / burst)
        + k("rank_switches") * switching
        + waking
        + command
    )
    lost = _refreshing(v, t_ck_ns)
    # A module of DDR5 has two halves of its own, each with half of the width.
    ways = channels * (2 if family is Family.DDR5 else 1)
    memory = 64.0 / line * ways * (1 - lost)
    ratio = v.get("controller_ratio", np.ones(1))
    controller = rate / 2 / ratio
    fabric = fabric_mhz(v, rate, ratio, runs_to_mhz) if "fabric_mhz" in v else controller
    apart = np.abs(fabric - controller) > IN_STEP_WITHIN * controller
    cap = fabric * k("fabric_bytes") / 1000.0 * (channels / 2) ** 0.5
    bandwidth = (memory**-6.0 + cap**-6.0) ** (-1 / 6.0)
    bandwidth = bandwidth * np.where(apart, 1 - k("out_of_step"), 1.0) * np.where(ratio > 1, 0.96, 1.0)
    path = k("path_ns") * (0.4 + 0.6 * runs_to_mhz / fabric) + 8 * 1000.0 / controller
    crossing = np.where(apart, k("crossing_cycles") * 1000.0 / np.minimum(fabric, controller), 0.0)
    read = ns("t_cl_nck", 20.0) + ns("t_rcd_nck", 20.0) + 0.5 * ns("t_rp_nck", 20.0) + burst * t_ck_ns
    wait = lost * 0.5 * _refresh_ns(v, t_ck_ns)
    commands = v.get("command_rate_nck", np.ones(1)) * t_ck_ns
    return bandwidth, read + wait + path + crossing + commands


def _refresh_ns(v: Values, t_ck_ns: Numbers) -> Numbers:
    """How long a refresh holds what it refreshes."""
    fineness = v.get("refresh_fineness", np.ones(1))
    whole = v.get("t_rfc1_nck", np.full(1, 700.0))
    half = v.get("t_rfc2_nck", whole * 0.6)
    if "t_rfcsb_nck" in v:
        # Same-bank refresh lets the other banks go on.
        half = 0.6 * half + 0.4 * 0.5 * v["t_rfcsb_nck"]
    quarter = v.get("t_rfc4_nck", whole * 0.4)
    return np.where(fineness >= 4, quarter, np.where(fineness >= 2, half, whole)) * t_ck_ns


def _refreshing(v: Values, t_ck_ns: Numbers) -> Numbers:
    """The part of time that is lost to refresh."""
    fineness = v.get("refresh_fineness", np.ones(1))
    interval = v.get("t_refi_nck", np.full(1, 9360.0)) * t_ck_ns / fineness
    return np.minimum(0.6, _refresh_ns(v, t_ck_ns) / interval)
