"""Over a real ssh: brought over, added, loaded, taken away; and all that a far side may meet instead."""

import os
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import psutil
import pytest
from typer.testing import CliRunner

from tenaz.benches.wire.bench import wire_bench
from tenaz.cli.app import app
from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.plan import CacheLevel, LoadKind, LoadPlan
from tenaz.core.rigs.rig import Rig
from tenaz.engine.clock import RealClock
from tenaz.engine.runner import TrialRunner
from tenaz.journal.opening.opening import open_book
from tenaz.journal.store import Store
from tenaz.wire.ways import Serial, Ssh
from tests.doors.wire import Sshd, sshd
from tests.patience import PATIENCE_S

SHORT = LoadPlan(LoadKind.TRANSFORM, duration_s=1.5, level=CacheLevel.L1, workers=1)
LONG = replace(SHORT, duration_s=600.0)


@pytest.fixture
def far(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Sshd]:
    with sshd(tmp_path) as server:
        for name, value in server.environment().items():
            monkeypatch.setenv(name, value)
        yield server


@pytest.fixture
def bare(rig: Rig, store: Store) -> Rig:
    known = replace(rig, processor="", cores=None, memory_bytes=None, machine=None)
    store.rigs.put(known)
    return known


def test_from_nothing_to_a_load_that_held_and_away_again(book: Path, far: Sshd) -> None:
    (far.home / "bin" / "tenaz").unlink()

    def told(*words: str, status: int = 0) -> str:
        ran = CliRunner().invoke(app, ["--book", str(book), *words])
        assert ran.exit_code == status, ran.output
        return " ".join(ran.output.split())

    assert "there is no Tenaz there. Bring it over: tenaz wire prepare" in told("wire", "look", far.host, status=2)
    assert f"ssh {far.host}: " in told("wire", "prepare", far.host)
    assert "back office added" in told("wire", "add", "back office", far.host)
    assert "transform: held after 1" in told("load", "transform", "l1", "--for", "1s", "--rig", "back office")
    opened = open_book(book, read_only=True)
    assert [trial.bench for trial in opened.store.trials.of("back office")] == ["wire"]
    opened.close()
    assert "all of it is away again" in told("wire", "prepare", far.host, "--remove")
    assert not (far.home / ".local/share/tenaz-carried").exists()
    assert not far.agents()


@pytest.mark.parametrize(
    ("meets", "word"),
    [
        ("another key", "its key is not the one that this machine knows"),
        ("no key of ours", "it lets nobody in"),
        ("no disk", "on the rig cannot be made: .* Make room on its disk"),
        ("an older one", "speaks another version of the conversation"),
        ("no name", "nobody knows that name"),
    ],
)
def test_what_stands_between_is_said_with_its_remedy_and_nothing_begins(
    meets: str, word: str, far: Sshd, bare: Rig, store: Store
) -> None:
    host = far.host
    if meets == "another key":
        far.trust(far.folder / "user.pub")
    elif meets == "no key of ours":
        (far.folder / "authorized").write_text("")
    elif meets == "no disk":
        shell = far.folder / "shell"
        shell.write_text(shell.read_text().replace(f"XDG_STATE_HOME={far.home}/state", "XDG_STATE_HOME=/proc/none"))
    elif meets == "an older one":
        program = far.home / "bin" / "tenaz"
        greeting = "import json, zlib; body = json.dumps({'agent': {'protocol': 0, 'version': '0.1'}}).encode(); "
        greeting += "print('%s#%08x' % (body.decode(), zlib.crc32(body)), flush=True); input()"
        program.write_text(f'#!/bin/sh\nexec {sys.executable} -c "{greeting}"\n')
    else:
        host = "no-such-bench.invalid"
    runner = TrialRunner(
        bare, wire_bench(bare, None, RealClock(), "me", way=Ssh(host)), store, RealClock(), lambda _: None
    )
    with pytest.raises(Refused, match=word):
        runner.begin(bare.stock, SHORT)
    assert store.trials.of(bare.name) == ()


def test_an_agent_that_is_killed_under_load_leaves_nothing_held_and_the_next_trial_runs(
    far: Sshd, bare: Rig, store: Store
) -> None:
    bench = wire_bench(bare, None, RealClock(), "me", way=Ssh(far.host))
    runner = TrialRunner(bare, bench, store, RealClock(), lambda _: None)
    trial = runner.begin(bare.stock, LONG)

    def kill() -> None:
        deadline = time.monotonic() + PATIENCE_S
        while store.trials.one(trial.id).heartbeat is None and time.monotonic() < deadline:
            time.sleep(0.05)
        for pid in far.agents():
            if "tenaz.agent" in psutil.Process(pid).cmdline():
                os.kill(pid, signal.SIGKILL)

    threading.Thread(target=kill, daemon=True).start()
    ended = runner.run(trial)
    assert (ended.outcome, ended.verdict.words) == (Outcome.LOST, "does not count")
    assert runner.run(runner.begin(bare.stock, SHORT)).outcome is Outcome.HELD


def test_over_a_serial_line_the_same_is_said(bare: Rig, store: Store, tmp_path: Path) -> None:
    ours, theirs = (os.openpty() for _ in range(2))
    ends = (ours[0], theirs[0])

    def carry(one: int, other: int) -> None:
        while data := os.read(one, 4096):
            os.write(other, data)

    for pair in (ends, ends[::-1]):
        threading.Thread(target=carry, args=pair, daemon=True).start()
    agent = subprocess.Popen(
        [sys.executable, "-m", "tenaz", "agent", "--serial", os.ttyname(theirs[1])],
        env={**os.environ, "XDG_STATE_HOME": str(tmp_path / "far")},
    )
    try:
        bench = wire_bench(bare, None, RealClock(), "me", way=Serial(os.ttyname(ours[1])))
        runner = TrialRunner(bare, bench, store, RealClock(), lambda _: None)
        trial = runner.run(runner.begin(bare.stock, SHORT))
        assert trial.outcome is Outcome.HELD
        bench.leave()
        # Whoever calls next, on a line that nobody hung up.
        bench = wire_bench(bare, None, RealClock(), "me", way=Serial(os.ttyname(ours[1])))
        bench.loading.check(SHORT)
    finally:
        agent.terminate()
        agent.wait(PATIENCE_S)
