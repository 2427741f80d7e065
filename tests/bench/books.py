"""A book that has grown: 50,000 trials on 30 rigs with 10 million samples, beside one of 500 trials."""

import os
import random
import resource
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import TYPE_CHECKING

import psutil
from sqlalchemy import insert, select, update

from tenaz import orders as o
from tenaz.core.base.loop import Move, Station
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.searches.search import SearchPlan
from tenaz.core.sensors.telemetry import Sample, Sensor, SensorKind
from tenaz.core.sensors.trace import CHUNK_SAMPLES, pack
from tenaz.core.trials.facts import LoadFacts, SensorFact, StationFact, planned_fact
from tenaz.demo.ridge import ridge
from tenaz.engine.clock import RealClock
from tenaz.journal.base import tables as t
from tenaz.journal.opening.engines import sqlite_engine
from tenaz.journal.opening.opening import open_book
from tenaz.workshop.shop.shop import Workshop
from tests.bench.screen import Terminal

if TYPE_CHECKING:
    from tenaz.core.knobs.setpoint import Setpoint

LARGE, SMALL = (50_000, 30, 10_000_000), (500, 1, 100_000)
"""Trials, rigs, samples."""

KNOBS = ("data_rate_mts", "t_cl_nck", "t_rcd_nck", "t_rfc1_nck", "memory_vdd_mv")
TRIALS_A_SEARCH = 12
KEYS = 120
WALKED = (StationFact(Station.SET, Move.ENTERED, 20.0), StationFact(Station.BOOT, Move.CAME_UP, 90.0))
HOUR = LoadPlan(LoadKind.MARCH, duration_s=3600.0)


