"""A workshop of years: 100,000 trials on 500 rigs, in a file and on a server: ``python -m tests.bench.grown``."""

import argparse
import os
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from tenaz.journal.opening.addresses import server_address
from tenaz.journal.opening.opening import open_book
from tenaz.journal.opening.server import open_on_server
from tests.bench.books import keys_and_records, make_book, starts
from tests.doors.server import server

ASKED = ("data rate>=6000", "march", "2020")
KEYS, STARTS, SEARCH = "≤ 50 ms", "≤ 1.5 s", "≤ 2 s"


def search_s(place: str) -> float:
    """How long a search through all of it takes, from the command to its last line: the best of three."""
    took = []
    for _ in range(3):
        began = time.perf_counter()
        command = [sys.executable, "-m", "tenaz", "--book", place, "book", "#77", "failed", "--json"]
        subprocess.run(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, check=False)
        took.append(time.perf_counter() - began)
    return min(took)


def tell(where: str, place: str) -> None:
    """Print what it costs there."""
    key, _, memory = keys_and_records(Path(place) if "://" not in place else place)  # type: ignore[arg-type]
    print(f"{where}: a key {key:.0f} ms ({KEYS}), start {starts(place):.2f} s ({STARTS})", end="", flush=True)  # type: ignore[arg-type]
    print(f", search {search_s(place):.2f} s ({SEARCH}), {memory:.0f} MB", flush=True)


def main() -> None:
    """Run it."""
    parser = argparse.ArgumentParser(prog="python -m tests.bench.grown")
    parser.add_argument("--trials", type=int, default=100_000)
    parser.add_argument("--rigs", type=int, default=500)
    parser.add_argument("--samples", type=int, default=10_000_000)
    asked = parser.parse_args()
    with tempfile.TemporaryDirectory() as name, server() as running:
        file = Path(name) / "book.db"
        make_book(file, asked.trials, asked.rigs, asked.samples)
        print(f"{asked.trials} trials, {asked.rigs} rigs, {file.stat().st_size / 1e6:.0f} MB", flush=True)
        tell("a file", str(file))
        url = running.fresh()
        began = time.monotonic()
        done = subprocess.run([sys.executable, "-m", "tenaz", "--book", url, "book", "restore", str(file)], check=False)
        print(f"put on a server: {time.monotonic() - began:.0f} s, status {done.returncode}", flush=True)
        os.environ["XDG_DATA_HOME"] = str(Path(name) / "bench")
        began = time.monotonic()
        opened = open_book(url)
        took = time.monotonic() - began
        home = open_on_server(server_address(url))
        alike = all(opened.store.trials.count(rig) == home.trials.count(rig) for rig in home.rigs.names())
        print(f"copied the first time: {took:.0f} s, {'all of it' if alike else 'NOT ALL'}", flush=True)
        home.close()
        opened.close()
        tell("on a server", url)


if __name__ == "__main__":
    main()
