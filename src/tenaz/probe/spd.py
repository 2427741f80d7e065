"""Serial presence detect: what a memory module says about itself (JEDEC: DDR3 annex K, DDR4 annex L, JESD400-5).

Bytes in, values out: geometry, ranks, timings of the JEDEC base profile, who made it by JEP-106 numbers. Blocks that
vendors fill for themselves are reported as present and left alone.
"""

from tenaz.core.machine.machine import Unread, Why
from tenaz.core.machine.spd import Check, Spd
from tenaz.probe.binary import Fields

DDR3_KEY, DDR4_KEY, DDR5_KEY = 0x0B, 0x0C, 0x12
DDR3_BYTES, DDR4_BYTES, DDR5_BYTES = 256, 512, 1024
DDR4_DENSITY_MBIT = {**{code: 256 << code for code in range(8)}, 8: 12 * 1024, 9: 24 * 1024}
"""Density of a die by its code (annex L, byte 4): doubling from 256 Mbit to 32 Gbit, then the two between."""

MEDIUM_TIMEBASE_PS = 125
"""DDR4's unit for timings; a second byte adds a signed number of picoseconds."""


def crc16(data: bytes) -> int:
    """The CRC-16 of the JEDEC annexes: polynomial 0x1021, from zero, most significant bit first."""
    crc = 0
    for byte in data:
        crc ^= byte << 8
        for _ in range(8):
            crc = (crc << 1 ^ 0x1021 if crc & 0x8000 else crc << 1) & 0xFFFF
    return crc


def parse_spd(data: bytes) -> Spd | Unread:
    """Read the contents of a module's SPD; never raises, whatever the bytes."""
    key = Fields(data).byte(2)
    if key == DDR3_KEY:
        return _ddr3(data) if len(data) >= DDR3_BYTES // 2 else _short(data, DDR3_BYTES)
    if key == DDR4_KEY:
        return _ddr4(data) if len(data) >= DDR4_BYTES // 2 else _short(data, DDR4_BYTES)
    if key == DDR5_KEY:
        return _ddr5(data) if len(data) >= DDR5_BYTES // 2 else _short(data, DDR5_BYTES)
    found = "it is empty" if key is None else f"memory kind {key:#04x} is none that is known here"
    return Unread("SPD", Why.NONSENSE, found)


def _short(data: bytes, whole: int) -> Unread:
    return Unread("SPD", Why.NONSENSE, f"{len(data)} bytes of {whole}")


def _ddr3(data: bytes) -> Spd:
    """Annex K: times are multiples of a timebase that it tells itself, with a signed fine part."""
    f = Fields(data)
    dividend, divisor = f.byte(10) or 1, f.byte(11) or 8
    fine_dividend, fine_divisor = f.bits(9, 7, 4) or 0, f.bits(9, 3, 0) or 1

    def time(medium: int | None, fine_at: int | None = None) -> int | None:
        if medium is None:
            return None
        fine = (f.signed_byte(fine_at) or 0) if fine_at is not None else 0
        return round(1000 * medium * dividend / divisor + fine * fine_dividend / fine_divisor)

    def joined(high_at: int, high: int, low: int, low_at: int) -> int | None:
        upper, lower = f.bits(high_at, high, low), f.byte(low_at)
        return None if upper is None or lower is None else upper << 8 | lower

    code, width_code, rank_code, bus_code = f.bits(4, 3, 0), f.bits(7, 2, 0), f.bits(7, 5, 3), f.bits(8, 2, 0)
    density = 256 << code if code is not None and code <= 6 else None
    device_width = 4 << width_code if width_code is not None and width_code <= 3 else None
    bus_width = 8 << bus_code if bus_code is not None and bus_code <= 3 else None
    ranks = None if rank_code is None else rank_code + 1
    covered = 117 if f.bits(0, 7, 7) else 126
    return Spd(
        kind="DDR3",
        check=Check.HOLDS if crc16(data[:covered]) == f.word(126) else Check.WRONG,
        size_bytes=_size(density, bus_width, device_width, ranks, 1),
        ranks=ranks,
        device_width=device_width,
        density_gbit=None if density is None else density // 1024,
        subchannels=1,
        t_ck_min_ps=time(f.byte(12), 34),
        cas_latencies_nck=tuple(4 + bit for bit in range(15) if (f.word(14) or 0) >> bit & 1),
        t_aa_ps=time(f.byte(16), 35),
        t_rcd_ps=time(f.byte(18), 36),
        t_rp_ps=time(f.byte(20), 37),
        t_ras_ps=time(joined(21, 3, 0, 22)),
        t_rc_ps=time(joined(21, 7, 4, 23), 38),
        t_rfc1_ps=time(f.word(24)),
        t_faw_ps=time(joined(28, 3, 0, 29)),
        t_rrd_l_ps=time(f.byte(19)),
        t_wr_ps=time(f.byte(17)),
        maker=_jep106(f, 117),
        dram_maker=_jep106(f, 148),
        part=f.ascii(128, 18),
        serial=_serial(f, 122),
        made=_made(f, 120),
        vendor_block=_filled(data[176:256]),
        # Bit 1: it runs at 1.35 V. Bit 0 set: it does not run at 1.5 V.
        vdd_mv=1350 if f.bits(6, 1, 1) and f.bits(6, 0, 0) else 1500,
    )