def make_book(place: Path, trials: int, rigs: int, samples: int) -> None:
    """Write it in bulk: what years at a bench would leave, climb after climb from bases that wander."""
    opened = open_book(place)
    clock, luck = RealClock(), random.Random(7)
    named = [replace(ridge(), name="ridge" if k == 0 else f"ridge-{k}", seed=k) for k in range(rigs)]
    for rig in named:
        opened.store.rigs.put(rig)
    each = trials // rigs
    count = 1 + each // TRIALS_A_SEARCH
    plans = {
        rig.name: [opened.store.searches.begin(plan, clock) for plan in _searches(rig, count, luck)] for rig in named
    }
    opened.close()
    engine = sqlite_engine(place)
    chunk = _chunk(luck)
    with engine.execution_options(writes=True).begin() as connection:
        # The first rig's are the newest, so that work begins there.
        for number, rig in enumerate(reversed(named)):
            rig_id = connection.execute(select(t.rigs.c.id).where(t.rigs.c.name == rig.name)).scalar_one()
            rows = [_trial_row(rig, plans[rig.name], rig_id, k, 1 + number * each + k) for k in range(each)]
            _fill(connection, rows, chunk, samples // trials, luck)
        connection.execute(update(t.searches).values(ended_utc=clock.utc(), ended_why="done"))
    engine.dispose()


def _searches(rig: Rig, count: int, luck: random.Random) -> Iterator[SearchPlan]:
    """Climbs from bases that wander; the newest along each knob are from stock, whatever the size of the book: they are
    what is on the screen.
    """
    for number in range(count):
        newest = number - (count - len(KNOBS))
        base = rig.stock.replacing("memory_vddq_mv", rig.stock.number("memory_vddq_mv") + 10 * luck.randrange(1, 20))
        base, knob = (rig.stock, KNOBS[newest]) if newest >= 0 else (base, luck.choice(KNOBS))
        yield SearchPlan(0, rig.name, BenchKind.SIM, (knob,), base, HOUR)


def _trial_row(rig: Rig, plans: list[SearchPlan], rig_id: int, k: int, row: int) -> dict[str, object]:
    plan = plans[k // TRIALS_A_SEARCH]
    knob = rig.knob(plan.knob)
    value = knob.harder_by(plan.base.number(knob.name), k % TRIALS_A_SEARCH)
    setpoint: Setpoint = plan.base if value is None else plan.base.replacing(knob.name, value)
    return {
        "id": row, "rig_id": rig_id, "number": k + 1, "search_id": plan.id, "bench": "sim", "setpoint": setpoint,
        "in_force": None, "sources": None, "stations": WALKED, "fitted": "", "load": HOUR,
        "station": Station.CLOSED.value,
        "begun_utc": datetime(2020, 1, 1, tzinfo=UTC) + timedelta(minutes=row), "boot_id": "boot", "reason": "",
        "note": "",
    }  # fmt: skip


def _chunk(luck: random.Random) -> tuple[list[list[str]], int, bytes]:
    sensor = Sensor("sim/temp1", "processor", SensorKind.TEMPERATURE)
    packed = pack([sensor], [Sample(float(k), (50 + luck.random(),)) for k in range(CHUNK_SAMPLES)])
    return [[sensor.id, sensor.label, sensor.kind.value]], CHUNK_SAMPLES, packed.packed


def _fill(  # type: ignore[no-untyped-def] # a connection of SQLAlchemy
    connection,
    rows: list[dict[str, object]],
    chunk: tuple[list[list[str]], int, bytes],
    samples: int,
    luck: random.Random,
) -> None:
    connection.execute(insert(t.trials), rows)
    now = datetime(2020, 1, 1, tzinfo=UTC)
    facts = LoadFacts(
        (planned_fact(HOUR, 3600.0, 12),), (SensorFact("sim/temp1", "p", SensorKind.TEMPERATURE, 60, 55),)
    )
    ids = [(row["id"], row["rig_id"]) for row in rows]
    walk = (
        (Station.SET, Move.ENTERED, 20.0),
        (Station.BOOT, Move.CAME_UP, 90.0),
        (Station.CONFIRM, Move.CONFIRMED, 1.0),
    )
    moves = [
        {
            "trial_id": trial_id, "station": at.value, "move": move.value, "detail": "", "monotonic_s": 0.0,
            "at_utc": now,
        }
        for trial_id, _ in ids
        for at, move, _ in walk
    ]  # fmt: skip
    connection.execute(insert(t.moves), moves)
    records = [
        {
            "trial_id": trial_id, "outcome": (Outcome.HELD if luck.random() < 0.8 else Outcome.ERRED).value,
            "seen_by": "Tenaz", "elapsed_s": 3600.0, "failed_after_s": None, "errors": 0, "detail": "", "facts": facts,
            "at_utc": now,
        }
        for trial_id, _ in ids
    ]  # fmt: skip
    connection.execute(insert(t.records), records)
    connection.execute(insert(t.changes), [{"rig_id": rig_id, "trial_id": trial_id} for trial_id, rig_id in ids])
    lines = [
        {"rig_id": rig_id, "trial_id": trial_id, "source": "loop", "text": f"line {k}", "at_utc": now}
        for trial_id, rig_id in ids
        for k in range(6)
    ]
    connection.execute(insert(t.log), lines)
    sensors, count, packed = chunk
    traces = [
        {"trial_id": trial_id, "sensors": sensors, "samples": count, "packed": packed}
        for trial_id, _ in ids
        for _ in range(max(1, samples // count))
    ]
    connection.execute(insert(t.traces), traces)


def starts(book: Path) -> float:
    """Seconds until everything from the book stands, on a book that was left in order."""
    took = []
    left = Terminal(sys.executable, "-m", "tenaz", "--book", str(book))
    left.until(b"baseline at stock")
    time.sleep(1.0)
    left.send(b"q")
    time.sleep(2.0)
    left.end()
    for _ in range(5):
        terminal = Terminal(sys.executable, "-m", "tenaz", "--book", str(book))
        took.append(terminal.until(b"baseline at stock"))
        terminal.end()
    return statistics.median(took)


def keys_and_records(book: Path) -> tuple[float, float, float]:
    """A key to its picture (95th percentile, ms), a trial from its key to its record on the screen (median, ms), and
    the interface's memory in MB.
    """
    terminal = Terminal(sys.executable, "-m", "tenaz", "--book", str(book))
    terminal.until(b"baseline at stock")
    time.sleep(1.5)
    terminal.send(b"\t")
    terminal.until(b"chance of the edge")
    time.sleep(1.5)
    took, records = [], []
    for number in range(KEYS):
        terminal.drain()
        asked = time.perf_counter()
        terminal.send((b"\x1b[C", b"\x1b[D")[number % 2])
        terminal.until(b"MT/s")
        took.append(1000 * (time.perf_counter() - asked))
    for _ in range(3):
        terminal.send(b"ep")
        time.sleep(0.3)
    terminal.send(b"dk")
    time.sleep(0.3)
    for _ in range(7):
        terminal.drain(0.3)
        asked = time.perf_counter()
        terminal.send(b"t")
        # Lines of the log move: only the head tells that this one has ended.
        terminal.until(b"nothing runs")
        records.append(1000 * (time.perf_counter() - asked))
        time.sleep(0.3)
    memory = psutil.Process(terminal.pid).memory_info().rss / 1e6
    terminal.end()
    took.sort()
    return took[int(0.95 * len(took))], statistics.median(records), memory


def streamed(book: Path) -> tuple[float, float]:
    """``book --json``: seconds, and the most memory that it took, in MB."""
    before = time.perf_counter()
    code = (
        "import resource, sys; sys.argv = ['tenaz', '--book', sys.argv[1], 'book', '--json']\n"
        "from tenaz.__main__ import main\n"
        "try: main()\nexcept SystemExit: pass\n"
        "sys.stderr.write(str(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss))"
    )
    done = subprocess.run(
        [sys.executable, "-c", code, str(book)], stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, check=True
    )
    return time.perf_counter() - before, int(done.stderr.split()[-1]) / 1024


def a_climbs_trial(book: Path) -> float:
    """One trial of a climb on a simulated rig, as fast as can be, in ms: the book, the standing, the picture."""
    workshop = Workshop()
    workshop.open(book)
    workshop.do(o.ChooseRig("ridge"))
    workshop.view()
    base = workshop.rig.stock.replacing("memory_vddq_mv", 1090)
    workshop.do(o.BeginSearch(("data_rate_mts",), base, HOUR, strategy="stride"))
    took = []
    for _ in range(7):
        if workshop.view().searches.going is None:
            break
        before = time.perf_counter()
        workshop.do(o.GoOn(o.Steps(one=True)))
        workshop.running.wait()
        workshop.view()
        took.append(1000 * (time.perf_counter() - before))
    workshop.close()
    return statistics.median(took)


def report() -> None:
    """Print what a grown book costs against a small one."""
    with tempfile.TemporaryDirectory(dir=os.environ.get("TENAZ_BENCH_DIR")) as name:
        books = {}
        for label, size in (("small", SMALL), ("large", LARGE)):
            books[label] = Path(name) / f"{label}.db"
            make_book(books[label], *size)
        size_mb = books["large"].stat().st_size / 1e6
        print(f"a book of {LARGE[0]} trials, {LARGE[1]} rigs, {LARGE[2]} samples ({size_mb:.0f} MB); one of {SMALL[0]}")
        small, large = keys_and_records(books["small"]), keys_and_records(books["large"])
        _tell("a key to its picture, 95 % within", "ms", small[0], large[0], "≤ 50 ms and ≤ 1.5 ×")
        _tell("a trial from its key to its record", "ms", small[1], large[1], "≤ 1.5 ×")
        _tell("memory of the interface", "MB", small[2], large[2], "< 200 MB")
        _tell("everything from the book shown", "s", starts(books["small"]), starts(books["large"]), "≤ 1.0 s")
        trial: Callable[[Path], float] = a_climbs_trial
        _tell("a climb's trial", "ms", trial(books["small"]), trial(books["large"]), "≤ 1.5 ×")
        seconds, most_mb = streamed(books["large"])
        print(f"  book --json: {seconds:.1f} s (≤ 6), at most {most_mb:.0f} MB (≤ 150)")


def _tell(what: str, unit: str, small: float, large: float, bar: str) -> None:
    digits = 2 if unit == "s" else 0
    print(f"  {what}: {small:.{digits}f} → {large:.{digits}f} {unit}, {large / small:.2f} × ({bar})")


if __name__ == "__main__":
    resource.setrlimit(resource.RLIMIT_NOFILE, (4096, 4096))
    report()
