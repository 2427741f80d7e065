"""``ridge``: the workstation of the valley's forecast model, to be made faster and guaranteed for three winters."""

from dataclasses import replace

from tenaz.catalogues.reading import knobs_of
from tenaz.core.machine import Cache, CacheKind, Core, Machine, MemoryModule
from tenaz.core.rigs import GUARANTEED, BenchKind, Rig
from tenaz.core.setpoints import Setpoint
from tenaz.demo.sheets import demo_platform, standard_sheet

RIDGE_SEED = 1871
"""The year in which the avalanche office was founded."""


KIB, GIB = 2**10, 2**30


def _block(first: int) -> tuple[int, ...]:
    """The processors of six neighbouring cores, two threads each."""
    return tuple(thread + core for thread in (0, 12) for core in range(first, first + 6))


def _machine() -> Machine:
    """What a probe of it would read: two of four slots filled, and the memory profile left off."""
    module = MemoryModule(
        "A2",
        24 * GIB,
        "DDR5",
        "Liquen",
        "LQ-24-6400",
        "0042",
        ranks=1,
        rated_mts=6400,
        present_mts=4800,
        voltage_mv=1100,
    )
    return Machine(
        processor="Aguja A12",
        cores=tuple(Core(0, core, (core, core + 12)) for core in range(12)),
        caches=(
            *(Cache(1, CacheKind.DATA, 48 * KIB, (core, core + 12)) for core in range(12)),
            *(Cache(2, CacheKind.UNIFIED, 1024 * KIB, (core, core + 12)) for core in range(12)),
            *(Cache(3, CacheKind.UNIFIED, 32 * 1024 * KIB, _block(first)) for first in (0, 6)),
        ),
        cores_fitted=12,
        base_mhz=3600,
        highest_mhz=5200,
        board="Pizarra P2",
        firmware="F7 of 02/03/2025",
        boot_mode="UEFI",
        memory_bytes=47 * GIB,
        modules=(
            MemoryModule("A1", 0),
            module,
            MemoryModule("B1", 0),
            replace(module, slot="B2", serial="0043"),
        ),
    )


def ridge_sheet() -> Setpoint:
    """DDR5-4800 in the standard's speed bin 40-39-39, with the refresh of a 24 Gbit device."""
    return standard_sheet("ddr5", t_rfc1_nck=984, t_rfc2_nck=528, t_rfcsb_nck=456)


def ridge(seed: int = RIDGE_SEED) -> Rig:
    """The rig as it came to the workshop; each seed makes another specimen."""
    return Rig(
        name="ridge",
        purpose=GUARANTEED,
        knobs=knobs_of("ddr5"),
        stock=ridge_sheet(),
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
        machine=_machine(),
        owner="the valley's avalanche office",
        complaint="the forecast run takes eleven minutes; it should take nine",
        by_eye="dust on the cooler's fins, taken off",
        guarantee_months=36,
        memory="DDR5",
        platform=demo_platform("ddr5"),
    )
