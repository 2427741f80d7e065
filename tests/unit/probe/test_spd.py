import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tenaz.core.machine.machine import Unread, Why
from tenaz.core.machine.spd import Check, Spd
from tenaz.probe.spd import crc16, parse_spd
from tests.unit.probe.builders import ddr3_image, ddr4_image, ddr5_image

GIB = 2**30


def read(data: bytes) -> Spd:
    found = parse_spd(data)
    assert isinstance(found, Spd)
    return found


def test_the_checksum_is_the_one_of_the_standard() -> None:
    assert crc16(b"123456789") == 0x31C3, "the published check value of this CRC"


def test_ddr4() -> None:
    spd = read(ddr4_image())
    assert (spd.kind, spd.check, spd.size_bytes, spd.ranks) == ("DDR4", Check.HOLDS, 16 * GIB, 2)
    assert (spd.device_width, spd.density_gbit, spd.subchannels) == (8, 8, 1)
    assert (spd.t_ck_min_ps, spd.rated_mts, spd.cas_latencies_nck) == (625, 3200, (16, 17, 18, 19))
    assert (spd.t_aa_ps, spd.t_rcd_ps, spd.t_rp_ps) == (13750, 13750, 13750)
    assert (spd.t_ras_ps, spd.t_rc_ps, spd.t_rfc1_ps) == (32000, 45750, 350_000)
    assert (spd.t_faw_ps, spd.t_rrd_l_ps, spd.t_wr_ps) == (21000, 4900, 15000)
    assert (spd.maker, spd.dram_maker) == ((5, 0x1B), (0, 0x4E))
    assert (spd.part, spd.serial, spd.made, spd.vendor_block) == ("LQ-16-3200", "00C0FFEE", (2024, 37), False)


def test_ddr5() -> None:
    spd = read(ddr5_image())
    assert (spd.kind, spd.check, spd.size_bytes, spd.ranks) == ("DDR5", Check.HOLDS, 24 * GIB, 1)
    assert (spd.device_width, spd.density_gbit, spd.subchannels) == (8, 24, 2)
    assert (spd.t_ck_min_ps, spd.rated_mts, spd.cas_latencies_nck) == (416, 4800, (36, 38, 40))
    assert (spd.t_aa_ps, spd.t_ras_ps, spd.t_rc_ps, spd.t_rfc1_ps) == (16666, 32000, 48666, 410_000)
    assert (spd.maker, spd.part, spd.serial, spd.made) == ((10, 0x51), "LQ-24-6400", "12345678", (2025, 2))
    assert spd.vendor_block, "present, and left alone"


def test_ddr3() -> None:
    spd = read(ddr3_image())
    assert (spd.kind, spd.check, spd.size_bytes, spd.ranks) == ("DDR3", Check.HOLDS, 4 * GIB, 2)
    assert (spd.device_width, spd.density_gbit, spd.vdd_mv) == (8, 2, 1500)
    assert (spd.t_ck_min_ps, spd.rated_mts, spd.cas_latencies_nck) == (1500, 1333, (6, 7, 8, 9, 10))
    assert (spd.t_aa_ps, spd.t_rcd_ps, spd.t_ras_ps, spd.t_rc_ps) == (13125, 13125, 36000, 49125)
    assert (spd.t_rfc1_ps, spd.t_faw_ps, spd.t_wr_ps) == (160_000, 30000, 15000)
    assert (spd.part, spd.serial, spd.made, spd.dies) == (
        "LQ-4-1333", "0B0E0001", (2011, 37), "2 Gbit dies, 8 bits wide, by JEP-106 0/4e",
    )  # fmt: skip


@pytest.mark.parametrize(("image", "covered"), [(ddr3_image(), 117), (ddr4_image(), 126), (ddr5_image(), 510)])
def test_any_flipped_bit_of_the_base_block_breaks_the_checksum(image: bytes, covered: int) -> None:
    for at in range(covered):
        if at == 2 or (image[2] == 0x0B and at == 0):
            continue
        broken = bytearray(image)
        broken[at] ^= 1 << at % 8
        assert read(bytes(broken)).check is Check.WRONG


@pytest.mark.parametrize(
    ("data", "words"),
    [(b"", "it is empty"), (b"\x00\x00\x08\x00", "0x08 is none"), (ddr4_image()[:128], "128 bytes of 512")],
)
def test_what_is_no_spd_says_so(data: bytes, words: str) -> None:
    refused = parse_spd(data)
    assert isinstance(refused, Unread)
    assert refused.why is Why.NONSENSE
    assert words in refused.detail


@given(st.binary(max_size=1100), st.sampled_from([0x0B, 0x0C, 0x12, None]))
def test_hostile_bytes_never_raise(data: bytes, key: int | None) -> None:
    if key is not None and len(data) > 2:
        data = data[:2] + bytes([key]) + data[3:]
    found = parse_spd(data)
    if isinstance(found, Spd):
        found.rated_mts  # noqa: B018 - must not raise


def test_thousands_of_broken_images_never_raise() -> None:
    luck = random.Random(1871)
    for number in range(4000):
        image = (ddr3_image(), ddr4_image(), ddr5_image())[number % 3]
        broken = bytearray(image[: luck.choice([len(image), luck.randrange(len(image) + 1)])])
        for _ in range(luck.randrange(1, 9)):
            if broken:
                broken[luck.randrange(len(broken))] ^= 1 << luck.randrange(8)
        found = parse_spd(bytes(broken))
        if isinstance(found, Spd):
            assert len(found.part) <= 30
            assert found.size_bytes is None or found.size_bytes < 1 << 60


@pytest.mark.parametrize(("code", "gbit"), [(4, 4), (5, 8), (6, 16), (7, 32), (8, 12), (9, 24), (10, None)])
def test_densities_of_ddr4_are_those_of_the_annex(code: int, gbit: int | None) -> None:
    raw = bytearray(ddr4_image())
    raw[4] = 0x80 | code
    spd = read(bytes(raw))
    assert (spd.density_gbit, spd.size_bytes) == (gbit, None if gbit is None else gbit * 2 * GIB)


@pytest.mark.parametrize(
    ("t_ck_ps", "name"), [(1250, 1600), (1071, 1866), (937, 2133), (833, 2400), (750, 2666), (682, 2933), (625, 3200)]
)
def test_a_rate_has_the_name_that_the_standard_gives_it(t_ck_ps: int, name: int) -> None:
    raw = bytearray(ddr4_image())
    raw[18] = -(-t_ck_ps // 125)
    raw[125] = (t_ck_ps - raw[18] * 125) % 256
    spd = read(bytes(raw))
    assert (spd.t_ck_min_ps, spd.rated_mts) == (t_ck_ps, name)


@pytest.mark.parametrize(
    ("t_ck_ps", "name"),
    [(625, 3200), (500, 4000), (416, 4800), (384, 5200), (357, 5600), (333, 6000), (312, 6400), (294, 6800),
     (277, 7200), (263, 7600), (250, 8000), (243, 8200), (238, 8400), (227, 8800)],
)  # fmt: skip
def test_a_clock_that_was_cut_to_whole_picoseconds_has_the_roundest_rate_that_fits(t_ck_ps: int, name: int) -> None:
    raw = bytearray(ddr5_image())
    raw[20:22] = t_ck_ps.to_bytes(2, "little")
    assert read(bytes(raw)).rated_mts == name
