"""Firmware tables and module contents of our own making, for machines that do not exist."""

import struct
from pathlib import Path

from tenaz.probe.spd import crc16


def structure(kind: int, handle: int, body: bytes, *strings: str) -> bytes:
    """One SMBIOS structure: header, formatted area, strings."""
    text = b"".join(s.encode() + b"\x00" for s in strings) or b"\x00"
    return struct.pack("<BBH", kind, 4 + len(body), handle) + body + text + b"\x00"


def memory_device(
    handle: int, size: int, slot: str, rated: int, present: int, extended_mib: int = 0, kind: int = 0x22,
    voltage_mv: int = 1100, part: str = "LQ-24", form: int = 9,
) -> bytes:  # fmt: skip
    """Type 17 of version 3.3."""
    body = bytearray(0x5C - 4)
    struct.pack_into("<HHHHHBB", body, 0, 0x1000, 0xFFFE, 64, 64, size, form, 0)
    body[0x10 - 4], body[0x11 - 4], body[0x12 - 4] = 1, 2, kind
    struct.pack_into("<H", body, 0x15 - 4, rated)
    body[0x17 - 4], body[0x18 - 4], body[0x19 - 4], body[0x1A - 4], body[0x1B - 4] = 3, 4, 5, 6, 0x02
    struct.pack_into("<I", body, 0x1C - 4, extended_mib)
    struct.pack_into("<HHHH", body, 0x20 - 4, present, voltage_mv, voltage_mv, voltage_mv)
    return structure(17, handle, bytes(body), slot, "channel A", "Liquen", "0042", "Unknown", part)


def table_of(board: str, processor: str, cores: int, devices: list[bytes]) -> bytes:
    """A table with firmware, board, processor and these memory devices."""
    chip = bytearray(0x30 - 4)
    chip[0], chip[3], chip[0x10 - 4] = 1, 2, 3
    struct.pack_into("<HHH", chip, 0x12 - 4, 100, 5200, 4300)
    chip[0x23 - 4 : 0x26 - 4] = bytes([cores, cores, 2 * cores])
    array = struct.pack("<BBBIHHQ", 3, 3, 3, 0x80000000, 0xFFFE, len(devices), 192 << 30)
    firmware = bytes([1, 2, 0, 0xE0, 3, 0xFF]) + bytes(8) + bytes([0x03, 0x08])
    return b"".join(
        [
            structure(0, 0, firmware, "Pizarra", "F1", "02/03/2012"),
            structure(2, 2, bytes([1, 2, 3, 0]), "Pizarra", board, "7"),
            structure(4, 4, bytes(chip), "socket 1", "Aguja", processor),
            structure(16, 0x1000, array),
            *devices,
            structure(127, 0xFEFF, b""),
        ]
    )


def ridge_table() -> bytes:
    """The table of the demo's workstation: firmware, board, processor, caches, two modules in four slots."""
    processor = bytearray(0x30 - 4)
    processor[0], processor[3], processor[0x10 - 4], processor[0x11 - 4] = 1, 2, 3, 0x80 | 12
    struct.pack_into("<HHH", processor, 0x12 - 4, 100, 5200, 4300)
    processor[0x23 - 4 : 0x26 - 4] = bytes([12, 12, 24])
    cache = struct.pack("<BHHHHHBBBB", 1, 0x0181, 0x8200, 0x8200, 0, 0, 0, 0, 0, 0)
    array = struct.pack("<BBBIHHQ", 3, 3, 3, 0x80000000, 0xFFFE, 4, 192 << 30)
    mapped = struct.pack("<IIHB", 0, (48 << 20) - 1, 0x1000, 2)
    one = struct.pack("<IIHHBBBQQ", 0xFFFFFFFF, 0, 0x1100, 0x1300, 1, 0, 0, 0, (24 << 30) - 1)
    return b"".join(
        [
            structure(
                0, 0, bytes([1, 2, 0, 0xE0, 3, 0xFF]) + bytes(8) + bytes([0x03, 0x08]), "Pizarra", "F7", "02/03/2025"
            ),
            structure(1, 1, bytes([1, 2, 0, 0]), "Taller Cumbre", "ridge"),
            structure(2, 2, bytes([1, 2, 3, 0]), "Pizarra", "P2", "To be filled by O.E.M."),
            structure(4, 4, bytes(processor), "socket 1", "Aguja", "A12"),
            structure(7, 7, cache, "L2"),
            structure(16, 0x1000, array),
            memory_device(0x1100, 0x7FFF, "A2", 6400, 4800, 24 << 10),
            memory_device(0x1101, 0, "A1", 0, 0),
            memory_device(0x1102, 0x7FFF, "B2", 6400, 4800, 24 << 10),
            memory_device(0x1103, 0, "B1", 0, 0),
            structure(19, 0x1300, mapped),
            structure(20, 0x1400, one),
            structure(127, 0xFEFF, b""),
        ]
    )


