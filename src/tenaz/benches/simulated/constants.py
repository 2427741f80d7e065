"""Every number of the simulated rig, with its unit and its reason."""

from typing import Final

# -- memory: what fails, and how steeply ------------------------------------------------------------------------
SIGNAL_RATE_MTS: Final = 6350.0
"""Mean data rate at nominal VDD at which signal margin is used up: well above stock, well below the grid's end."""
SIGNAL_RATE_SPREAD_MTS: Final = 260.0
"""Standard deviation of that over boards and modules: a step or so either way."""
SIGNAL_GAIN_MTS_PER_MV: Final = 3.2
"""More voltage, faster edges: about one step of 200 for each 60 mV."""
SIGNAL_GAIN_ENDS_MV: Final = 1350
"""Beyond that reflections grow as fast as the signal does."""
SIGNAL_SHARPNESS_MTS: Final = (45.0, 110.0)
"""Rate difference over which the failure rate grows e-fold; drawn evenly between: a fraction of a step."""

ACCESS_FLOOR_NS: Final = 12.1
"""Mean shortest time from column address to data at nominal VDD, as sense amplifiers and cell charge need it."""
ACCESS_FLOOR_SPREAD_NS: Final = 0.35
ACCESS_GAIN_NS_PER_MV: Final = 0.0045
"""Alpha-power law, linearised about the nominal voltage: more voltage, faster sensing."""
ACCESS_SHARPNESS_NS: Final = (0.07, 0.16)

NOMINAL_VDD_MV: Final = 1100
"""JEDEC DDR5."""
TOO_HIGH_VDD_MV: Final = 1440
TOO_HIGH_VDD_SPREAD_MV: Final = 12
TOO_HIGH_SHARPNESS_MV: Final = 3.0
"""Above it the module's own supply regulation refuses to start: a window, not a ladder."""

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

# -- load ---------------------------------------------------------------------------------------------------------
EDGE_RATE_PER_H: Final = 1.0
"""The failure rate that is called the edge."""
STRAIN_OF_LOAD: Final = {"march": 1.0, "transform": 0.15}
"""How strongly each load feels memory weakness; the transform touches memory little."""
FREEZE_FOLDS: Final = 3.0
"""Deficit at which half of all failures take the machine down instead of showing errors."""

# -- heat ---------------------------------------------------------------------------------------------------------
AMBIENT_C: Final = 24.0
IDLE_RISE_C: Final = 14.0
LOAD_RISE_C: Final = {"march": 26.0, "transform": 44.0}
"""Above ambient once settled, for the tower cooler of the demo rig."""
HEAT_TIME_CONSTANT_S: Final = 140.0
CLOCK_MHZ: Final = 4300.0
"""All cores together under load, as the demo rig comes."""
IDLE_POWER_W: Final = 38.0
LOAD_POWER_W: Final = {"march": 62.0, "transform": 118.0}
"""What the whole rig draws, and what each load adds."""
RATE_GB_S_PER_MTS: Final = 0.0105
"""Two channels of 8 bytes at about two thirds efficiency, read and write together."""
RATE_GFLOP_S: Final = 310.0
"""All cores of the demo rig."""
