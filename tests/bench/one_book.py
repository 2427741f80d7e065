"""One book, many writers: ``python -m tests.bench.one_book``.

Eight programs, each as if on a machine of its own, make trials at one server's book. They are killed at random, and so
is the server. Then what each had been told was written is looked for. And what a climb costs beside a file's.
"""

import argparse
import json
import os
import random
import signal
import subprocess
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import psycopg

from tenaz import orders as o
from tenaz.core.base.loop import Move, Station
from tenaz.core.base.outcomes import Outcome
from tenaz.core.ports.bench import StationReport
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.trials.trial import Heartbeat
from tenaz.demo.ridge import ridge
from tenaz.engine.clock import RealClock
from tenaz.journal.opening.addresses import server_address
from tenaz.journal.opening.opening import open_book
from tenaz.journal.opening.server import open_on_server
from tenaz.orders.nights import order_for_night
from tenaz.orders.order import Order
from tenaz.workshop.shop.shop import Workshop
from tests.doors.server import Server, server
from tests.make import HOUR

SLOW_MS = 20
"""What a commit of a slow server costs."""


def write(url: str, name: str, trials: int, told: Path) -> None:
    """Make trials until there are so many; what was written is told to a file, a line each."""
    opened = open_book(url)
    clock, store = RealClock(), opened.store
    rig = replace(ridge(), name=name)
    if name not in store.rigs.names():
        store.rigs.put(rig)
    opened.hold(name)
    for left in store.trials.unfinished():
        if left.rig != name:
            continue
        judged = left if left.station is Station.JUDGE else store.trials.move(left, StationReport(Move.STOP), clock)
        store.trials.record(judged, Outcome.LOST, "bench", clock)
    with told.open("a") as out:
        while store.trials.count(name) < trials:
            trial = store.trials.begin(rig, BenchKind.HAND, rig.stock, HOUR, clock)
            out.write(trial.uid + "\n")
            out.flush()
            store.load.heartbeat(trial.id, Heartbeat(1.0, "boot", clock.utc()))
            trial = store.trials.move(trial, StationReport(Move.STOP, "done"), clock)
            store.trials.record(trial, Outcome.HELD, "bench", clock, elapsed_s=1.0)
            store.log.write(name, trial.id, "bench", f"line of {trial.uid}", clock)
            time.sleep(0.02)
    opened.close()


def writers(running: Server, many: int, trials: int, dice: random.Random) -> str:
    """Several at once, killed now and then, and the server with them."""
    url, folder = running.fresh(), Path(tempfile.mkdtemp(prefix="one-book-"))
    open_on_server(server_address(url)).close()
    names = [f"bench {k}" for k in range(many)]
    begun, kills, restarts = time.monotonic(), 0, 0

    def start(name: str) -> "subprocess.Popen[bytes]":
        place = {**os.environ, "XDG_DATA_HOME": str(folder / name)}
        command = [
            sys.executable,
            "-m",
            "tests.bench.one_book",
            "--write",
            url,
            name,
            str(trials),
            str(folder / f"{name}.told"),
        ]
        return subprocess.Popen(command, env=place, stderr=subprocess.DEVNULL)

    going = {name: start(name) for name in names}
    while going:
        time.sleep(dice.uniform(0.5, 2.5))
        for name, process in list(going.items()):
            if process.poll() is not None:
                del going[name]
                if process.returncode:
                    going[name] = start(name)
        if going and dice.random() < 0.5:
            name = dice.choice(list(going))
            going[name].send_signal(signal.SIGKILL)
            going[name].wait()
            going[name], kills = start(name), kills + 1
        if dice.random() < 0.12:
            running.stop()
            time.sleep(dice.uniform(0.2, 3.0))
            running.start()
            restarts += 1
    # Whoever ended while the server was away tells it the next time.
    for name in names:
        start(name).wait()
    home = open_on_server(server_address(url))
    lost = twice = 0
    lines: Counter[str] = Counter()
    for name in names:
        found = Counter(trial.uid for trial in home.trials.of(name))
        said = set((folder / f"{name}.told").read_text().split())
        lost += len(said - set(found))
        twice += sum(count - 1 for count in found.values())
        lines.update(text for _, source, text in home.log.lines(name, 100_000) if source == "bench")
    twice_told = sum(count - 1 for count in lines.values())
    deadlocks = running.log().count("deadlock detected")
    home.close()
    return (
        f"{many} writers × {trials} trials, {kills} kills, {restarts} restarts of the server: {lost} lost, "
        f"{twice} twice, {twice_told} lines twice, {deadlocks} deadlocks; {time.monotonic() - begun:.0f} s"
    )


