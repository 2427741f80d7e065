"""Every number of the simulated rig, with its unit and its reason."""

from dataclasses import dataclass
from typing import Final

from tenaz.core.timings.clocks import Family

# -- memory: what fails, and how steeply ------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class MemoryConstants:
    """One generation of memory. Pairs are (mean, standard deviation) over parts, or the two ends drawn evenly between.

    ``signal_*``: the data rate at nominal VDD at which signal margin is used up, what a millivolt adds to it, where
    that ends (reflections grow as fast as the signal does), and the rate over which failures grow e-fold.
    ``access_*``: shortest time from column address to data; alpha-power law, linearised about the nominal voltage.
    ``too_high_*``: above it the supply refuses to start: a window, not a ladder.
    ``vdd_floor_mv``: below it a cell's charge no longer tips its sense amplifier, at any timing.
    ``controller_*``: what the controller needs at the base rate, and what each MT/s more asks on top.
    """

    base_mts: int
    nominal_vdd_mv: int
    signal_mts: tuple[float, float]
    signal_gain_mts_per_mv: float
    signal_gain_ends_mv: int
    signal_sharpness_mts: tuple[float, float]
    access_floor_ns: tuple[float, float]
    access_gain_ns_per_mv: float
    access_sharpness_ns: tuple[float, float]
    too_high_vdd_mv: tuple[float, float]
    too_high_sharpness_mv: float
    controller_mv: tuple[float, float]
    controller_mv_per_mts: float
    vpp_floor_mv: tuple[float, float]
    vdd_floor_mv: tuple[float, float]


MEMORY: Final = {
    Family.DDR4: MemoryConstants(
        2400, 1200, (3650.0, 150.0), 1.6, 1450, (28.0, 70.0), (11.4, 0.35), 0.0030, (0.07, 0.16), (1560.0, 12.0), 3.0,
        (780.0, 15.0), 0.09, (2390.0, 12.0), (1085.0, 18.0),
    ),
    Family.DDR5: MemoryConstants(
        4800, 1100, (6350.0, 260.0), 3.2, 1350, (45.0, 110.0), (12.1, 0.35), 0.0045, (0.07, 0.16), (1440.0, 12.0), 3.0,
        (900.0, 15.0), 0.05, (1715.0, 8.0), (985.0, 12.0),
    ),
}  # fmt: skip
"""Well above stock, well below the grid's end; DDR5 about one step of 200 for each 60 mV."""

TIMING_FLOORS: Final = {
    "t_rcd_nck": (0.640, 0.014, 1.0),
    "t_rp_nck": (0.600, 0.016, 0.0),
    "t_ras_nck": (0.560, 0.020, 0.5),
    "t_rc_nck": (0.590, 0.015, 0.5),
    "t_wr_nck": (0.420, 0.030, 1.0),
    "t_rtp_nck": (0.500, 0.020, 0.0),
    "t_rrd_s_nck": (0.560, 0.020, 0.0),
    "t_rrd_l_nck": (0.560, 0.020, 0.0),
    "t_faw_nck": (0.540, 0.020, 0.0),
    "t_wtr_s_nck": (0.480, 0.030, 0.0),
    "t_wtr_l_nck": (0.500, 0.025, 0.0),
    "t_rfc1_nck": (0.550, 0.020, 0.0),
    "t_rfc2_nck": (0.540, 0.020, 0.0),
    "t_rfcsb_nck": (0.540, 0.020, 0.0),
    "t_ccd_l_nck": (0.600, 0.015, 0.0),
    "t_ccd_l_wr_nck": (0.450, 0.030, 0.0),
    "t_ccd_l_wr2_nck": (0.500, 0.030, 0.0),
}
"""Each timing's floor as a part of the standard's time: mean and standard deviation over modules, and how strongly it
falls with voltage against the access time (1: as strongly; sensing and restoring do, closing a row and the bus do not).
Chosen so that none is in the way of a data rate climbed with clocks as they stand: other edges come first, as they do.
"""

TIMING_SHARPNESS: Final = (0.006, 0.014)
"""Part of the standard's time over which failures grow e-fold; drawn evenly between."""

VDD_GAIN_OF_FLOORS_PER_MV: Final = 0.00035
"""Part of a floor that a millivolt takes off, where it falls with voltage at all."""

RETENTION_FACTOR: Final = (4.6, 0.5)
"""How many base intervals the weakest cells hold at the load's temperature: published retention studies have a thin
tail well below the bulk.
"""
RETENTION_SHARPNESS: Final = 0.16
"""In base intervals."""

VDDQ_APART_MV: Final = (150.0, 12.0)
"""VDD and VDDQ further apart than this, and levels are misread."""
SUPPLY_SHARPNESS_MV: Final = 4.0

FABRIC_MHZ: Final = (2280.0, 60.0)
"""How far a fabric runs at its nominal voltage."""
FABRIC_NOMINAL_MV: Final = 900
FABRIC_GAIN_MHZ_PER_MV: Final = 1.1
FABRIC_SHARPNESS_MHZ: Final = 22.0

# -- boot ---------------------------------------------------------------------------------------------------------
WALL_FOLDS: Final = (4.5, 8.0)
"""Training fails where the failure rate would be that many e-folds above the edge's; drawn evenly."""
WALL_SOFTNESS_FOLDS: Final = 0.5
"""Training is a lottery near the wall: the logistic's width."""
RETRAIN_FOLDS: Final = 2.0
"""That close to the wall a boot takes a second training pass."""
TRIES_BEFORE_FALLING_BACK: Final = 3
"""Failed boots in a row after which the firmware forgets the settings and comes up at base values."""
BOOT_S: Final = 90.0
FAILED_BOOT_S: Final = 480.0
"""Retries, clearing the settings, typing them in again."""
ENTER_S: Final = 20.0
"""Until the values are typed in."""
ROUNDED_SILENTLY: Final = {"fabric_mv": 20}
"""Firmware offers finer steps than its regulator can make, and says nothing: multiples of so many units are made."""

# -- load ---------------------------------------------------------------------------------------------------------
EDGE_RATE_PER_H: Final = 1.0
"""The failure rate that is called the edge. What each load feels of weaknesses, how warm it makes the processor (for
the tower cooler of the demo rig) and what it draws stand in its declaration: row switching and turn-round feel most,
what lives in caches little.
"""
FREEZE_FOLDS: Final = 3.0
"""Deficit at which half of all failures take the machine down instead of showing errors."""

# -- heat ---------------------------------------------------------------------------------------------------------
AMBIENT_C: Final = 24.0
IDLE_RISE_C: Final = 14.0
HEAT_TIME_CONSTANT_S: Final = 140.0
CLOCK_MHZ: Final = 4300.0
"""All cores together under load, as the demo rig comes."""
IDLE_POWER_W: Final = 38.0
RATE_GB_S_PER_MTS: Final = 0.0105
"""Two channels of 8 bytes at about two thirds efficiency, read and write together."""
RATE_GFLOP_S: Final = 310.0
"""All cores of the demo rig."""
