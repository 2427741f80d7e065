"""Ceilings stop a trial within two samples, on the simulated rig and on this machine with a fake sensor tree."""

import threading
import time
from dataclasses import replace
from pathlib import Path

import pytest

from tenaz.benches.here import here_bench
from tenaz.benches.simulated.bench import fresh_state, simulated_bench
from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Outcome
from tenaz.core.evidence.shown import evidence_at
from tenaz.core.loads.plan import CacheLevel, LoadKind, LoadPlan
from tenaz.core.rigs.rig import Rig
from tenaz.core.sensors.guard import Alarm, Guard
from tenaz.core.sensors.telemetry import Ceiling, Guards, Sample, Sensor, SensorKind, ceilings_for
from tenaz.core.sensors.trace import unpack
from tenaz.core.trials.index import TrialIndex
from tenaz.core.trials.trial import Trial
from tenaz.demo.ridge import ridge
from tenaz.engine.clock import RealClock
from tenaz.engine.runner import TrialRunner
from tenaz.journal.store import Store
from tenaz.probe.sensors import SensorTree
from tenaz.simulated.made.faults import Fault, FaultKind
from tests.contract.test_benches import ALL_WELL, Scripted
from tests.unit.probe.test_here import write

TEMPERATURE = "sys/class/hwmon/hwmon0/temp1_input"
ERRORS = "sys/devices/system/edac/mc/mc0/ce_count"


def test_a_dusty_cooler_stops_the_simulated_rig(store: Store, rig: Rig) -> None:
    dusty = fresh_state(rig)
    dusty.faults = (Fault(FaultKind.COOLER),)
    runner = TrialRunner(rig, simulated_bench(rig, dusty), store, RealClock(), lambda _: None)
    trial = runner.run(runner.begin(rig.stock, LoadPlan(LoadKind.TRANSFORM, duration_s=7200.0)))
    assert trial.outcome is Outcome.TOO_HOT
    assert trial.failed_after_s is not None
    samples = [sample for chunk in store.load.traces_of(trial.id) for sample in unpack(chunk)]
    hot = [sample for sample in samples if (sample.values[0] or 0) >= rig.purpose.processor_ceiling_c[1]]
    assert len(hot) == 2, "two samples over the ceiling, and it stopped"
    assert hot[1].at_s == pytest.approx(trial.failed_after_s, abs=0.01)
    said = [text for _, source, text in store.log.lines("ridge") if source == "sensors"]
    said = [text for text in said if not text.startswith("throttled")]
    assert said[0].startswith("warning: processor")
    assert said[1].startswith("too hot: processor")


def run_here(
    store: Store, rig: Rig, tree: Path, change: str, content: str | None, chip: str = "k10temp", label: str = ""
) -> Trial:
    """A load on this machine; after some samples a file of the fake tree changes (None: it is emptied)."""
    rig = replace(rig, sample_period_s=0.4)
    write(tree, "sys/class/hwmon/hwmon0/name", f"{chip}\n")
    write(tree, TEMPERATURE, "61000\n")
    if label:
        write(tree, TEMPERATURE.replace("_input", "_label"), f"{label}\n")
    write(tree, ERRORS, "7\n")
    bench = here_bench(rig, Scripted(dict(ALL_WELL)), RealClock(), open_sensors=lambda chosen: SensorTree(tree, chosen))
    runner = TrialRunner(rig, bench, store, RealClock(), lambda _: None)
    later = threading.Timer(1.5, lambda: (tree / change).write_text(content or ""))
    later.start()
    plan = LoadPlan(LoadKind.TRANSFORM, duration_s=60.0, level=CacheLevel.L1)
    trial = runner.run(runner.begin(rig.stock, plan))
    later.join()
    return trial


