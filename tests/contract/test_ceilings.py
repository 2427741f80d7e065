"""Ceilings stop a trial within two samples, on the simulated rig and on this machine with a fake sensor tree."""

import threading
from pathlib import Path

import pytest

from tenaz.benches.here import HereBench
from tenaz.benches.simulated.bench import SimulatedBench
from tenaz.core.loading import CacheLevel, LoadKind, LoadPlan
from tenaz.core.outcomes import Outcome
from tenaz.core.rigs import Rig
from tenaz.core.trace import unpack
from tenaz.core.trials import Trial
from tenaz.engine.clock import RealClock
from tenaz.engine.runner import TrialRunner
from tenaz.journal.store import Store
from tenaz.probe.sensors import SensorTree
from tests.contract.test_benches import ALL_WELL, Scripted
from tests.unit.probe.test_here import write

TEMPERATURE = "sys/class/hwmon/hwmon0/temp1_input"
ERRORS = "sys/devices/system/edac/mc/mc0/ce_count"


def test_a_dusty_cooler_stops_the_simulated_rig(store: Store, rig: Rig) -> None:
    runner = TrialRunner(rig, SimulatedBench(rig, dust=2.2), store, RealClock(), lambda _: None)
    trial = runner.run(runner.begin(rig.stock, LoadPlan(LoadKind.TRANSFORM, duration_s=7200.0)))
    assert trial.outcome is Outcome.TOO_HOT
    assert trial.failed_after_s is not None
    samples = [sample for chunk in store.traces_of(trial.id) for sample in unpack(chunk)]
    hot = [sample for sample in samples if (sample.values[0] or 0) >= rig.purpose.processor_ceiling_c[1]]
    assert len(hot) == 2, "two samples over the ceiling, and it stopped"
    assert hot[1].at_s == pytest.approx(trial.failed_after_s, abs=0.01)
    said = [text for _, source, text in store.log_lines("ridge") if source == "sensors"]
    assert said[0].startswith("warning: processor")
    assert said[1].startswith("too hot: processor")


def run_here(store: Store, rig: Rig, tree: Path, change: str, content: str | None) -> Trial:
    """A load on this machine; after some samples a file of the fake tree changes (None: it is emptied)."""
    write(tree, "sys/class/hwmon/hwmon0/name", "k10temp\n")
    write(tree, TEMPERATURE, "61000\n")
    write(tree, ERRORS, "7\n")
    bench = HereBench(rig, Scripted(dict(ALL_WELL)), open_sensors=lambda chosen: SensorTree(tree, chosen))
    runner = TrialRunner(rig, bench, store, RealClock(), lambda _: None)
    later = threading.Timer(3.0, lambda: (tree / change).write_text(content or ""))
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
    assert any(words in text for _, _, text in store.log_lines("ridge"))
    samples = [sample for chunk in store.traces_of(trial.id) for sample in unpack(chunk)]
    assert samples[0].values[0] == pytest.approx(61.0)
