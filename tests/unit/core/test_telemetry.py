"""Sensors that can be believed or not, ceilings that stop, and a day of samples in little room."""

import math
import random
import time

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tenaz.core.rigs.rig import OWN
from tenaz.core.sensors.clock_watch import ClockWatch
from tenaz.core.sensors.guard import Alarm, Guard, Said
from tenaz.core.sensors.names import names_of
from tenaz.core.sensors.telemetry import (
    STUCK_AFTER_SAMPLES,
    Ceiling,
    Health,
    Record,
    Sample,
    Sensor,
    SensorKind,
    ceilings_for,
    is_watched,
)
from tenaz.core.sensors.trace import CHUNK_SAMPLES, STEP, TraceChunk, pack, unpack

CPU = Sensor("k10temp/temp1", "processor", SensorKind.TEMPERATURE)
MODULE = Sensor("spd5118.2/temp1", "module B2", SensorKind.TEMPERATURE)
ROOM = Sensor("nct/temp3", "case", SensorKind.TEMPERATURE)
FAN = Sensor("nct/fan1", "cooler fan", SensorKind.FAN)
ERRORS = Sensor("edac/mc0/ce", "corrected by mc0", SensorKind.HARDWARE_ERRORS)
THROTTLE = Sensor("throttle/core0", "core of cpu 0", SensorKind.THROTTLES)


def hear(sensor: Sensor, *values: float | None) -> list[Said]:
    guard = Guard([sensor], ceilings_for([sensor], OWN))
    return [said for at, value in enumerate(values) for said in guard.see(Sample(float(at), (value,)))]


def test_processor_and_modules_have_ceilings_and_others_none() -> None:
    assert ceilings_for([CPU, MODULE, ROOM, FAN], OWN) == (
        Ceiling(CPU.id, 90.0, 100.0),
        Ceiling(MODULE.id, 78.0, 85.0),
    )


@pytest.mark.parametrize(
    ("sensor", "values", "alarms"),
    [
        (CPU, (60, 70, 89), []),
        (CPU, (60, 91, 92, 91), [(1, Alarm.WARNING)]),
        (CPU, (60, 91, 80, 91), [(1, Alarm.WARNING), (3, Alarm.WARNING)]),
        (CPU, (60, 101, 60), [(1, Alarm.WARNING)]),
        (CPU, (60, 101, 102), [(1, Alarm.WARNING), (2, Alarm.TOO_HOT)]),
        (MODULE, (84, 86, 86), [(0, Alarm.WARNING), (2, Alarm.TOO_HOT)]),
        (CPU, (60, None, None, 61), []),
        (CPU, (60, None, None, None), [(3, Alarm.BLIND)]),
        (CPU, (60, 255, 255, 255), [(3, Alarm.BLIND)]),
        (ROOM, (30, None, None, None, 31), [(3, Alarm.SENSOR), (4, Alarm.SENSOR)]),
        (ROOM, (160, math.nan, -99), [(2, Alarm.SENSOR)]),
        (ERRORS, (7, 7, 7), []),
        (ERRORS, (7, 9), [(1, Alarm.HARDWARE_ERROR)]),
        (THROTTLE, (3, 3, 5, 5), [(2, Alarm.THROTTLED)]),
    ],
)
def test_what_the_guard_says(sensor: Sensor, values: tuple[float | None, ...], alarms: list[tuple[int, Alarm]]) -> None:
    assert [(said.at_s, said.alarm) for said in hear(sensor, *values)] == alarms


def test_only_what_must_stop_stops() -> None:
    assert {alarm for alarm in Alarm if alarm.stops} == {Alarm.TOO_HOT, Alarm.BLIND, Alarm.HARDWARE_ERROR}
    assert "nothing guards the temperature" in hear(CPU, 60, None, None, None)[0].text
    assert hear(ERRORS, 7, 9)[0].text == "corrected by mc0: 2 hardware error records"


def test_a_sensor_that_never_moves_is_said_to_be_stuck_and_stops_nothing() -> None:
    said = hear(CPU, *[60.0] * (STUCK_AFTER_SAMPLES + 5))
    assert [one.alarm for one in said] == [Alarm.SENSOR]
    assert "has not moved" in said[0].text
    assert hear(FAN, *[1200.0] * 500) == [], "a fan may well turn steadily"


def test_lowest_mean_and_highest_leave_nonsense_out() -> None:
    record = Record(CPU)
    for value in (50.0, None, 999.0, 70.0):
        record.see(value)
    assert (record.lowest, record.mean, record.highest, record.count) == (50.0, 60.0, 70.0, 2)
    assert record.health is Health.FINE