def run_s(place: str, order: Callable[[Workshop], Order[Any]]) -> float:
    """How long a run takes on a fresh book, at once."""
    bench = Workshop()
    bench.open(place)
    bench.do(o.ChooseRig("ridge"))
    began = time.monotonic()
    bench.do(order(bench))
    bench.running.wait()
    took = time.monotonic() - began
    bench.close()
    return took


def a_climb(bench: Workshop) -> Order[Any]:
    """A climb of the data rate."""
    return o.BeginSearch(("data_rate_mts",), bench.rig.stock, HOUR, strategy="adapt", steps=o.Steps())


def a_night(bench: Workshop) -> Order[Any]:
    """A night over the whole rig."""
    return order_for_night(bench.rig, bench.rig.stock)


def commit_ms(running: Server) -> float:
    """What a commit costs there, measured."""
    with psycopg.connect(running.fresh(), autocommit=True) as at:
        at.execute("CREATE TABLE one (number integer)")
        began = time.monotonic()
        for number in range(20):
            at.execute("INSERT INTO one VALUES (%s)", (number,))
        return (time.monotonic() - began) / 20 * 1000


def beside(running: Server, what: str, order: Callable[[Workshop], Order[Any]], rounds: int) -> str:
    """The same run in a file and at a server, in turn."""
    times: dict[str, list[float]] = {"file": [], "server": []}
    for _ in range(rounds):
        folder = Path(tempfile.mkdtemp(prefix="climb-"))
        os.environ["XDG_DATA_HOME"] = str(folder)
        times["file"].append(run_s(str(folder / "book.db"), order))
        times["server"].append(run_s(running.fresh(), order))
    # The best of each: what else the machine did is none of theirs.
    file, on_server = min(times["file"]), min(times["server"])
    return f"{what}: {file:.2f} s in a file, {on_server:.2f} s at a server: {on_server / file:.2f} times"


def main() -> None:
    """Run it."""
    parser = argparse.ArgumentParser(prog="python -m tests.bench.one_book")
    parser.add_argument("--write", nargs=4, metavar=("URL", "RIG", "TRIALS", "TOLD"))
    parser.add_argument("--writers", type=int, default=8)
    parser.add_argument("--trials", type=int, default=200)
    parser.add_argument("--rounds", type=int, default=5)
    parser.add_argument("--seed", type=int, default=7)
    asked = parser.parse_args()
    if asked.write:
        url, name, trials, told = asked.write
        write(url, name, int(trials), Path(told))
        return
    print(json.dumps({"seed": asked.seed}), flush=True)
    with server(commit_ms=SLOW_MS) as running:
        print(f"each commit {commit_ms(running):.0f} ms or more:", end=" ", flush=True)
        print(beside(running, "a climb", a_climb, asked.rounds), flush=True)
        print(beside(running, "a night", a_night, max(1, asked.rounds // 2)), flush=True)
    with server() as running:
        print(beside(running, "a climb", a_climb, asked.rounds), flush=True)
        print(beside(running, "a night", a_night, max(1, asked.rounds // 2)), flush=True)
        print(writers(running, asked.writers, asked.trials, random.Random(asked.seed)), flush=True)


if __name__ == "__main__":
    main()