def entry_point_3(table: bytes, version: tuple[int, int] = (3, 3)) -> bytes:
    """``_SM3_`` with its checksum."""
    raw = bytearray(struct.pack("<5sBBBBBBBIQ", b"_SM3_", 0, 24, *version, 0, 1, 0, len(table), 0x7F000000))
    raw[5] = -sum(raw) % 256
    return bytes(raw)


def entry_point_2(table: bytes, count: int) -> bytes:
    """``_SM_`` of version 2.1 with its checksum."""
    raw = bytearray(31)
    struct.pack_into("<4sBBBBH", raw, 0, b"_SM_", 0, 31, 2, 8, 255)
    struct.pack_into("<5sBHIHB", raw, 0x10, b"_DMI_", 0, len(table), 0xE0000, count, 0x28)
    raw[4] = -sum(raw) % 256
    return bytes(raw)


def ddr4_image() -> bytes:
    """A 16 GB module: 8 Gbit devices of 8 bits, two ranks, 3200 MT/s, tAA 13.75 ns."""
    raw = bytearray(512)
    raw[2], raw[4], raw[6], raw[12], raw[13] = 0x0C, 0x85, 0x00, 0x09, 0x03
    raw[18], raw[125] = 5, 0  # tCKmin 625 ps
    raw[20:24] = (0b1111 << 9).to_bytes(4, "little")  # CL 16 to 19
    raw[24:30] = bytes([110, 110, 110, 0x11, 0x00, 0x6E])
    raw[30:32] = (2800).to_bytes(2, "little")
    raw[36], raw[37], raw[39], raw[118] = 0x00, 168, 40, 0x9C  # tRRD_L 5 ns less 100 ps
    raw[42] = 120
    raw[126:128] = crc16(bytes(raw[:126])).to_bytes(2, "little")
    raw[320:322], raw[323:325] = bytes([0x85, 0x9B]), bytes([0x24, 0x37])
    raw[325:329], raw[329:349] = bytes.fromhex("00C0FFEE"), b"LQ-16-3200".ljust(20)
    raw[350:352] = bytes([0x80, 0xCE])
    return bytes(raw)


def ddr5_image() -> bytes:
    """A 24 GB module: 24 Gbit devices of 8 bits, one rank, two subchannels, 4800 MT/s base, a vendor block."""
    raw = bytearray(1024)
    raw[2], raw[4], raw[6] = 0x12, 0x05, 0x20
    raw[20:22] = (416).to_bytes(2, "little")
    raw[24:29] = (0b111 << 8).to_bytes(5, "little")  # CL 36, 38, 40
    for at, value in ((30, 16666), (32, 16666), (34, 16666), (36, 32000), (38, 48666), (40, 30000), (42, 410)):
        raw[at : at + 2] = value.to_bytes(2, "little")
    raw[70:72], raw[82:84] = (5000).to_bytes(2, "little"), (13333).to_bytes(2, "little")
    raw[234], raw[235] = 0x00, 0x22
    raw[510:512] = crc16(bytes(raw[:510])).to_bytes(2, "little")
    raw[512:514], raw[515:517], raw[517:521] = bytes([0x0A, 0x51]), bytes([0x25, 0x02]), bytes.fromhex("12345678")
    raw[521:551], raw[552:554] = b"LQ-24-6400".ljust(30), bytes([0x0A, 0x51])
    raw[640:644] = b"\x30\x11\x22\x33"
    return bytes(raw)