def _ddr4(data: bytes) -> Spd:
    f = Fields(data)

    def time(medium: int | None, fine_at: int | None = None) -> int | None:
        if medium is None:
            return None
        fine = f.signed_byte(fine_at) if fine_at is not None else 0
        return medium * MEDIUM_TIMEBASE_PS + (fine or 0)

    def joined(high_at: int, high: int, low: int, low_at: int) -> int | None:
        upper, lower = f.bits(high_at, high, low), f.byte(low_at)
        return None if upper is None or lower is None else upper << 8 | lower

    code = f.bits(4, 3, 0)
    density = None if code is None else DDR4_DENSITY_MBIT.get(code)
    width_code, bus_code, rank_code = f.bits(12, 2, 0), f.bits(13, 2, 0), f.bits(12, 5, 3)
    device_width = 4 << width_code if width_code is not None and width_code <= 3 else None
    bus_width = 8 << bus_code if bus_code is not None and bus_code <= 3 else None
    ranks = None if rank_code is None else rank_code + 1
    dies = _ddr4_dies(f)
    latencies = f.double_word(20)
    first = 23 if latencies is not None and latencies >> 31 else 7
    return Spd(
        kind="DDR4",
        check=Check.HOLDS if crc16(data[:126]) == f.word(126) else Check.WRONG,
        size_bytes=_size(density, bus_width, device_width, ranks, dies),
        ranks=ranks,
        device_width=device_width,
        density_gbit=None if density is None else density // 1024,
        subchannels=1,
        t_ck_min_ps=time(f.byte(18), 125),
        cas_latencies_nck=tuple(first + bit for bit in range(30) if (latencies or 0) >> bit & 1),
        t_aa_ps=time(f.byte(24), 123),
        t_rcd_ps=time(f.byte(25), 122),
        t_rp_ps=time(f.byte(26), 121),
        t_ras_ps=time(joined(27, 3, 0, 28)),
        t_rc_ps=time(joined(27, 7, 4, 29), 120),
        t_rfc1_ps=time(f.word(30)),
        t_faw_ps=time(joined(36, 3, 0, 37)),
        t_rrd_l_ps=time(f.byte(39), 118),
        t_wr_ps=time(joined(41, 3, 0, 42)),
        maker=_jep106(f, 320),
        dram_maker=_jep106(f, 350),
        part=f.ascii(329, 20),
        serial=_serial(f, 325),
        made=_made(f, 323),
        vendor_block=_filled(data[384:512]),
    )


