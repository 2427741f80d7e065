"""What a memory module says about itself."""

from dataclasses import dataclass
from enum import StrEnum


class Check(StrEnum):
    """What the checksum of the base block says."""

    HOLDS = "holds"
    WRONG = "wrong"


@dataclass(frozen=True, slots=True)
class Spd:
    """One module's own words. Times in picoseconds, None where not said; ``size_bytes`` is computed from geometry.

    ``maker`` and ``dram_maker`` are (continuation count, code) of JEP-106. ``made`` is (year, week).
    """

    kind: str
    check: Check
    size_bytes: int | None
    ranks: int | None
    device_width: int | None
    density_gbit: int | None
    subchannels: int
    t_ck_min_ps: int | None
    cas_latencies_nck: tuple[int, ...]
    t_aa_ps: int | None
    t_rcd_ps: int | None
    t_rp_ps: int | None
    t_ras_ps: int | None
    t_rc_ps: int | None
    t_rfc1_ps: int | None
    t_faw_ps: int | None
    t_rrd_l_ps: int | None
    t_wr_ps: int | None
    maker: tuple[int, int] | None
    dram_maker: tuple[int, int] | None
    part: str
    serial: str
    made: tuple[int, int] | None
    vendor_block: bool

    @property
    def rated_mts(self) -> int | None:
        """Data rate of the JEDEC base profile: two transfers a clock, the nearest of the standard's steps of 100/3,
        by the name that it has there: cut to whole numbers, 2666 for 2666⅔.
        """
        if not self.t_ck_min_ps:
            return None
        exact = 2_000_000 / self.t_ck_min_ps
        return round(exact * 3 / 100) * 100 // 3
