"""``ridge``: the workstation of the valley's forecast model, to be made faster and guaranteed for three winters."""

from tenaz.core.catalogue import ddr5_knobs
from tenaz.core.rigs import GUARANTEED, BenchKind, Rig
from tenaz.core.setpoints import Setpoint

RIDGE_SEED = 1871
"""The year in which the avalanche office was founded."""


def ridge(seed: int = RIDGE_SEED) -> Rig:
    """The rig as it came to the workshop; each seed makes another specimen."""
    return Rig(
        name="ridge",
        purpose=GUARANTEED,
        knobs=ddr5_knobs(),
        stock=Setpoint.of({"data_rate_mts": 4800, "t_cl_nck": 40, "memory_vdd_mv": 1100}),
        benches=(BenchKind.SIM, BenchKind.HAND),
        processor="Aguja A12",
        cores=12,
        memory_bytes=48 * 2**30,
        parts=(
            ("board", "Pizarra P2"),
            ("memory", "Liquen 2×24 GB DDR5"),
            ("cooling", "Borrasca tower"),
        ),
        seed=seed,
    )
