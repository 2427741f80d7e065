from collections.abc import Sequence

import pytest

from tenaz.benches.simulated.bench import SimulatedRig
from tenaz.benches.simulated.simulated_machine import SimulatedMachine
from tenaz.core.loading import LoadKind, LoadPlan, LoadProgress, LoadReport, Mismatch
from tenaz.core.loop import Move
from tenaz.core.outcomes import Outcome
from tenaz.core.rigs import Rig
from tenaz.core.setpoints import AUTO, Setpoint
from tenaz.core.telemetry import Sample, Sensor, SensorKind
from tenaz.demo.ridge import RIDGE_SEED, ridge

HOUR = LoadPlan(LoadKind.MARCH, duration_s=3600.0)
RATE, T_CL, VDD = map(ridge().knob, ("data_rate_mts", "t_cl_nck", "memory_vdd_mv"))


class Watch:
    def __init__(self) -> None:
        self.seen: list[LoadProgress] = []
        self.wrong: list[Mismatch] = []
        self.samples: list[Sample] = []

    def progress(self, progress: LoadProgress) -> None:
        self.seen.append(progress)

    def mismatch(self, mismatch: Mismatch) -> None:
        self.wrong.append(mismatch)

    def sensors(self, sensors: Sequence[Sensor]) -> None:
        assert {sensor.kind for sensor in sensors} >= {SensorKind.TEMPERATURE, SensorKind.CLOCK}

    def sample(self, sample: Sample) -> None:
        self.samples.append(sample)

    def note(self, text: str, source: str = "") -> None:
        raise AssertionError(text)


def turn(bench: SimulatedRig, setpoint: Setpoint, before: Setpoint, watch: Watch) -> LoadReport | Move:
    bench.set(setpoint, before)
    booted = bench.boot().move
    if booted not in (Move.CAME_UP, Move.CAME_UP_RETRAINED):
        return booted
    assert all(reading.agrees for reading in bench.read_back(setpoint))
    return bench.load(HOUR, watch)


def test_the_same_seed_gives_the_same_machine_with_the_same_luck(rig: Rig) -> None:
    def history(seed: int) -> list[object]:
        bench = SimulatedRig(ridge(seed))
        return [
            turn(bench, rig.stock.replacing("data_rate_mts", value), rig.stock, Watch())
            for value in (4800, 6000, 6400, 6400, 6600)
        ]

    assert history(3) == history(3)
    assert len({repr(history(seed)) for seed in range(5)}) == 5


@pytest.mark.parametrize("seed", range(12))
def test_each_specimen_behaves_like_memory(seed: int, rig: Rig) -> None:
    machine = SimulatedMachine(seed, ridge().knobs)
    rates = [machine.log_rate(rig.stock.replacing("data_rate_mts", v)) for v in RATE.grid.values() if v >= 5600]
    assert rates == sorted(rates), "faster asks more"
    assert machine.log_rate(rig.stock) < -6, "stock is no candidate for failure"
    assert machine.boot_chance(rig.stock) > 0.99
    edge = machine.hidden_edge(rig.stock, RATE)
    assert RATE.strain(5000) < edge < RATE.strain(7600)
    warmer = rig.stock.replacing("memory_vdd_mv", 1200)
    assert machine.hidden_edge(warmer, RATE) > edge, "voltage buys data rate"
    looser = rig.stock.replacing("t_cl_nck", 44)
    assert machine.hidden_edge(looser, RATE) >= edge, "a longer tCL never costs data rate"
    assert machine.boot_chance(rig.stock.replacing("memory_vdd_mv", 1500)) < 0.05, "too much is a wall as well"
    for name in ("t_cl_nck", "t_rcd_nck", "t_rfc1_nck", "t_refi_nck", "controller_mv"):
        knob = rig.knob(name)
        assert machine.hidden_edge(rig.stock, knob) > knob.strain(rig.stock.number(name)), f"{name} has room at stock"
    apart = rig.stock.replacing("memory_vdd_mv", 1300).replacing("memory_vddq_mv", 1100)
    assert machine.log_rate(apart) > 0, "VDD and VDDQ belong together"
    assert machine.log_rate(rig.stock, LoadKind.TRANSFORM) < machine.log_rate(rig.stock, LoadKind.MARCH)


def test_far_beyond_it_does_not_boot_and_forgets_everything(rig: Rig) -> None:
    bench = SimulatedRig(rig)
    far = rig.stock.replacing("data_rate_mts", 8000)
    moves = [turn(bench, far, rig.stock, Watch()) for _ in range(3)]
    assert moves == [Move.STAYED_DOWN, Move.STAYED_DOWN, Move.FELL_BACK]
    readings = bench.read_back(far)
    assert [reading.name for reading in readings if not reading.agrees] == ["data rate"]


def test_what_is_on_auto_is_chosen_safely_by_the_firmware(rig: Rig) -> None:
    machine = SimulatedMachine(RIDGE_SEED, rig.knobs)
    relaxed = rig.stock
    for name in ("t_cl_nck", "t_rcd_nck", "t_rp_nck", "t_rfc1_nck"):
        relaxed = relaxed.replacing(name, AUTO)
    fast = relaxed.replacing("data_rate_mts", 6000)
    assert machine.effective(fast)["t_rcd_nck"] == 49, "16.25 ns as at 4800, in clocks of 6000"
    assert machine.log_rate(fast) < machine.log_rate(rig.stock.replacing("data_rate_mts", 6000))
    inert = rig.stock.replacing("t_rc_nck", 60)
    assert machine.log_rate(inert) == machine.log_rate(rig.stock.replacing("t_rc_nck", 116)), (
        "below its minimum: no effect"
    )


def test_failures_come_as_the_hazard_says(rig: Rig) -> None:
    """Just past the edge an hour fails often, and every way of failing is seen; the watch hears it all."""
    outcomes, times = [], []
    for seed in range(60):
        bench, watch = SimulatedRig(ridge(seed)), Watch()
        beyond = int(bench.machine.hidden_edge(rig.stock, RATE)) + 1
        report = turn(bench, rig.stock.replacing("data_rate_mts", RATE.at_strain(beyond)), rig.stock, watch)
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


def test_it_warms_up_under_load(rig: Rig) -> None:
    watch = Watch()
    turn(SimulatedRig(rig), rig.stock, rig.stock, watch)
    heat = [progress.temperature_c or 0.0 for progress in watch.seen]
    assert heat == sorted(heat)
    assert heat[0] < 45 < heat[-1] < 60
    assert len(watch.seen[0].lanes) == rig.cores
    assert [sample.values[0] for sample in watch.samples] == heat


def test_its_firmware_rounds_silently_and_its_time_and_boots_are_its_own(rig: Rig) -> None:
    bench = SimulatedRig(rig)
    bench.set(rig.stock.replacing("fabric_mv", 890), rig.stock)
    before_s, before_boot = bench.clock.monotonic_s(), bench.clock.boot_id()
    bench.boot()
    assert bench.clock.monotonic_s() - before_s == pytest.approx(90.0)
    assert bench.clock.boot_id() != before_boot
    (differing,) = [one for one in bench.read_back(rig.stock.replacing("fabric_mv", 890)) if not one.agrees]
    assert (differing.knob, differing.value) == ("fabric_mv", 880)
