"""``hut``: the fanless computer of the relay hut below the pass, to run cooler at less voltage."""

from dataclasses import replace

from tenaz.catalogues.reading import knobs_of
from tenaz.core.loading import LoadKind
from tenaz.core.machine import Cache, CacheKind, Core, Machine, MemoryModule
from tenaz.core.rigs import BenchKind, Purpose, Rig
from tenaz.core.setpoints import Setpoint
from tenaz.demo.sheets import demo_platform, standard_sheet

HUT_SEED = 2304
"""The height of the hut in metres."""

KIB, GIB = 2**10, 2**30

NO_FAN = Purpose(
    "runs without a fan, far from help",
    2,
    ((LoadKind.MARCH, 6.0), (LoadKind.TRANSFORM, 3.0)),
    processor_ceiling_c=(75.0, 85.0),
    module_ceiling_c=(60.0, 70.0),
)


def hut_sheet() -> Setpoint:
    """DDR4-2400 in the standard's speed bin 17-17-17, everything as it left the works."""
    return standard_sheet("ddr4")


def hut(seed: int = HUT_SEED) -> Rig:
    """The rig as it stands on the bench between two winters."""
    module = MemoryModule(
        "A1", 8 * GIB, "DDR4", "Liquen", "LQ-8-2400", "1107", ranks=1, rated_mts=2400, present_mts=2400, voltage_mv=1200
    )
    return Rig(
        name="hut",
        purpose=NO_FAN,
        knobs=knobs_of("ddr4"),
        stock=hut_sheet(),
        benches=(BenchKind.SIM, BenchKind.HAND),
        processor="Aguja A4",
        cores=4,
        memory_bytes=16 * GIB,
        parts=(("board", "Pizarra H1"), ("memory", "Liquen 2×8 GB DDR4"), ("cooling", "Borrasca finned case")),
        seed=seed,
        machine=Machine(
            processor="Aguja A4",
            cores=tuple(Core(0, core, (core,)) for core in range(4)),
            caches=(
                *(Cache(1, CacheKind.DATA, 32 * KIB, (core,)) for core in range(4)),
                Cache(2, CacheKind.UNIFIED, 2048 * KIB, (0, 1, 2, 3)),
            ),
            cores_fitted=4,
            base_mhz=1800,
            highest_mhz=2600,
            board="Pizarra H1",
            firmware="B3 of 11/09/2021",
            boot_mode="UEFI",
            memory_bytes=15 * GIB,
            modules=(module, replace(module, slot="B1", serial="1108")),
        ),
        owner="the valley's avalanche office",
        complaint="the case is too hot to touch in August; the batteries last four days, it should be five",
        by_eye="a moth in the connector's hood, taken out",
        memory="DDR4",
        platform=demo_platform("ddr4"),
    )
