"""The bench ``sim``: stations, time, and a machine that lives on."""

import os
import subprocess
import sys
import threading
import time
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

import pytest

from tenaz.benches.simulated.bench import fresh_state, simulated_bench
from tenaz.benches.simulated.clock import WorkshopClock
from tenaz.core.base.loop import Move
from tenaz.core.base.outcomes import Outcome
from tenaz.core.base.pace import Pace
from tenaz.core.knobs.setpoint import AUTO, Setpoint
from tenaz.core.loads.plan import LoadKind, LoadPlan, LoadProgress, LoadReport, Mismatch
from tenaz.core.ports.bench import Bench
from tenaz.core.rigs.rig import Rig
from tenaz.core.sensors.telemetry import Sample, Sensor, SensorKind
from tenaz.demo.hut import hut
from tenaz.demo.ridge import ridge
from tenaz.simulated.made.faults import Fault, FaultKind
from tenaz.simulated.state import FIRMWARE_DATE, State, state_from_json, state_to_json
from tests.doors.truth import truth_of

HOUR = LoadPlan(LoadKind.MARCH, duration_s=3600.0)
RATE = ridge().knob("data_rate_mts")


class Watch:
    """Hears everything; stops the bench at the first hardware record, as the guard does."""

    def __init__(self, bench: Bench | None = None) -> None:
        self.bench = bench
        self.seen: list[LoadProgress] = []
        self.wrong: list[Mismatch] = []
        self.samples: list[Sample] = []
        self.known: tuple[Sensor, ...] = ()

    def progress(self, progress: LoadProgress) -> None:
        self.seen.append(progress)

    def mismatch(self, mismatch: Mismatch) -> None:
        self.wrong.append(mismatch)

    def sensors(self, sensors: Sequence[Sensor], *real: float | None) -> None:
        assert not any(real)
        self.known = tuple(sensors)

    def sample(self, sample: Sample) -> None:
        assert len(sample.values) == len(self.known)
        self.samples.append(sample)

    def note(self, text: str, source: str = "") -> None:
        raise AssertionError(text)

    def of(self, label: str) -> list[float | None]:
        place = [one.label for one in self.known].index(label)
        return [sample.values[place] for sample in self.samples]


def turn(bench: Bench, setpoint: Setpoint, watch: Watch, plan: LoadPlan = HOUR) -> LoadReport | Move:
    bench.setting.set(setpoint, Setpoint.of({}))
    booted = bench.setting.boot().move
    if booted not in (Move.CAME_UP, Move.CAME_UP_RETRAINED):
        return booted
    return bench.loading.load(plan, watch)


def test_far_beyond_it_does_not_boot_and_the_third_time_the_firmware_forgets_everything(rig: Rig) -> None:
    state = fresh_state(rig)
    bench = simulated_bench(rig, state)
    far = rig.stock.replacing("data_rate_mts", 8000)
    assert [turn(bench, far, Watch()) for _ in range(3)] == [Move.STAYED_DOWN, Move.STAYED_DOWN, Move.FELL_BACK]
    readings = bench.reading.read_back(far)
    assert [reading.name for reading in readings if not reading.agrees] == ["data rate"]
    assert bench.clock.utc().year == FIRMWARE_DATE.year, "clearing sets the calendar back"
    wall = WorkshopClock(state, time.monotonic, lambda: "")
    assert wall.utc() > state.begun_utc, "the one on the wall goes on"
    turn(bench, rig.stock, Watch(), replace(HOUR, duration_s=90.0))
    assert bench.clock.utc() == wall.utc(), "until the system's time service has set it right"


def test_its_firmware_rounds_silently_and_what_is_automatic_moves_with_the_rate(rig: Rig) -> None:
    bench = simulated_bench(rig)
    asked = rig.stock.replacing("fabric_mv", 890).replacing("t_rcd_nck", AUTO).replacing("data_rate_mts", 5600)
    bench.setting.set(asked, rig.stock)
    bench.setting.boot()
    read = {one.knob: one for one in bench.reading.read_back(asked)}
    assert not read["fabric_mv"].agrees
    assert read["fabric_mv"].value == 880
    assert read["t_rcd_nck"].agrees
    assert read["t_rcd_nck"].read == "46 nCK", "16.25 ns as at 4800, in clocks of 5600"


def test_a_start_that_changes_no_memory_keeps_its_training(rig: Rig) -> None:
    state = fresh_state(rig)
    bench = simulated_bench(rig, state)

    def boot(setpoint: Setpoint) -> tuple[float, float]:
        bench.setting.set(setpoint, rig.stock)
        before_s, before = bench.clock.monotonic_s(), bench.clock.boot_id()
        bench.setting.boot()
        assert bench.clock.boot_id() != before
        return bench.clock.monotonic_s() - before_s, state.trained_folds

    first, again = boot(rig.stock), boot(rig.stock.replacing("core_offset_mv", -20))
    assert (first[0], again[0]) == (90.0, 40.0)
    assert again[1] == first[1]
    assert boot(rig.stock.replacing("t_cl_nck", 38))[1] != first[1], "a lottery, drawn anew"


