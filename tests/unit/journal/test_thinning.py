"""Old telemetry is thinned; what it showed at its worst, and every record, stays."""

from datetime import UTC, datetime, timedelta

from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.sensors.telemetry import Sample, Sensor, SensorKind
from tenaz.core.sensors.trace import pack
from tenaz.journal.keeping.thinning import thin
from tenaz.journal.store import Store
from tests.make import HOUR, SteppedClock


def test_the_hottest_second_stays_and_a_second_time_changes_nothing(
    store: Store, rig: Rig, clock: SteppedClock
) -> None:
    trial = store.trials.begin(rig, BenchKind.SIM, rig.stock, HOUR, clock)
    sensors = (Sensor("a", "core", SensorKind.TEMPERATURE), Sensor("b", "fan", SensorKind.FAN))
    samples = [Sample(float(at), (40.0 + (30.0 if at == 133 else at % 3), 900.0)) for at in range(600)]
    store.load.trace(trial.id, pack(sensors, samples))
    assert thin(store, trial.begun_utc).chunks == 0, "it is not older than itself"
    done = thin(store, trial.begun_utc + timedelta(days=1))
    assert (done.chunks, done.samples) == (1, 600)
    assert done.kept < 60
    assert done.size_kept < done.size
    left = store.load.samples_of(trial.id)
    assert max(left, key=lambda one: one.values[0] or 0.0) == samples[133]
    assert left[-1] == samples[-1]
    assert thin(store, datetime.now(UTC) + timedelta(days=1)).kept == done.kept
