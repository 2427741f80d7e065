"""Taking a machine in, from a fake tree of files; and what is pointed out about it."""

import os
from dataclasses import replace
from pathlib import Path

import pytest

from tenaz.core.knobs.setpoint import AUTO
from tenaz.core.machine.intake import Weight, look_over, present_values
from tenaz.core.machine.machine import Cache, CacheKind, Core, Machine, MemoryModule, Why
from tenaz.core.machine.spd import Check
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.intake.new_rigs import rig_from
from tenaz.probe.here import read_machine
from tenaz.probe.tree import Tree
from tests.unit.probe.builders import ddr4_image, ddr5_image, entry_point_3, ridge_table

GIB = 2**30


def write(root: Path, path: str, content: str | bytes) -> None:
    file = root / path
    file.parent.mkdir(parents=True, exist_ok=True)
    file.write_bytes(content.encode() if isinstance(content, str) else content)


@pytest.fixture
def ridge_tree(tmp_path: Path) -> Path:
    """The demo's workstation as the kernel would show it: 12 cores of two threads, two modules."""
    write(tmp_path, "proc/cpuinfo", "model name : Aguja A12\n")
    write(tmp_path, "proc/meminfo", f"MemTotal: {47 * GIB // 1024} kB\nMemFree: 1 kB\n")
    write(tmp_path, "sys/firmware/dmi/tables/DMI", ridge_table())
    (tmp_path / "sys/firmware/efi").mkdir()
    for cpu in range(24):
        write(tmp_path, f"sys/devices/system/cpu/cpu{cpu}/topology/physical_package_id", "0\n")
        write(tmp_path, f"sys/devices/system/cpu/cpu{cpu}/topology/core_id", f"{cpu % 12}\n")
        for index, (level, kind, size, shared) in enumerate(
            (
                (1, "Data", "48K", f"{cpu % 12},{cpu % 12 + 12}"),
                (3, "Unified", "32M", "0-5,12-17" if cpu % 12 < 6 else "6-11,18-23"),
            )
        ):
            for name, text in (("level", level), ("type", kind), ("size", size), ("shared_cpu_list", shared)):
                write(tmp_path, f"sys/devices/system/cpu/cpu{cpu}/cache/index{index}/{name}", f"{text}\n")
    write(tmp_path, "sys/devices/system/cpu/cpu0/cpufreq/cpuinfo_max_freq", "5200000\n")
    write(tmp_path, "sys/bus/i2c/devices/0-0050/eeprom", ddr5_image())
    write(tmp_path, "sys/bus/i2c/devices/0-0052/eeprom", b"\x00" * 256)
    write(tmp_path, "sys/bus/pci/devices/0000:01:00.0/class", "0x030000\n")
    write(tmp_path, "sys/bus/pci/devices/0000:01:00.0/vendor", "0x1234\n")
    write(tmp_path, "sys/bus/pci/devices/0000:01:00.0/device", "0x0042\n")
    write(tmp_path, "sys/bus/pci/devices/0000:00:1f.0/class", "0x060100\n")
    return tmp_path


def test_everything_that_is_published_is_taken_in(ridge_tree: Path) -> None:
    machine = read_machine(ridge_tree)
    assert (machine.processor, machine.board, machine.boot_mode) == ("Aguja A12", "Pizarra P2", "UEFI")
    assert machine.firmware == "F7 of 02/03/2025"
    assert len(machine.cores) == machine.cores_fitted == 12
    assert machine.cores[3] == Core(0, 3, (3, 15))
    assert len(machine.caches) == 12 + 2, "each cache once"
    assert machine.caches[-1] == Cache(3, CacheKind.UNIFIED, 32 * 2**20, (*range(6, 12), *range(18, 24)))
    assert machine.highest_mhz == 5200
    assert machine.memory_bytes == 47 * GIB
    assert [spd.part for spd in machine.spds] == ["LQ-24-6400"]
    (graphics,) = machine.graphics
    assert (graphics.slot, graphics.vendor_id, graphics.device_id) == ("0000:01:00.0", 0x1234, 0x42)
    (unread,) = machine.unread
    assert (unread.what, unread.why) == ("/sys/bus/i2c/devices/0-0052/eeprom", Why.NONSENSE)


def test_the_entry_point_says_how_long_the_table_is(ridge_tree: Path) -> None:
    table = ridge_table()
    write(ridge_tree, "sys/firmware/dmi/tables/DMI", table + table)
    write(ridge_tree, "sys/firmware/dmi/tables/smbios_entry_point", entry_point_3(table))
    assert len(read_machine(ridge_tree).modules) == 4
    write(ridge_tree, "sys/firmware/dmi/tables/smbios_entry_point", b"_SM3_ and nothing")
    assert "SMBIOS entry point" in [unread.what for unread in read_machine(ridge_tree).unread]


def test_a_bare_machine_is_unknown_and_not_guessed(tmp_path: Path) -> None:
    machine = read_machine(tmp_path)
    assert machine == Machine(boot_mode="legacy", unread=machine.unread)
    assert [unread.why for unread in machine.unread] == [Why.MISSING]
    assert look_over(machine) == ()


