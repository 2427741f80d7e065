"""Sensors out of a fake tree, and the sampler over them."""

import threading
import time
from dataclasses import replace
from pathlib import Path

import pytest

from tenaz.core.machine.intake import look_over, present_values
from tenaz.core.rigs.rig import Rig
from tenaz.core.sensors.names import names_of, of_graphics
from tenaz.core.sensors.telemetry import Sample, SensorKind, ceilings_for
from tenaz.probe.cards import memory_of_cards
from tenaz.probe.here import read_machine
from tenaz.probe.kernel_log import KernelLog, is_hardware_error, message_of
from tenaz.probe.sampler import Sampler
from tenaz.probe.sensors import SensorTree
from tests.unit.probe.test_here import write

HWMON = "sys/class/hwmon"


@pytest.fixture
def board(tmp_path: Path) -> Path:
    for path, content in {
        f"{HWMON}/hwmon0/name": "k10temp",
        f"{HWMON}/hwmon0/temp1_input": "61250",
        f"{HWMON}/hwmon0/temp1_label": "die",
        f"{HWMON}/hwmon1/name": "spd5118",
        f"{HWMON}/hwmon1/temp1_input": "44000",
        f"{HWMON}/hwmon2/name": "spd5118",
        f"{HWMON}/hwmon2/temp1_input": "45000",
        f"{HWMON}/hwmon3/name": "nct",
        f"{HWMON}/hwmon3/fan2_input": "1250",
        f"{HWMON}/hwmon3/in0_input": "1104",
        f"{HWMON}/hwmon3/power1_input": "65000000",
        f"{HWMON}/hwmon3/humidity1_input": "40",
        "sys/class/powercap/rapl:0/name": "package-0",
        "sys/class/powercap/rapl:0/energy_uj": "900000000",
        "sys/class/powercap/rapl:0/max_energy_range_uj": "1000000000",
        "sys/devices/system/cpu/cpu0/cpufreq/scaling_cur_freq": "4300000",
        "sys/devices/system/cpu/cpu0/thermal_throttle/core_throttle_count": "3",
        "sys/devices/system/edac/mc/mc0/ce_count": "7",
        "sys/devices/system/edac/mc/mc0/ue_count": "none",
        "dev/kmsg": "2,1,0,-;mce: [Hardware Error]: an old one",
    }.items():
        write(tmp_path, path, content + "\n")
    return tmp_path


def test_every_sensor_has_its_unit_and_a_name_that_stays(board: Path) -> None:
    tree = SensorTree(board)
    found = dict(zip(((s.id, s.label, s.kind) for s in tree.sensors), tree.read(0.0), strict=True))
    assert found == {
        ("k10temp/temp1", "k10temp die", SensorKind.TEMPERATURE): 61.25,
        ("spd5118/temp1", "spd5118 temp1", SensorKind.TEMPERATURE): 44.0,
        ("spd5118.2/temp1", "spd5118.2 temp1", SensorKind.TEMPERATURE): 45.0,
        ("nct/fan2", "nct fan2", SensorKind.FAN): 1250.0,
        ("nct/in0", "nct in0", SensorKind.VOLTAGE): pytest.approx(1.104),
        ("nct/power1", "nct power1", SensorKind.POWER): 65.0,
        ("powercap/rapl:0", "package-0 power", SensorKind.POWER): None,
        ("cpufreq/0", "clock 0", SensorKind.CLOCK): 4300.0,
        ("throttle/core0", "core of cpu 0", SensorKind.THROTTLES): 3.0,
        ("edac/mc0/ce", "corrected by mc0", SensorKind.HARDWARE_ERRORS): 7.0,
        ("edac/mc0/ue", "uncorrected by mc0", SensorKind.HARDWARE_ERRORS): None,
        ("kernel/hardware", "kernel messages", SensorKind.HARDWARE_ERRORS): 0.0,
    }
    tree.close()


def test_power_follows_from_energy_also_over_its_end(board: Path) -> None:
    tree = SensorTree(board)
    place = [sensor.id for sensor in tree.sensors].index("powercap/rapl:0")
    energy = board / "sys/class/powercap/rapl:0/energy_uj"
    assert tree.read(10.0)[place] is None
    for at_s, microjoules, watts in ((12.0, 980_000_000, 40.0), (13.0, 30_000_000, 50.0)):
        energy.write_text(str(microjoules))
        assert tree.read(at_s)[place] == pytest.approx(watts)
    tree.close()


def test_the_sampler_keeps_its_pace_and_stops(board: Path) -> None:
    tree, samples, enough = SensorTree(board), [], threading.Event()

    def take(sample: Sample) -> None:
        samples.append(sample)
        if len(samples) == 5:
            time.sleep(0.12)
        if len(samples) >= 12:
            enough.set()

    with Sampler(tree, 0.05, take):
        assert enough.wait(10)
    count = len(samples)
    time.sleep(0.15)
    assert len(samples) == count
    assert all(len(sample.values) == len(tree.sensors) for sample in samples)
    # A late one belongs to the point that it is late for.
    grid = [int(sample.at_s / 0.05 + 0.02) for sample in samples]
    assert grid == sorted(set(grid)), "each on the grid, none twice, a late one does not push the others"
    tree.close()