readings = st.none() | st.floats(-40, 15_000)


@given(st.lists(st.tuples(st.floats(0, 90_000), readings, readings), max_size=80))
def test_a_packed_stretch_comes_back_to_within_a_step(rows: list[tuple[float, float | None, float | None]]) -> None:
    sensors = (CPU, FAN)
    samples = [Sample(at, (a, b)) for at, a, b in rows]
    again = unpack(pack(sensors, samples))
    assert len(again) == len(samples)
    for before, after in zip(samples, again, strict=True):
        assert after.at_s == pytest.approx(before.at_s, abs=0.001)
        for sensor, value, kept in zip(sensors, before.values, after.values, strict=True):
            assert (value is None) == (kept is None)
            if value is not None:
                assert kept == pytest.approx(value, abs=STEP[sensor.kind])


@given(st.binary(max_size=200), st.integers(0, 1000))
def test_broken_stretches_are_refused_and_nothing_else(packed: bytes, count: int) -> None:
    with pytest.raises(ValueError, match="a chunk of"):
        unpack(TraceChunk((CPU,), count, packed))


def test_a_day_of_64_sensors_takes_little_room() -> None:
    luck = random.Random(3)
    kinds = [kind for kind in SensorKind for _ in range(8)]
    sensors = [Sensor(f"s{k}", f"s{k}", kind) for k, kind in enumerate(kinds)]
    centre = {
        SensorKind.TEMPERATURE: 70.0, SensorKind.FAN: 1400.0, SensorKind.VOLTAGE: 1.2, SensorKind.POWER: 120.0,
        SensorKind.CURRENT: 30.0, SensorKind.CLOCK: 4300.0, SensorKind.THROTTLES: 0.0, SensorKind.HARDWARE_ERRORS: 0.0,
    }  # fmt: skip
    wobble = {kind: value * 0.01 for kind, value in centre.items()}
    packed, took, chunks = 0, 0.0, 8
    for chunk in range(chunks):
        samples = [
            Sample(
                float(chunk * CHUNK_SAMPLES + k),
                tuple(centre[kind] + luck.gauss(0, wobble[kind]) for kind in kinds),
            )
            for k in range(CHUNK_SAMPLES)
        ]
        started = time.thread_time()
        packed += len(pack(sensors, samples).packed)
        took += time.thread_time() - started
    assert packed * 86_400 / (chunks * CHUNK_SAMPLES) < 20e6
    assert took / chunks < 0.01 * CHUNK_SAMPLES, "under 1 % of a core"


def test_chosen_sensors_are_told_by_part_of_their_name() -> None:
    assert all(is_watched(sensor, ()) for sensor in (CPU, FAN))
    assert [is_watched(sensor, ("PROC", "module")) for sensor in (CPU, MODULE, FAN)] == [True, True, False]


def test_throttling_is_seen_in_the_clock_that_is_reached() -> None:
    watch = ClockWatch()
    steps = [(0, 0), (4300, 4300), (4310, 3600), (4300, 3600), (4290, 3600), (4300, 3600), (4300, 4300)]
    told = [watch.see(clocks) for clocks in steps]
    assert [bool(line) for line in told] == [False, False, False, False, True, False, False]
    assert told[4] == "worker 1 reaches 3600 of 4300 MHz"


def test_a_sensor_is_named_by_what_it_measures() -> None:
    labels = (
        "spd5118 temp1", "spd5118.2 temp1", "coretemp Package id 0", "coretemp Core 1", "acpitz temp1",
        "nvme Composite", "odd temp4",
    )  # fmt: skip
    sensors = [Sensor(label, label, SensorKind.TEMPERATURE) for label in labels]
    named = names_of(sensors, ("A2", "B2"))
    assert list(named.values()) == ["module A2", "module B2", "processor", "core 1", "board", "disk", "odd temp4"]
    assert names_of(sensors)["spd5118.2 temp1"] == "module 2", "nobody knows where it sits"
    told = [Sensor(label, f"k10temp {label}", SensorKind.TEMPERATURE) for label in ("Tctl", "Tccd1")]
    assert list(names_of(told).values()) == ["processor", "chiplet 1"]
    twice = [Sensor(f"nvme{n}", "nvme Composite", SensorKind.TEMPERATURE) for n in (0, 1)]
    assert list(names_of(twice).values()) == ["disk", "disk 2"]