def test_the_machine_lives_on_and_goes_on_the_same_in_another_process(rig: Rig) -> None:
    def day(begun: int | None) -> list[object]:
        """Trials in a row; after some of them everything is put away and opened again."""
        state, told = fresh_state(rig), list[object]()
        for number, rate in enumerate((4800, 6000, 6200, 6400, 6400, 6600)):
            if number == begun:
                state = state_from_json(state_to_json(state))
            watch = Watch()
            came = turn(simulated_bench(rig, state), rig.stock.replacing("data_rate_mts", rate), watch)
            told += [repr(came), watch.samples, state.now_s, state.cooler_c]
        return told

    assert day(None) == day(3)


DIGEST = """
import hashlib
from datetime import UTC, datetime
from tenaz.benches.simulated.bench import fresh_state, simulated_bench
from tenaz.demo.ridge import ridge
from tests.unit.benches.test_simulated import HOUR, Watch, turn
rig, told = ridge(7), hashlib.sha256()
state = fresh_state(rig, datetime(2026, 1, 1, tzinfo=UTC))
for rate in (4800, 6000, 6600, 7000):
    watch = Watch()
    told.update(repr(turn(simulated_bench(rig, state), rig.stock.replacing("data_rate_mts", rate), watch)).encode())
    told.update(repr(watch.samples).encode())
print(told.hexdigest())
"""


def test_the_same_seed_gives_the_same_day_to_the_bit_in_other_processes() -> None:
    made = {
        subprocess.run(
            [sys.executable, "-c", DIGEST],
            env={**os.environ, "PYTHONHASHSEED": seed, "PYTHONPATH": str(Path(__file__).parents[3])},
            capture_output=True,
            check=True,
            text=True,
        ).stdout
        for seed in ("1", "2")
    }
    assert len(made) == 1


def test_heat_goes_over_from_one_load_to_the_next_and_is_gone_after_hours(rig: Rig) -> None:
    state = fresh_state(rig)
    bench, plan = simulated_bench(rig, state), LoadPlan(LoadKind.TRANSFORM, duration_s=1800.0)
    cold, warm = Watch(), Watch()
    turn(bench, rig.stock, cold, plan)
    bench.loading.load(plan, warm)
    first = [watch.of("processor")[0] or 0.0 for watch in (cold, warm)]
    assert first[1] > first[0] + 5
    assert (cold.of("processor")[-1] or 0) - first[0] > 10
    assert {one.kind for one in cold.known} >= set(SensorKind) - {SensorKind.CURRENT}
    assert len(cold.seen[0].lanes) == rig.cores
    assert cold.of("package power")[0] is None, "power follows out of energy, from the second reading on"
    assert len([one for one in cold.known if one.label.startswith("spd5118")]) == 2


def test_a_pace_is_felt_while_it_runs(rig: Rig) -> None:
    pace = Pace(60.0)
    bench, watch = simulated_bench(rig, pace=pace), Watch()
    running = threading.Thread(target=lambda: bench.loading.load(HOUR, watch))
    running.start()
    time.sleep(0.5)
    assert bench.clock.monotonic_s() < 120
    pace.factor = None
    running.join(10)
    assert bench.clock.monotonic_s() == pytest.approx(3600, abs=1e-6)


def test_failures_come_as_the_hazard_says() -> None:
    """Just past the edge an hour fails often, in every way; the watch hears it all."""
    outcomes, times = [], []
    for seed in range(60):
        rig = ridge(seed)
        bench, watch = simulated_bench(rig), Watch()
        beyond = int(truth_of(rig).edge(rig.stock, RATE)) + 1
        report = turn(bench, rig.stock.replacing("data_rate_mts", RATE.at_strain(beyond)), watch)
        if isinstance(report, Move):
            continue
        outcomes.append(report.outcome)
        if report.failed_after_s is not None:
            times.append(report.failed_after_s)
            assert report.elapsed_s == report.failed_after_s < 3600
            assert len(watch.wrong) == report.errors == len(report.mismatches)
        assert all(early.elapsed_s <= late.elapsed_s for early, late in zip(watch.seen, watch.seen[1:], strict=False))
    assert set(outcomes) >= {Outcome.HELD, Outcome.ERRED, Outcome.FROZE}
    assert 0.5 < len(times) / len(outcomes) < 1.0
    assert min(times) < 300 < max(times)


def test_a_part_that_is_at_fault_shows_until_it_is_seen_to() -> None:
    rig = hut()
    state: State = fresh_state(rig)
    state.faults = (Fault(FaultKind.SLOT, "A1", 8.0),)
    bench = simulated_bench(rig, state)
    unseen = 0
    for _ in range(12):
        bench.setting.set(rig.stock, rig.stock)
        bench.setting.boot()
        unseen += [one.read for one in bench.reading.read_back(rig.stock) if one.name == "memory"] == [
            "8.0 GiB, A1 not seen"
        ]
    assert 6 <= unseen <= 12, "with strength 8 its module is not seen nearly every time"