@pytest.mark.parametrize(
    ("change", "content", "outcome", "words"),
    [
        (TEMPERATURE, "104000\n", Outcome.TOO_HOT, "too hot: k10temp temp1 104 °C, stop at 95 °C"),
        (TEMPERATURE, None, Outcome.STOPPED, "guard lost: k10temp temp1 gives nothing"),
        (ERRORS, "8\n", Outcome.ERRED, "hardware error: corrected by mc0: 1 hardware error record"),
    ],
)
def test_a_ceiling_on_this_machine(
    store: Store, rig: Rig, tmp_path: Path, change: str, content: str | None, outcome: Outcome, words: str
) -> None:
    trial = run_here(store, rig, tmp_path / "tree", change, content)
    assert trial.outcome is outcome
    assert trial.elapsed_s < 3.0 + 5 * rig.sample_period_s
    assert any(words in text for _, _, text in store.log.lines("ridge"))
    samples = [sample for chunk in store.load.traces_of(trial.id) for sample in unpack(chunk)]
    assert samples[0].values[0] == pytest.approx(61.0)


@pytest.mark.parametrize(("chip", "label"), [("boardchip", "CPU socket"), ("boardchip", "temp3"), ("cpu_thermal", "")])
def test_whatever_tells_of_the_processor_or_its_board_stops_it(
    store: Store, rig: Rig, tmp_path: Path, chip: str, label: str
) -> None:
    trial = run_here(store, rig, tmp_path / "tree", TEMPERATURE, "104000\n", chip, label)
    assert trial.outcome is Outcome.TOO_HOT
    told = any("only the board's" in text for _, _, text in store.log.lines("ridge"))
    assert told is (label == "temp3")
    assert bool(trial.facts.unwatched) is told


def test_a_load_that_no_temperature_guards_says_so_and_its_evidence_too(store: Store, rig: Rig, tmp_path: Path) -> None:
    write(tmp_path, "sys/class/hwmon/hwmon0/name", "nvme\n")
    write(tmp_path, TEMPERATURE, "inf\n")
    bench = here_bench(rig, Scripted(dict(ALL_WELL)), RealClock(), open_sensors=lambda _: SensorTree(tmp_path))
    runner = TrialRunner(rig, bench, store, RealClock(), lambda _: None)
    plan = LoadPlan(LoadKind.TRANSFORM, duration_s=1.0, level=CacheLevel.L1)
    trial = runner.run(runner.begin(rig.stock, plan))
    assert trial.outcome is not None
    assert trial.outcome.ran_clean
    assert any("no temperature is watched here: load the driver" in text for _, _, text in store.log.lines("ridge"))
    kept = store.trials.of("ridge")
    assert evidence_at(trial.setpoint, TrialIndex(kept), rig).unwatched_hours == pytest.approx(trial.elapsed_s / 3600)


def test_a_die_guards_and_its_control_temperature_does_not(tmp_path: Path) -> None:
    write(tmp_path, "sys/class/hwmon/hwmon0/name", "k10temp\n")
    for number, label in ((1, "Tctl"), (2, "Tdie")):
        write(tmp_path, f"sys/class/hwmon/hwmon0/temp{number}_input", "90000\n")
        write(tmp_path, f"sys/class/hwmon/hwmon0/temp{number}_label", f"{label}\n")
    tree = SensorTree(tmp_path)
    assert [ceiling.sensor_id for ceiling in ceilings_for(tree.sensors, ridge().purpose)] == ["k10temp/temp2"]
    tree.close()


@pytest.mark.parametrize("took_s", [0.0, 2.5, 6.5])
def test_two_samples_over_a_ceiling_are_two_periods_however_long_an_answer_takes(took_s: float) -> None:
    die = Sensor("chip/temp1", "die", SensorKind.TEMPERATURE, Guards.PROCESSOR)
    guard = Guard([die], [Ceiling(die.id, 85.0, 95.0)], period_s=1.0)
    said = guard.see(Sample(0.0, (99.0,), took_s))
    if not took_s:
        assert [one.alarm for one in said] == [Alarm.WARNING]
        assert guard.overdue(1.0, 1.0) == []
        said = guard.overdue(2.0, 2.0)
    assert [one.alarm for one in said] == [Alarm.TOO_HOT]
    assert guard.see(Sample(9.0, (99.0,), took_s)) == [], "said once"


