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
    vdd_mv: int | None = None
    """What its base profile asks for, where it says so; None: the standard's."""

    @property
    def dies(self) -> str:
        """What it is made of, in words: ``24 Gbit dies, 8 bits wide, by JEP-106 10/51``."""
        width = f", {self.device_width} bits wide" if self.device_width else ""
        maker = "" if self.dram_maker is None else ", by JEP-106 {}/{:02x}".format(*self.dram_maker)
        return f"{self.density_gbit} Gbit dies{width}{maker}" if self.density_gbit else ""

    @property
    def rated_mts(self) -> int | None:
        """Data rate of the JEDEC base profile: two transfers a clock, by the name that it has in the standard: cut to
        whole numbers, 2666 for 2666⅔.

        What a module tells is its clock in whole picoseconds, cut off or rounded, so that several rates fit it: 277 ps
        lie between 7194 and 7220 MT/s. The roundest is meant: the standards go in steps of 400, 200, 100 and 100/3.
        """
        if not self.t_ck_min_ps:
            return None
        least, most = 2_000_000 / (self.t_ck_min_ps + 1), 2_000_000 / (self.t_ck_min_ps - 0.5)
        for step in (400, 200, 100):
            if (rate := int(most // step) * step) > least:
                return rate
        return round(2_000_000 / self.t_ck_min_ps * 3 / 100) * 100 // 3