def ddr3_image() -> bytes:
    """A 4 GB module: 2 Gbit devices of 8 bits, two ranks, 1333 MT/s, tAA 13.125 ns, 1.35 V allowed and 1.5 V too."""
    raw = bytearray(256)
    raw[0], raw[2], raw[4], raw[6], raw[7], raw[8] = 0x92, 0x0B, 0x03, 0x02, 0x09, 0x03
    raw[9], raw[10], raw[11], raw[12] = 0x11, 1, 8, 12  # 1 ps fine, 0.125 ns medium, tCK 1.5 ns
    raw[14:16] = (0b11111 << 2).to_bytes(2, "little")  # CL 6 to 10
    raw[16:21] = bytes([105, 120, 105, 48, 105])
    raw[21], raw[22], raw[23] = 0x11, 0x20, 0x89
    raw[24:26] = (1280).to_bytes(2, "little")
    raw[28], raw[29] = 0x00, 240
    raw[117:119], raw[120:122] = bytes([0x85, 0x9B]), bytes([0x11, 0x37])
    raw[122:126], raw[128:146] = bytes.fromhex("0B0E0001"), b"LQ-4-1333".ljust(18)
    raw[148:150] = bytes([0x80, 0xCE])
    raw[126:128] = crc16(bytes(raw[:117])).to_bytes(2, "little")
    return bytes(raw)


def old_desktop(root: Path) -> Path:
    """Fifteen years old: four cores, DDR3 at an odd rate and 1.65 V, one slot empty, no EFI."""
    modules = [
        memory_device(0x1100, 4096, "DIMM1", 1333, 1867, kind=0x18, voltage_mv=1650, part="LQ-4-1333"),
        memory_device(0x1101, 4096, "DIMM2", 1333, 1867, kind=0x18, voltage_mv=1650, part="LQ-4-1333"),
        memory_device(0x1102, 0, "DIMM3", 0, 0, kind=2),
    ]
    _tree(root, "Aguja Q4", 4, 8, table_of("P11", "Q4", 4, modules), [ddr3_image(), ddr3_image()])
    return root


def fastest_desktop(root: Path) -> Path:
    """This year's fastest kit: DDR5-8200 at 1.55 V, power limits that the board raised."""
    modules = [
        memory_device(0x1100, 0x7FFF, slot, 8200, 8200, 24 << 10, voltage_mv=1550, part="LQ-24-8200")
        for slot in ("A2", "B2")
    ]
    _tree(root, "Aguja X24", 24, 48, table_of("P9", "X24", 24, modules), [ddr5_image()])
    (root / "sys/firmware/efi").mkdir(parents=True)
    for number, (name, limit_w, usual_w) in enumerate((("long_term", 4095, 125), ("short_term", 4095, 253))):
        for what, text in (
            ("name", name),
            ("power_limit_uw", f"{limit_w}000000"),
            ("max_power_uw", f"{usual_w}000000"),
        ):
            _write(root, f"sys/class/powercap/zone:0/constraint_{number}_{what}", text)
    return root


def laptop(root: Path) -> Path:
    """Soldered memory at an odd rate, no module contents, boost switched off, its highest clock held down."""
    modules = [
        memory_device(0x1100 + at, 4096, "Motherboard", 7467, 7467, kind=0x23, voltage_mv=500, part="", form=11)
        for at in range(4)
    ]
    _tree(root, "Aguja U10", 10, 16, table_of("P7", "U10", 10, modules), [])
    _write(root, "sys/devices/system/cpu/cpufreq/boost", "0")
    _write(root, "sys/devices/system/cpu/cpu0/cpufreq/cpuinfo_max_freq", "4800000")
    _write(root, "sys/devices/system/cpu/cpu0/cpufreq/scaling_max_freq", "2400000")
    return root


def _write(root: Path, path: str, content: str | bytes) -> None:
    file = root / path
    file.parent.mkdir(parents=True, exist_ok=True)
    file.write_bytes(content.encode() if isinstance(content, str) else content)


def _tree(root: Path, processor: str, cores: int, gib: int, table: bytes, spds: list[bytes]) -> None:
    _write(root, "proc/cpuinfo", f"model name : {processor}\n")
    _write(root, "proc/meminfo", f"MemTotal: {gib * 1024 * 1024} kB\n")
    _write(root, "sys/firmware/dmi/tables/DMI", table)
    for cpu in range(cores):
        for what, number in (("physical_package_id", 0), ("core_id", cpu)):
            _write(root, f"sys/devices/system/cpu/cpu{cpu}/topology/{what}", f"{number}\n")
    for at, image in enumerate(spds):
        _write(root, f"sys/bus/i2c/devices/0-005{at}/eeprom", image)