def test_a_board_that_reads_nonsense_at_rest_is_no_guard() -> None:
    board = Sensor("boardchip/temp5", "board", SensorKind.TEMPERATURE, Guards.BOARD)
    guard = Guard([board], ceilings_for([board], ridge().purpose), period_s=1.0)
    assert [one.alarm for one in guard.see(Sample(0.0, (127.0,)))] == [Alarm.SENSOR]
    assert guard.see(Sample(1.0, (127.0,))) == []


class Mute(SensorTree):
    """Sensors that answer for a while, and then never again."""

    def __init__(self, tree: Path, how: str) -> None:
        super().__init__(tree)
        self._how, self._until_s = how, time.monotonic() + 2.0
        self.over = threading.Event()

    def read(self, at_s: float) -> tuple[float | None, ...]:
        if time.monotonic() > self._until_s:
            if self._how == "raises":
                raise RuntimeError("a driver went away")
            self.over.wait(60)
        return super().read(at_s)


@pytest.mark.parametrize("how", ["raises", "never returns"])
def test_a_guard_that_does_not_answer_is_blind_and_blind_stops(
    store: Store, rig: Rig, tmp_path: Path, how: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("tenaz.benches.here.LEAST_ANSWER_S", 2.0)
    # What the sampler's thread raises is ours on purpose.
    monkeypatch.setattr(threading, "excepthook", lambda _: None)
    write(tmp_path, "sys/class/hwmon/hwmon0/name", "k10temp\n")
    write(tmp_path, TEMPERATURE, "61000\n")
    mute = Mute(tmp_path, how)
    quick = replace(rig, sample_period_s=0.5)
    bench = here_bench(quick, Scripted(dict(ALL_WELL)), RealClock(), open_sensors=lambda _: mute)
    runner = TrialRunner(quick, bench, store, RealClock(), lambda _: None)
    plan = LoadPlan(LoadKind.TRANSFORM, duration_s=60.0, level=CacheLevel.L1)
    trial = runner.run(runner.begin(rig.stock, plan))
    mute.over.set()
    assert trial.outcome is Outcome.STOPPED, "and certainly not held"
    assert trial.elapsed_s < 10
    assert any("guard lost: no sensor was read for" in text for _, _, text in store.log.lines("ridge"))


@pytest.mark.parametrize("period_s", [0.0, -1.0, float("nan"), float("inf"), 1e9])
def test_sampling_that_would_guard_nothing_is_refused_before_anything_begins(
    store: Store, rig: Rig, period_s: float
) -> None:
    blind = replace(rig, sample_period_s=period_s)
    runner = TrialRunner(blind, here_bench(blind, Scripted({}), RealClock()), store, RealClock(), lambda _: None)
    with pytest.raises(Refused, match=r"give a period of 0\.2 to 60"):
        runner.begin(rig.stock, LoadPlan(LoadKind.TRANSFORM, 1.0))
    hot = replace(rig, purpose=replace(rig.purpose, processor_ceiling_c=(85.0, float("nan"))))
    with pytest.raises(Refused, match="the ceilings of its processor are 85 and nan"):
        here_bench(hot, Scripted({}), RealClock()).loading.check(LoadPlan(LoadKind.TRANSFORM, 1.0))
    assert store.trials.of("ridge") == ()


def test_nobody_hears_of_hardware_errors_any_more_stops_too() -> None:
    guard = Guard([Sensor("kernel/hardware", "kernel messages", SensorKind.HARDWARE_ERRORS)], [])
    assert guard.guards
    assert guard.see(Sample(0.0, (0.0,))) == []
    said = [one for at_s in range(1, 5) for one in guard.see(Sample(float(at_s), (None,)))]
    assert [(one.alarm, one.alarm.stops) for one in said] == [(Alarm.BLIND, True)]
