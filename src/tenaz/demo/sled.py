"""``sled``: the field computer that rides on the sled and came back with crashes; all its slots are filled."""

from dataclasses import replace

from tenaz.catalogues.reading import knobs_of
from tenaz.core.machine import Cache, CacheKind, Core, Machine, MemoryModule
from tenaz.core.rigs import OWN, BenchKind, Rig
from tenaz.core.setpoints import Setpoint
from tenaz.demo.sheets import demo_platform, standard_sheet

SLED_SEED = 32
"""A specimen that errs now and then at stock already."""

KIB, GIB = 2**10, 2**30


def sled_sheet() -> Setpoint:
    """DDR4-3200 in the standard's speed bin 22-22-22, with the refresh of a 8 Gbit device."""
    return standard_sheet(
        "ddr4",
        data_rate_mts=3200,
        t_cl_nck=22,
        t_rcd_nck=22,
        t_rp_nck=22,
        t_ras_nck=52,
        t_rc_nck=74,
        t_cwl_nck=16,
        t_wr_nck=24,
        t_rtp_nck=12,
        t_rrd_s_nck=4,
        t_rrd_l_nck=8,
        t_faw_nck=34,
        t_wtr_s_nck=4,
        t_wtr_l_nck=12,
        t_rfc1_nck=560,
        t_rfc2_nck=416,
        t_rfc4_nck=256,
        t_refi_nck=12480,
        t_ccd_l_nck=8,
        t_cke_nck=8,
        t_xp_nck=10,
    )


def sled(seed: int = SLED_SEED) -> Rig:
    """The rig as it came down from the glacier."""
    module = MemoryModule(
        "A1",
        16 * GIB,
        "DDR4",
        "Liquen",
        "LQ-16-3200",
        "2260",
        ranks=2,
        rated_mts=3200,
        present_mts=3200,
        voltage_mv=1200,
    )
    slots = ("A1", "A2", "B1", "B2")
    return Rig(
        name="sled",
        purpose=OWN,
        knobs=knobs_of("ddr4"),
        stock=sled_sheet(),
        benches=(BenchKind.SIM, BenchKind.HAND),
        processor="Aguja A6",
        cores=6,
        memory_bytes=64 * GIB,
        parts=(("board", "Pizarra C4"), ("memory", "Liquen 4×16 GB DDR4"), ("cooling", "Borrasca flat")),
        seed=seed,
        machine=Machine(
            processor="Aguja A6",
            cores=tuple(Core(0, core, (core, core + 6)) for core in range(6)),
            caches=(
                *(Cache(1, CacheKind.DATA, 32 * KIB, (core, core + 6)) for core in range(6)),
                *(Cache(2, CacheKind.UNIFIED, 512 * KIB, (core, core + 6)) for core in range(6)),
                Cache(3, CacheKind.UNIFIED, 16 * 1024 * KIB, tuple(range(12))),
            ),
            cores_fitted=6,
            base_mhz=3200,
            highest_mhz=4400,
            board="Pizarra C4",
            firmware="D2 of 19/01/2023",
            boot_mode="UEFI",
            memory_bytes=63 * GIB,
            modules=tuple(replace(module, slot=slot, serial=str(2260 + place)) for place, slot in enumerate(slots)),
        ),
        owner="the glacier survey",
        complaint="it goes black once or twice a day, most often on the way down; it never did before the winter",
        by_eye="water marks on the board's edge; one module sat crooked, seated anew",
        memory="DDR4",
        platform=demo_platform("ddr4"),
    )