def _ddr4_dies(f: Fields) -> int:
    """Dies in a package that each count as a logical rank: only in stacks with a single load."""
    stacked = f.bits(6, 7, 7) == 1 and f.bits(6, 1, 0) == 2
    return (f.bits(6, 6, 4) or 0) + 1 if stacked else 1


def _ddr5(data: bytes) -> Spd:
    f = Fields(data)
    density = {1: 4, 2: 8, 3: 12, 4: 16, 5: 24, 6: 32, 7: 48, 8: 64}.get(f.bits(4, 4, 0) or 0)
    dies = {0: 1, 2: 2, 3: 4, 4: 8, 5: 16}.get(f.bits(4, 7, 5) or 0, 1)
    width_code, bus_code, rank_code = f.bits(6, 7, 5), f.bits(235, 2, 0), f.bits(234, 5, 3)
    device_width = 4 << width_code if width_code is not None and width_code <= 3 else None
    bus_width = 8 << bus_code if bus_code is not None and bus_code <= 3 else None
    subchannels = 2 if f.bits(235, 7, 5) == 1 else 1
    ranks = None if rank_code is None else rank_code + 1
    latencies = f.whole(24, 5) or 0
    refresh_ns = f.word(42)
    return Spd(
        kind="DDR5",
        check=Check.HOLDS if crc16(data[:510]) == f.word(510) else Check.WRONG,
        size_bytes=_size(
            None if density is None else density * 1024,
            None if bus_width is None else bus_width * subchannels,
            device_width,
            ranks,
            dies,
        ),
        ranks=ranks,
        device_width=device_width,
        density_gbit=density,
        subchannels=subchannels,
        t_ck_min_ps=f.word(20),
        cas_latencies_nck=tuple(20 + 2 * bit for bit in range(40) if latencies >> bit & 1),
        t_aa_ps=f.word(30),
        t_rcd_ps=f.word(32),
        t_rp_ps=f.word(34),
        t_ras_ps=f.word(36),
        t_rc_ps=f.word(38),
        t_rfc1_ps=None if refresh_ns is None else refresh_ns * 1000,
        t_faw_ps=f.word(82),
        t_rrd_l_ps=f.word(70),
        t_wr_ps=f.word(40),
        maker=_jep106(f, 512),
        dram_maker=_jep106(f, 552),
        part=f.ascii(521, 30),
        serial=_serial(f, 517),
        made=_made(f, 515),
        vendor_block=_filled(data[640:1024]),
    )


def _size(
    density_mbit: int | None, bus_width: int | None, device_width: int | None, ranks: int | None, dies: int
) -> int | None:
    """Density in bits × devices side by side × ranks × stacked dies, as bytes."""
    if density_mbit is None or bus_width is None or device_width is None or ranks is None:
        return None
    return (density_mbit << 20) // 8 * (bus_width // device_width) * ranks * dies


def _jep106(f: Fields, at: int) -> tuple[int, int] | None:
    """Continuation count and code, parity bits taken off; None when nothing is written there."""
    count, code = f.byte(at), f.byte(at + 1)
    if count is None or code is None or (count, code) in ((0, 0), (0xFF, 0xFF)):
        return None
    return count & 0x7F, code & 0x7F


def _serial(f: Fields, at: int) -> str:
    raw = f.data[at : at + 4]
    return raw.hex().upper() if len(raw) == 4 and _filled(raw) else ""


def _made(f: Fields, at: int) -> tuple[int, int] | None:
    """Year and week in binary-coded decimal."""
    digits = [f.bits(at, 7, 4), f.bits(at, 3, 0), f.bits(at + 1, 7, 4), f.bits(at + 1, 3, 0)]
    if any(digit is None or digit > 9 for digit in digits):
        return None
    year, week = (digits[0] or 0) * 10 + (digits[1] or 0), (digits[2] or 0) * 10 + (digits[3] or 0)
    return (2000 + year, week) if 1 <= week <= 53 else None


def _filled(raw: bytes) -> bool:
    """Whether anything was ever written there."""
    return bool(raw.strip(b"\x00")) and bool(raw.strip(b"\xff"))
