"""Workers that hang, are stopped, starved, moved, and whose checks go blind: none of it is ever told as held."""

import os
import random
import re
import signal
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path
from unittest.mock import patch

import psutil

from tenaz.benches.here import surroundings
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.plan import LoadKind, LoadPlan, LoadProgress, LoadReport
from tenaz.loads.run import LoadRun
from tests.doors.flip import flip_bit
from tests.patience import PATIENCE_S
from tests.torture.tally import Tally

BLOCK_BYTES = 32 * 2**20
SOON_S = 3.0
"""Silence that counts as a hang, in place of half a minute."""

HANGING = """
import time
from tenaz.loads.work_clock import WorkClock
look, begin, began = WorkClock.look, WorkClock.begin, []
def hanging(clock):
    look(clock)
    while began and time.monotonic() > began[0] + {after_s}:
        {by}
def beginning(clock):
    began.append(time.monotonic())
    begin(clock)
WorkClock.look, WorkClock.begin = hanging, beginning
"""
"""Code that a worker finds on its path: so long after it was let go, it hangs in its own account of the time."""

BUSY = "import sys, time; t = time.monotonic()\nwhile time.monotonic() < t + float(sys.argv[1]): pass"

PLANS = {
    **{kind: LoadPlan(kind, size_bytes=BLOCK_BYTES) for kind in (LoadKind.MARCH, LoadKind.CHECKER, LoadKind.PERMUTE)},
    **{kind: LoadPlan(kind, size_bytes=BLOCK_BYTES) for kind in (LoadKind.COPY, LoadKind.DISTURB)},
    LoadKind.RETAIN: LoadPlan(LoadKind.RETAIN, size_bytes=BLOCK_BYTES, wait_s=0.2),
    **{kind: LoadPlan(kind) for kind in (LoadKind.TRANSFORM, LoadKind.SOLVE, LoadKind.DIGEST, LoadKind.PULSE)},
    LoadKind.SOLO: LoadPlan(LoadKind.SOLO),
}
"""All loads that have checks of their own; a program of the technician's is judged by what it writes."""

COMPILED = tuple(kind for kind in PLANS if kind not in (LoadKind.SOLVE, LoadKind.DIGEST))
"""Loads whose checks are machine code of our own."""


@contextmanager
def hanging_workers(after_s: float, by: str) -> Iterator[None]:
    """Workers that hang so long after they were let go, ``by`` what they do then."""
    with tempfile.TemporaryDirectory() as name:
        Path(name, "sitecustomize.py").write_text(HANGING.format(after_s=after_s, by=by))
        with patch.dict(os.environ, PYTHONPATH=name):
            yield


def run_and(run: LoadRun, act: Callable[[LoadRun], None], begun_s: float = 0.3) -> LoadReport:
    """Run a load; once it has worked for so long, do something to it from another thread."""

    def later() -> None:
        deadline = time.monotonic() + PATIENCE_S
        while run.progress().elapsed_s <= begun_s and time.monotonic() < deadline:
            time.sleep(0.02)
        act(run)

    acting = threading.Thread(target=later, daemon=True)
    acting.start()
    report = run.run()
    acting.join(PATIENCE_S)
    return report


def _hang(kind: LoadKind, by: str, seconds: float, after_s: float, slow_parent: bool) -> str:
    """A hang must be found, in whatever moment of a load, and however often the parent stands still."""
    stood = [time.monotonic()]

    def progress(_: LoadProgress) -> None:
        if slow_parent and time.monotonic() > stood[0] + 1.0:
            time.sleep(1.6)
            stood[0] = time.monotonic()

    with hanging_workers(after_s, by):
        report = LoadRun(replace(PLANS[kind], duration_s=seconds), surroundings(), progress).run()
    return "" if report.outcome is Outcome.ERRED else f"{report.outcome}: {report.detail}"


def _stop_and_go(run: LoadRun, stopped_s: float, gone_s: float, seconds: float) -> None:
    until = time.monotonic() + seconds
    workers = [psutil.Process(pid) for pid in run.pids]
    while time.monotonic() < until and all(worker.is_running() for worker in workers):
        for number, pause_s in ((signal.SIGSTOP, stopped_s), (signal.SIGCONT, gone_s)):
            for worker in workers:
                try:
                    worker.send_signal(number)
                except psutil.Error:
                    return
            time.sleep(pause_s)


def _stopped_workers(kind: LoadKind) -> str:
    """Stopped for nine tenths of the time: never held for time in which they did not work."""
    run = LoadRun(replace(PLANS[kind], duration_s=4.0), surroundings())
    report = run_and(run, lambda run: _stop_and_go(run, 0.9, 0.1, 60.0))
    if report.outcome not in (Outcome.STARVED, Outcome.STOPPED):
        return f"{report.outcome}: {report.detail}"
    return "" if report.elapsed_s < 3.0 else f"{report.elapsed_s:.1f} s were paid"


