"""The knobs that this version knows, with the grids and ceilings that they have unless a rig says otherwise."""

from tenaz.core.knobs import Grid, Harder, Knob

MEMORY = "memory"


def ddr4_knobs() -> tuple[Knob, ...]:
    """tCL and VDD of DDR4 (JEDEC JESD79-4: VDD 1.2 V nominal). Its data rates lie on no even grid: not dialled."""
    return (
        Knob("t_cl_nck", "tCL", "nCK", MEMORY, Grid(9, 32, 1), Harder.DOWN),
        Knob(
            "memory_vdd_mv",
            "memory VDD",
            "mV",
            MEMORY,
            Grid(1100, 1600, 10),
            Harder.DOWN,
            advised_ceiling=1400,
            hard_ceiling=1500,
        ),
    )


def ddr5_knobs() -> tuple[Knob, ...]:
    """Data rate, tCL and VDD of DDR5 (JEDEC JESD79-5: VDD 1.1 V nominal, even tCL), in firmware order."""
    return (
        Knob(
            "data_rate_mts",
            "data rate",
            "MT/s",
            MEMORY,
            Grid(4000, 8000, 200),
            Harder.UP,
            advised_ceiling=7600,
            hard_ceiling=8000,
        ),
        Knob("t_cl_nck", "tCL", "nCK", MEMORY, Grid(22, 60, 2), Harder.DOWN),
        Knob(
            "memory_vdd_mv",
            "memory VDD",
            "mV",
            MEMORY,
            Grid(1050, 1500, 10),
            Harder.DOWN,
            advised_ceiling=1350,
            hard_ceiling=1430,
        ),
    )