def test_each_thing_that_could_not_be_read_says_why(tmp_path: Path) -> None:
    write(tmp_path, "number", "plenty\n")
    write(tmp_path, "secret", "1")
    (tmp_path / "secret").chmod(0)
    tree = Tree(tmp_path)
    assert tree.whole("number") is None
    assert tree.text("nowhere") is None
    assert tree.text("nowhere", expected=True) is None
    shown = [unread.show() for unread in tree.unread]
    assert shown == ["/number: makes no sense ('plenty' is no number)", "/nowhere: not there"]
    if os.geteuid():
        assert tree.text("secret") is None
        assert tree.unread[-1].why is Why.FORBIDDEN


def module(**fields: object) -> MemoryModule:
    blank = MemoryModule("A2", 24 * GIB, "DDR5", "Liquen", "LQ-24-6400", ranks=1, rated_mts=6400, present_mts=6400)
    return replace(blank, **fields)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("machine", "weight", "words"),
    [
        (Machine(modules=(module(present_mts=4800),)), Weight.OFF_STOCK, "A2 runs at 4800 MT/s, rated 6400"),
        (
            Machine(modules=(module(present_mts=4800), module(slot="B2", present_mts=4800))),
            Weight.OFF_STOCK,
            "A2 and B2 run at 4800",
        ),
        (Machine(modules=(module(present_mts=3200),)), Weight.NOTE, "reads as half"),
        (Machine(modules=(module(), module(slot="B2")), memory_bytes=23 * GIB), Weight.FAULT, "48.0 GiB are fitted"),
        (Machine(modules=(module(), module(slot="B2", part="LQ-16"))), Weight.NOTE, "unlike modules"),
        (Machine(cores=(Core(0, 0, (0,)),), cores_fitted=12), Weight.OFF_STOCK, "1 of 12 cores are on"),
    ],
)
def test_what_is_off_stock_is_pointed_out_with_its_reason(machine: Machine, weight: Weight, words: str) -> None:
    (finding,) = look_over(machine)
    assert finding.weight is weight
    assert words in finding.text
    assert finding.reason


def test_a_profile_in_force_and_a_broken_checksum_are_seen(ridge_tree: Path) -> None:
    machine = read_machine(ridge_tree)
    fast = replace(machine, modules=(module(),))
    assert any("above the JEDEC base of 4800" in finding.text for finding in look_over(fast))
    spd = replace(machine.spds[0], check=Check.WRONG)
    assert look_over(replace(machine, modules=(), spds=(spd,)))[0].weight is Weight.FAULT
    assert look_over(replace(machine, modules=(module(present_mts=6400),), spds=())) == ()


@pytest.mark.parametrize(
    ("slot", "bank", "channel"),
    [
        ("DIMM 0", "P0 CHANNEL B", "B"),
        ("Channel1-DIMM0", "BANK 2", "1"),
        ("DIMM_A2", "", "A"),
        ("B1", "BANK 0", "B"),
        ("DIMM 3", "BANK 3", ""),
    ],
)
def test_channels_are_told_by_the_firmwares_names_or_not_at_all(slot: str, bank: str, channel: str) -> None:
    assert module(slot=slot, bank=bank).channel == channel


def memory_of(rig: Rig) -> dict[str, int]:
    of_memory = {knob.name for knob in rig.knobs if knob.domain not in ("processor", "graphics")}
    return {name: value for name, value in rig.stock.numbers().items() if name in of_memory}


def test_a_rig_is_filled_in_with_what_runs_now(ridge_tree: Path) -> None:
    rig = rig_from(read_machine(ridge_tree), "ridge", (BenchKind.HERE,))
    assert memory_of(rig) == {"data_rate_mts": 4800, "memory_vdd_mv": 1100}
    assert (rig.stock["base_clock_khz"], rig.stock["core_7_offset_steps"]) == (100_000, 0), "as it comes"
    assert rig.stock["t_rcd_nck"] is AUTO, "nobody can read it here"
    assert (rig.cores, rig.processor, dict(rig.parts)["board"]) == (12, "Aguja A12", "Pizarra P2")
    write(ridge_tree, "sys/bus/i2c/devices/0-0050/eeprom", ddr4_image())
    ddr4 = read_machine(ridge_tree)
    slow = replace(ddr4, modules=(module(kind="DDR4", present_mts=3200, voltage_mv=1350),))
    assert present_values(slow) == {"data_rate_mts": 3200, "memory_vdd_mv": 1350}
    assert memory_of(rig_from(slow, "hut", (BenchKind.HAND,))) == {"data_rate_mts": 3200, "memory_vdd_mv": 1350}
    listed = replace(slow, spds=(replace(ddr4.spds[0], cas_latencies_nck=(20, 22, 24)),))
    assert present_values(listed)["t_cl_nck"] == 22, "13.75 ns at 0.625 ns a clock"