def _starved(_luck: random.Random, kind: LoadKind) -> str:
    """Other programs have most of the cores."""
    cores, busy = surroundings().cores, list[subprocess.Popen[bytes]]()
    try:
        for core in cores:
            for _ in range(3):
                busy.append(subprocess.Popen(["taskset", "-c", str(core), sys.executable, "-c", BUSY, "120"]))
        report = LoadRun(replace(PLANS[kind], duration_s=5.0), surroundings()).run()
    finally:
        for one in busy:
            one.kill()
            one.wait()
    if report.outcome not in (Outcome.STARVED, Outcome.STOPPED):
        return f"{report.outcome}: {report.detail}"
    return "" if report.elapsed_s < 4.0 else f"{report.elapsed_s:.1f} s were paid"


def _moved(kind: LoadKind) -> str:
    """Both workers on one core: that is where they ran."""
    around = surroundings()
    if len(around.cores) < 2:
        return ""

    def move(run: LoadRun) -> None:
        for pid in run.pids:
            os.sched_setaffinity(pid, around.cores[:1])

    run = LoadRun(replace(PLANS[kind], duration_s=5.0), around)
    report = run_and(run, move, begun_s=0.0)
    cores = report.loads[0].cores
    return "" if cores == around.cores[:1] else f"told as run on cores {cores}"


ATTACKS: tuple[tuple[str, Callable[[random.Random, LoadKind], str]], ...] = (
    ("hung, spinning", lambda luck, kind: _hang(kind, "pass", 60.0, luck.uniform(0.2, 2.0), False)),
    ("hung, asleep", lambda luck, kind: _hang(kind, "time.sleep(1)", 60.0, luck.uniform(0.2, 2.0), False)),
    ("hung before the end", lambda luck, kind: _hang(kind, "pass", 2.5, luck.uniform(1.0, 2.3), False)),
    ("hung while the parent stands still", lambda luck, kind: _hang(kind, "pass", 60.0, luck.uniform(0.2, 2.0), True)),
    ("stopped for nine tenths", lambda luck, kind: _stopped_workers(kind)),
    ("starved", _starved),
    ("moved to one core", lambda luck, kind: _moved(kind)),
)


def workers(count: int, seed: int) -> Tally:
    """So many workers that do not work."""
    tally, luck = Tally("workers that do not work"), random.Random(f"workers:{seed}")
    kinds = list(PLANS)
    with patch("tenaz.loads.workers.SILENCE_S", SOON_S), patch("tenaz.loads.run.SILENCE_S", SOON_S):
        for number in range(count):
            name, attack = ATTACKS[number % len(ATTACKS)]
            kind = kinds[(number // len(ATTACKS) * 5 + number) % len(kinds)]
            if kind is LoadKind.RETAIN and attack is _starved:
                # It mostly waits, and gets what little it needs of its core.
                kind = LoadKind.MARCH
            tally.attempt(f"{kind} {name}", lambda attack=attack, kind=kind: attack(luck, kind))  # type: ignore[misc]
    return tally


def _code_of(pid: int) -> list[tuple[int, bytes]]:
    """Where machine code lies that belongs to no file, and what it is."""
    found = []
    maps = Path(f"/proc/{pid}/maps").read_text()
    for first, last in re.findall(r"^([0-9a-f]+)-([0-9a-f]+) r-xp \S+ \S+ 0 *$", maps, re.MULTILINE):
        start, end = int(first, 16), int(last, 16)
        with Path(f"/proc/{pid}/mem").open("rb", buffering=0) as memory:
            memory.seek(start)
            found.append((start, memory.read(end - start)))
    return found


def _blinded(luck: random.Random, kind: LoadKind) -> str:
    """One bit of the machine code of a worker: the load does not go on for half a minute as if nothing were."""
    run = LoadRun(replace(PLANS[kind], duration_s=120.0, workers=1), surroundings())

    def flip(run: LoadRun) -> None:
        code = [start + at for start, held in _code_of(run.pids[0]) for at, byte in enumerate(held) if byte]
        flip_bit(run.pids[0], luck.choice(code), luck.randrange(8))

    begun: list[float] = []

    def act(run: LoadRun) -> None:
        flip(run)
        begun.append(time.monotonic())
        while time.monotonic() < begun[0] + 30.0 and psutil.pid_exists(run.pids[0]):
            time.sleep(0.1)
        run.stop()

    report = run_and(run, act)
    took_s = time.monotonic() - begun[0]
    harmless = report.outcome is Outcome.STOPPED and took_s >= 30.0
    return (
        f"{report.outcome} after {took_s:.0f} s: {report.detail}" if harmless or report.outcome is Outcome.HELD else ""
    )


def blinded(count: int, seed: int) -> Tally:
    """So many flips in the code that checks."""
    tally, luck = Tally("flips in what checks"), random.Random(f"blinded:{seed}")
    for number in range(count):
        kind = COMPILED[number % len(COMPILED)]
        tally.attempt(f"{kind} {number}", lambda kind=kind: _blinded(luck, kind))  # type: ignore[misc]
    return tally
