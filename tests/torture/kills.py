"""Killed at any moment: what was acknowledged is there, what was being made is there whole or not at all."""

import os
import random
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

import psutil
from alembic import command

from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.rigs.rig import BenchKind
from tenaz.demo.ridge import ridge
from tenaz.engine.clock import RealClock
from tenaz.journal.opening.engines import sqlite_engine
from tenaz.journal.opening.migrating import alembic_config
from tenaz.journal.opening.opening import open_book
from tests.patience import PATIENCE_S
from tests.torture.tally import Tally

ROOT = Path(__file__).parents[2]

WRITING = """
import sys
from tenaz.demo.ridge import ridge
from tenaz.engine.clock import RealClock
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.rigs.rig import BenchKind
from tenaz.journal.opening.opening import open_book
print("begun", flush=True)
opened = open_book(sys.argv[1])
opened.store.rigs.put(ridge())
rig, clock = ridge(), RealClock()
while True:
    trial = opened.store.trials.begin(rig, BenchKind.SIM, rig.stock, LoadPlan(LoadKind.MARCH, 60.0), clock)
    print(trial.number, flush=True)
"""

EXPORTING = """
import sys
from pathlib import Path
from tenaz.catalogues.writing import write_whole
print("begun", flush=True)
while True:
    for sign in "ab":
        write_whole(Path(sys.argv[1]), sign * 3_000_000)
"""

LOADING = """
import sys
from tenaz.__main__ import main
sys.argv = ["tenaz", "--book", sys.argv[1], "load", "march", "--size", "64MiB", "--for", "600s"]
print("begun", flush=True)
main()
"""


def _killed(script: str, place: Path, wait: Callable[[subprocess.Popen[str]], None]) -> str:
    """Run a script on a place and kill it; gives all that it had said."""
    process = subprocess.Popen(
        [sys.executable, "-uc", script, str(place)],
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
        text=True,
        cwd=ROOT,
    )
    assert process.stdout is not None
    process.stdout.readline()
    wait(process)
    process.kill()
    rest = process.stdout.read()
    process.wait()
    return rest


def _opens(place: Path, least: int) -> str:
    """Whether the book opens for writing and has at least so many trials, with nothing left over beside it."""
    opened = open_book(place)
    try:
        names = [rig.name for rig in opened.store.rigs.all()]
        trials = opened.store.trials.of("ridge") if "ridge" in names else ()
        if opened.store.read_only:
            return f"only to be read: {opened.store.read_only}"
        if opened.store.unread:
            return f"rows cannot be read: {opened.store.unread}"
        if [trial.number for trial in trials] != list(range(1, len(trials) + 1)) or len(trials) < least:
            return f"{len(trials)} trials are there, {least} were acknowledged"
    finally:
        opened.close()
    return ""


def _writing(folder: Path, luck: random.Random) -> str:
    place, moment = folder / "book.db", luck.uniform(0.0, 0.6)
    said = _killed(WRITING, place, lambda _: time.sleep(moment))
    numbers = [int(line) for line in said.split() if line.isdigit()]
    return _opens(place, max(numbers, default=0))


def _creating(folder: Path, luck: random.Random) -> str:
    place, moment = folder / "book.db", luck.uniform(0.0, 0.25)
    _killed(WRITING, place, lambda _: time.sleep(moment))
    return _opens(place, 0)


def _migrating(folder: Path, luck: random.Random) -> str:
    """An older book, killed while it is brought up to date."""
    place, moment = folder / "book.db", luck.uniform(0.0, 0.3)
    place.write_bytes(older_book())
    _killed(WRITING, place, lambda _: time.sleep(moment))
    return _opens(place, OLDER_TRIALS)


def _exporting(folder: Path, luck: random.Random) -> str:
    place, moment = folder / "out.svg", luck.uniform(0.0, 0.3)
    _killed(EXPORTING, place, lambda _: time.sleep(moment))
    if not place.exists():
        return ""
    content = place.read_text()
    return "" if len(content) == 3_000_000 and len(set(content)) == 1 else f"{len(content)} letters, half written"


def _loading(folder: Path, luck: random.Random) -> str:
    """A load on this machine: no worker outlives it, and the trial is in the book."""
    place, workers = folder / "book.db", list[psutil.Process]()

    def wait(process: subprocess.Popen[str]) -> None:
        deadline = time.monotonic() + PATIENCE_S
        while not workers and time.monotonic() < deadline:
            with suppress(psutil.Error):
                workers[:] = psutil.Process(process.pid).children(recursive=True)
            time.sleep(0.02)
        time.sleep(luck.uniform(0.0, 2.0))

    _killed(LOADING, place, wait)
    _, alive = psutil.wait_procs(workers, timeout=PATIENCE_S)
    for worker in alive:
        worker.kill()
    opened = open_book(place)
    unfinished = opened.store.trials.unfinished()
    opened.close()
    return f"{len(alive)} workers were left" if alive else "" if unfinished else "the trial is not in the book"


OLDER_TRIALS = 7
_OLDER: list[bytes] = []


def older_book() -> bytes:
    """A book of the format before this one, with some trials in it."""
    if not _OLDER:
        with tempfile.TemporaryDirectory() as name:
            place = Path(name) / "older.db"
            opened = open_book(place)
            rig = ridge()
            opened.store.rigs.put(rig)
            for _ in range(OLDER_TRIALS):
                opened.store.trials.begin(
                    ridge(), BenchKind.SIM, ridge().stock, LoadPlan(LoadKind.MARCH, 60.0), RealClock()
                )
            opened.close()
            engine, config = sqlite_engine(place), alembic_config()
            with engine.begin() as connection:
                config.attributes["connection"] = connection
                command.downgrade(config, "0005")
            engine.dispose()
            _OLDER.append(place.read_bytes())
    return _OLDER[0]


MOMENTS = {
    "while writing": (_writing, 5),
    "while a book is made": (_creating, 2),
    "while it is brought up to date": (_migrating, 2),
    "while a file is written": (_exporting, 2),
    "while a load runs": (_loading, 1),
}
"""What is cut short, and how often among the others."""


def kills(count: int, seed: int) -> Tally:
    """So many kills at random moments."""
    tally, luck = Tally("kills"), random.Random(f"kills:{seed}")
    kinds = [name for name, (_, often) in MOMENTS.items() for _ in range(often)]
    for number in range(count):
        kind = kinds[number % len(kinds)]
        with tempfile.TemporaryDirectory() as name:
            tally.attempt(f"kill {number} {kind}", lambda kind=kind, name=name: MOMENTS[kind][0](Path(name), luck))  # type: ignore[misc]
            with suppress(ChildProcessError):
                os.waitpid(-1, os.WNOHANG)
    signal.signal(signal.SIGCHLD, signal.SIG_DFL)
    return tally