def test_a_sensor_that_hangs_does_not_hold_up_the_end() -> None:
    entered, go_on, late = threading.Event(), threading.Event(), []

    class Hanging:
        def read(self, _at_s: float) -> tuple[float | None, ...]:
            entered.set()
            go_on.wait(10)
            return (1.0,)

    started = time.monotonic()
    with Sampler(Hanging(), 0.05, late.append):  # type: ignore[arg-type] # only read is asked of it
        assert entered.wait(5)
    assert time.monotonic() - started < 2.0
    go_on.set()
    time.sleep(0.1)
    assert late == [], "what comes after the end is dropped"


@pytest.mark.parametrize(
    ("record", "message", "error"),
    [
        (
            b"2,811,5200,-;mce: [Hardware Error]: CPU 3: Machine Check: 0 Bank 5\n KEY=1\n",
            "mce: [Hardware Error]",
            True,
        ),
        (b"4,90,1,-;EDAC MC0: 1 CE memory read error on B2", "EDAC MC0", True),
        (b"6,91,1,-;EDAC MC: Ver: 3.0.0", "EDAC MC: Ver", False),
        (b"6,92,1,-;usb 1-2: new high-speed device", "usb", False),
        (b"6,93,1,-;mce: CPU0: Thermal monitoring enabled", "mce", False),
        (b"no record at all", "", False),
    ],
)
def test_kernel_messages(record: bytes, message: str, error: bool) -> None:
    assert message_of(record).startswith(message)
    assert is_hardware_error(message_of(record)) is error


def test_hardware_errors_are_counted_from_the_opening_on(board: Path) -> None:
    log = KernelLog(board / "dev/kmsg")
    assert log.errors() == 0
    with (board / "dev/kmsg").open("a") as messages:
        messages.write("2,2,9,-;mce: [Hardware Error]: CPU 1")
    assert log.errors() == 1
    assert log.last == "mce: [Hardware Error]: CPU 1"
    assert log.errors() == 1
    log.close()


def test_a_graphics_cards_sensors_are_known_as_its_own_and_have_its_ceiling(tmp_path: Path, rig: Rig) -> None:
    for path, content in {
        f"{HWMON}/hwmon0/name": "amdgpu",
        f"{HWMON}/hwmon0/temp1_input": "61000",
        f"{HWMON}/hwmon0/temp1_label": "edge",
        f"{HWMON}/hwmon0/temp2_input": "74000",
        f"{HWMON}/hwmon0/temp2_label": "junction",
        f"{HWMON}/hwmon0/power1_input": "143000000",
        f"{HWMON}/hwmon0/power1_label": "PPT",
        f"{HWMON}/hwmon0/freq1_input": "2450000000",
        f"{HWMON}/hwmon0/freq1_label": "sclk",
        f"{HWMON}/hwmon0/fan1_input": "1320",
        "sys/class/drm/card1/gt_act_freq_mhz": "1350",
    }.items():
        write(tmp_path, path, content)
    tree = SensorTree(tmp_path)
    sensors = [one for one in tree.sensors if not one.kind.counts]
    names = names_of(sensors)
    read = dict(zip([one.id for one in tree.sensors], tree.read(0.0), strict=True))
    assert {names[one.id]: read[one.id] for one in sensors} == {
        "graphics": 61.0, "graphics, hottest": 74.0, "graphics power": 143.0, "graphics clock": 2450.0,
        "graphics fan": 1320.0, "graphics clock 2": 1350.0,
    }  # fmt: skip
    assert {one.sensor_id for one in ceilings_for(sensors, rig.purpose)} == {"amdgpu/temp1", "amdgpu/temp2"}
    assert all(of_graphics(one.id) for one in sensors)
    tree.close()


@pytest.mark.parametrize(
    ("files", "size"),
    [
        ({"mem_info_vram_total": "8573157376"}, 8573157376),
        ({"resource": "0x0000004000000000 0x00000043ffffffff 0x000000000014220c"}, 16 << 30),
        ({"resource": "0x00000000d0000000 0x00000000dfffffff 0x000000000014220c"}, None),
        ({}, None),
    ],
    ids=["its driver says", "all of it shows", "an older board shows a part", "nobody says"],
)
def test_how_much_memory_a_card_has(tmp_path: Path, files: dict[str, str], size: int | None) -> None:
    device = "sys/bus/pci/devices/0000:03:00.0"
    for name, content in {"class": "0x030000", "vendor": "0x1a00", "device": "0x0042", **files}.items():
        write(tmp_path, f"{device}/{name}", content)
    assert memory_of_cards(tmp_path) == (() if size is None else ((0x1A00, 0x42, size),))


def test_what_graphics_may_draw_is_told_and_is_what_is_in_force(tmp_path: Path) -> None:
    cap = "sys/class/drm/card1/device/hwmon/hwmon4/power1_cap"
    for path, content in {cap: "207000000", f"{cap}_default": "180000000"}.items():
        write(tmp_path, path, content)
    machine = replace(read_machine(tmp_path), modules=())
    assert [(one.name, one.value, one.usual) for one in machine.limits] == [("graphics_power_limit_pct", 115, 100)]
    assert present_values(machine) == {"graphics_power_limit_pct": 115}
    assert "graphics may draw 115 %" in " ".join(one.text for one in look_over(machine))
