"""What watching costs: 64 sensors a second with the book, and scrolling through a day of them."""

import random
import statistics
import tempfile
import time
from pathlib import Path

from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.rigs.rig import OWN, BenchKind
from tenaz.core.sensors.telemetry import Sample, Sensor, SensorKind
from tenaz.core.sensors.trace import CHUNK_SAMPLES, pack
from tenaz.demo.ridge import ridge
from tenaz.engine.clock import RealClock
from tenaz.engine.watch import Watch
from tenaz.journal.opening.opening import open_book
from tenaz.pictures.load.build import KnownOfLoad
from tenaz.pictures.load.cells import draw_load
from tenaz.pictures.load.curves import kept_series
from tenaz.probe.sensors import SensorTree
from tenaz.tui.base.load_view import LoadView

SENSORS = 64
SAMPLES = 600
DAY_S = 86_400


class _NoBench:
    """Nothing to stop."""

    def stop(self) -> None:
        """Nothing runs."""


def report() -> None:
    """Print both."""
    with tempfile.TemporaryDirectory() as folder:
        opened = open_book(Path(folder) / "book.db")
        rig, clock = ridge(), RealClock()
        opened.store.rigs.put(rig)
        plan = LoadPlan(LoadKind.MARCH, DAY_S)
        trial = opened.store.trials.begin(rig, BenchKind.HAND, rig.stock, plan, clock)
        tree = SensorTree(_fake_tree(Path(folder) / "tree"))
        watch = Watch(trial, OWN, _NoBench(), opened.store, clock, lambda _: None)  # type: ignore[arg-type]
        watch.sensors(tree.sensors)
        cpu = time.process_time()
        for k in range(SAMPLES):
            watch.sample(Sample(float(k), tree.read(float(k))))
        cpu = (time.process_time() - cpu) / SAMPLES
        print(f"watching {len(tree.sensors)} sensors each second, with the book: {100 * cpu:.2f} % of one core")
        opened.close()
    luck = random.Random(1)
    sensors = tuple(Sensor(f"s/temp{k}", f"sensor {k}", SensorKind.TEMPERATURE) for k in range(SENSORS))
    level = [50.0] * SENSORS
    chunks = []
    for part in range(DAY_S // CHUNK_SAMPLES):
        samples = []
        for k in range(CHUNK_SAMPLES):
            level = [value + luck.gauss(0, 0.3) * 0.5 - (value - 60) * 0.01 for value in level]
            samples.append(Sample(float(part * CHUNK_SAMPLES + k), tuple(level)))
        chunks.append(pack(sensors, samples))
    packed = sum(len(chunk.packed) for chunk in chunks)
    started = time.perf_counter()
    series = kept_series(chunks)
    opening = time.perf_counter() - started
    view = LoadView(OWN)
    view.take_kept(trial, KnownOfLoad(dict(series)))
    view.take_sample(trial.id, (), Sample(float(DAY_S), ()))
    took = []
    for step in range(120):
        started = time.perf_counter()
        view.zoom(0.5) if step % 40 == 39 else view.move(-1)
        draw_load(view.picture(trial), 82, 30).rows()
        took.append(1000 * (time.perf_counter() - started))
    took.sort()
    print(f"a day of {SENSORS} sensors: {packed / 1e6:.1f} MB in the book, opened in {opening:.2f} s;")
    print(f"  a key on its page: median {statistics.median(took):.1f} ms, 95 % within {took[114]:.1f} ms")


def _fake_tree(root: Path) -> Path:
    for k in range(SENSORS):
        chip = root / f"sys/class/hwmon/hwmon{k:02}"
        chip.mkdir(parents=True)
        (chip / "name").write_text(f"chip{k}\n")
        (chip / "temp1_input").write_text(f"{45000 + 100 * k}\n")
    return root
