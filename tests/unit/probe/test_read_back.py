"""What is set, read back: profiles that modules store, limits that the kernel tells, registers by a file."""

from pathlib import Path

import pytest

from tenaz.benches.here import FromTheMachine
from tenaz.core.base.errors import Refused
from tenaz.core.knobs.readings import Source
from tenaz.core.machine.intake import Weight, look_over
from tenaz.core.machine.machine import Machine, Why
from tenaz.core.machine.profiles import profile_in_words, profiles_of
from tenaz.core.rigs.rig import BenchKind
from tenaz.intake.new_rigs import rig_from
from tenaz.probe.here import read_machine
from tenaz.probe.registers import read_register_file
from tests.unit.probe.builders import fastest_desktop, laptop, old_desktop

FILE = """
format = "tenaz.registers/1"
name = "a controller"
device = { vendor = 0x1234, device = 0x42 }

[[value]]
knob = "t_rcd_nck"
where = "config"
offset = 0x48
width = 2
low = 4
high = 11
plus = 2
least = 5
most = 60
"""


def device(root: Path, vendor: str, number: str, **files: bytes) -> None:
    folder = root / "sys/bus/pci/devices" / f"0000:00:{number[-2:]}.0"
    folder.mkdir(parents=True)
    (folder / "vendor").write_text(vendor)
    (folder / "device").write_text(number)
    for name, content in files.items():
        (folder / name).write_bytes(content)


def test_profiles_of_the_standard_are_told_with_the_one_that_is_in_force(tmp_path: Path) -> None:
    machine = read_machine(old_desktop(tmp_path))
    shown = [(one.name, one.show()) for one in profiles_of(machine)]
    assert shown == [
        ("base 1333", "1333 9-9-9-24 1.5V"),
        ("standard 1066", "1066 7-7-7-20 1.5V"),
        ("standard 800", "800 6-6-6-15 1.5V"),
    ]
    assert profile_in_words(machine) == "1867 MT/s is above the base profile of 1333: values by hand"
    assert profiles_of(Machine()) == ()


def test_limits_that_were_moved_are_pointed_out_and_are_no_stock(tmp_path: Path) -> None:
    (tmp_path / "a").mkdir()
    fast, slow = read_machine(fastest_desktop(tmp_path / "a")), read_machine(laptop(tmp_path / "b"))
    told = [one.text for one in look_over(fast) if one.weight is Weight.OFF_STOCK]
    assert "power limit 4095 W, 125 W is usual for it" in told
    assert "short power limit 4095 W, 253 W is usual for it" in told
    told = [one.text for one in look_over(slow)]
    assert told == ["boost is off", "its highest clock is held at 2400 of 4800 MHz"]
    rig = rig_from(fast, "x", (BenchKind.HERE,))
    assert "power_limit_w" not in rig.stock.numbers(), "systems move it while they run"


def test_a_register_file_reads_the_controller_and_says_so(tmp_path: Path) -> None:
    root, own = old_desktop(tmp_path / "root"), tmp_path / "own"
    own.mkdir()
    (own / "a.toml").write_text(FILE)
    device(root, "0x1234", "0x42", config=bytes(0x48) + (11 << 4).to_bytes(2, "little") + bytes(8))
    region = bytearray(0x2000)
    region[0x100:0x106] = bytes([9, 10, 11, 0, 27, 0])
    device(root, "0x1af4", "0x1110", config=bytes(256), resource2=bytes(region))
    machine = read_machine(root, own)
    assert {one.knob: (one.value, one.by) for one in machine.registers} == {
        "t_rcd_nck": (13, "a controller"),
        "t_cl_nck": (9, "emulated controller"),
        "t_rp_nck": (11, "emulated controller"),
        "t_ras_nck": (28, "emulated controller"),
    }
    rig = rig_from(machine, "x", (BenchKind.HERE,))
    assert (rig.stock["t_cl_nck"], rig.stock["t_rcd_nck"], rig.stock["t_ras_nck"]) == (9, 13, 28)
    read = {one.knob: one for one in FromTheMachine(rig, lambda: machine).read_back(rig.stock)}
    assert (read["t_cl_nck"].source, read["data_rate_mts"].source) == (Source.REGISTER, Source.READ)
    assert all(one.agrees for one in read.values())


@pytest.mark.parametrize(
    ("config", "why", "told"),
    [
        (bytes(0x60), Why.NONSENSE, "2: is it for this machine?"),
        (bytes(0x48), Why.NONSENSE, "too short"),
        (None, Why.MISSING, "No such file"),
    ],
)
def test_what_cannot_be_read_of_registers_is_told_and_nothing_is_believed(
    tmp_path: Path, config: bytes | None, why: Why, told: str
) -> None:
    root, own = tmp_path / "root", tmp_path / "own"
    own.mkdir()
    (own / "a.toml").write_text(FILE)
    device(root, "0x1234", "0x42", **({"config": config} if config is not None else {}))
    machine = read_machine(root, own)
    assert machine.registers == ()
    found = next(one for one in machine.unread if one.what.startswith("a controller"))
    assert (found.why, told in found.detail) == (why, True)


@pytest.mark.parametrize(
    ("change", "told"),
    [
        (("0x48", "0x47"), "is not a multiple of its width of 2"),
        (("high = 11", "high = 16"), "bits 16 to 4 do not lie in 2 bytes"),
        (('"config"', '"msr"'), "where: Input should be"),
        (("registers/1", "registers/9"), "format"),
    ],
)
def test_a_register_file_that_is_none_is_told_with_its_place(
    tmp_path: Path, change: tuple[str, str], told: str
) -> None:
    file = tmp_path / "b.toml"
    file.write_text(FILE.replace(*change))
    with pytest.raises(Refused, match=told):
        read_register_file(file)
    machine = read_machine(tmp_path / "nothing", tmp_path)
    assert any(one.what == str(file) and one.why is Why.NONSENSE for one in machine.unread)
