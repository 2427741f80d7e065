import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tenaz.core.machine.machine import Unread, Why
from tenaz.probe.smbios import EntryPoint, parse_entry_point, parse_smbios
from tests.unit.probe.builders import entry_point_2, entry_point_3, memory_device, ridge_table, structure

GIB = 2**30


def test_a_whole_table() -> None:
    found = parse_smbios(ridge_table())
    assert found.unread == ()
    assert found.firmware is not None
    assert (found.firmware.vendor, found.firmware.version, found.firmware.uefi) == ("Pizarra", "F7", True)
    assert found.board is not None
    assert (found.board.maker, found.board.product, found.board.version) == ("Pizarra", "P2", "")
    (processor,) = found.processors
    assert (processor.version, processor.cores, processor.threads) == ("A12", 12, 24)
    assert (processor.highest_mhz, processor.present_mhz, processor.voltage_mv) == (5200, 4300, 1200)
    (cache,) = found.caches
    assert (cache.name, cache.level, cache.size_bytes) == ("L2", 2, 0x200 * 64 * 1024)
    (array,) = found.arrays
    assert (array.slots, array.capacity_bytes, array.correction) == (4, 192 * GIB, "none")
    assert [(m.slot, m.fitted, m.size_bytes) for m in found.modules] == [
        ("A2", True, 24 * GIB),
        ("A1", False, 0),
        ("B2", True, 24 * GIB),
        ("B1", False, 0),
    ]
    first = found.modules[0]
    assert (first.kind, first.maker, first.part, first.serial) == ("DDR5", "Liquen", "LQ-24", "0042")
    assert (first.ranks, first.rated_mts, first.present_mts, first.voltage_mv) == (2, 6400, 4800, 1100)
    assert [(r.first, r.last, r.handle) for r in found.array_ranges] == [(0, 48 * GIB - 1, 0x1000)]
    assert [(r.first, r.last, r.handle) for r in found.module_ranges] == [(0, 24 * GIB - 1, 0x1100)]


@pytest.mark.parametrize(
    ("size", "extended_mib", "size_bytes"),
    [(0xFFFF, 0, None), (0, 0, 0), (8192, 0, 8 * GIB), (0x8000 | 512, 0, 512 * 1024), (0x7FFF, 65536, 64 * GIB)],
)
def test_sizes_of_modules(size: int, extended_mib: int, size_bytes: int | None) -> None:
    (module,) = parse_smbios(memory_device(1, size, "A", 0xFFFF, 0, extended_mib)).modules
    assert module.size_bytes == size_bytes
    assert module.rated_mts is None, "0xFFFF sends to the extended field, which is zero here"


def test_entry_points() -> None:
    table = ridge_table()
    assert parse_entry_point(entry_point_3(table)) == EntryPoint((3, 3), len(table), 0x7F000000, None)
    assert parse_entry_point(entry_point_2(table, 13)) == EntryPoint((2, 8), len(table), 0xE0000, 13)
    for bad in (b"", b"_SM3_", b"_DMI_" * 9, entry_point_3(table)[:20], entry_point_3(table)[:-1] + b"\x01"):
        refused = parse_entry_point(bad)
        assert isinstance(refused, Unread)
        assert refused.why is Why.NONSENSE


@pytest.mark.parametrize(
    ("broken", "words"),
    [
        (b"\x11\x02\x00\x00\x00\x00", "length 2 cannot be"),
        (b"\x11\xff\x00\x00" + bytes(40), "length 255 cannot be"),
        (b"\x11\x06\x00\x00ab" + b"text without an end", "strings never end"),
    ],
)
def test_what_was_read_before_a_broken_structure_stays(broken: bytes, words: str) -> None:
    found = parse_smbios(structure(2, 2, bytes([1, 2, 0, 0]), "Pizarra", "P2") + broken)
    assert found.board is not None
    assert found.board.product == "P2"
    assert len(found.unread) == 1
    assert words in found.unread[0].show()


@given(st.binary(max_size=400))
def test_hostile_bytes_never_raise(table: bytes) -> None:
    parse_smbios(table)
    parse_entry_point(table)
    parse_entry_point(b"_SM3_" + table)
    parse_entry_point(b"_SM_" + table)


def test_thousands_of_broken_tables_never_raise_nor_grow() -> None:
    luck, whole = random.Random(1871), ridge_table()
    for _ in range(3000):
        broken = bytearray(whole[: luck.randrange(len(whole) + 1)])
        for _ in range(luck.randrange(1, 6)):
            if broken:
                broken[luck.randrange(len(broken))] ^= 1 << luck.randrange(8)
        found = parse_smbios(bytes(broken))
        texts = [m.slot + m.maker + m.part for m in found.modules]
        assert sum(map(len, texts)) <= len(broken) * 3
        assert len(found.modules) <= len(broken) // 4
