"""Across a wire: the load's speed beside bench here, what each side costs, how soon it stops, what 200 cuts lose."""

import os
import random
import tempfile
import threading
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import psutil

from tenaz.benches.here import here_bench
from tenaz.benches.wire import following, reached
from tenaz.benches.wire.bench import wire_bench
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.plan import CacheLevel, LoadKind, LoadPlan
from tenaz.core.ports.bench import Bench
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.trials.trial import Trial
from tenaz.demo.ridge import ridge
from tenaz.engine.clock import RealClock
from tenaz.engine.runner import TrialRunner
from tenaz.journal.opening.opening import open_book
from tenaz.journal.store import Store
from tenaz.wire.ways import Ssh
from tests.doors.far import STEP_S, Far
from tests.doors.wire import Sshd, sshd

LOAD = LoadPlan(LoadKind.TRANSFORM, duration_s=20.0, level=CacheLevel.L1)
TURNS, CUTS, STEPS = 3, 200, 40
WRONG_AT = (7, 8, 30)


def bare() -> Rig:
    """A rig of which nothing is known that this machine would have to show."""
    return replace(ridge(), processor="", cores=None, memory_bytes=None, machine=None, benches=tuple(BenchKind))


def _trial(store: Store, rig: Rig, bench: Bench, plan: LoadPlan, meanwhile: Callable[[TrialRunner], None]) -> Trial:
    runner = TrialRunner(rig, bench, store, RealClock(), lambda _: None)
    trial = runner.begin(rig.stock, plan)
    beside = threading.Thread(target=meanwhile, args=(runner,), daemon=True)
    beside.start()
    ended = runner.run(trial)
    beside.join(30)
    return ended


def _spent_s(pid: int) -> float:
    times = psutil.Process(pid).cpu_times()
    return float(times.user + times.system)


def report() -> None:
    """All of it."""
    with tempfile.TemporaryDirectory() as folder:
        _over_ssh(Path(folder))
    with tempfile.TemporaryDirectory() as folder:
        _cuts(Path(folder))


def _over_ssh(folder: Path) -> None:
    opened = open_book(folder / "book.db")
    store, rig = opened.store, bare()
    store.rigs.put(rig)
    with sshd(folder) as server:
        os.environ.update(server.environment())
        here, there = (
            here_bench(rig, None, RealClock()),
            wire_bench(rig, None, RealClock(), "bench", way=Ssh(Sshd.host)),
        )
        ratios, own, far, memory = [], [], [], []

        def look(_: TrialRunner) -> None:
            time.sleep(5)
            sides = {pid: _spent_s(pid) for pid in (os.getpid(), *_agents(server))}
            began = time.monotonic()
            time.sleep(10)
            passed = time.monotonic() - began
            own.append((_spent_s(os.getpid()) - sides.pop(os.getpid())) / passed)
            far.append(sum(_spent_s(pid) - spent for pid, spent in sides.items()) / passed)
            memory.append(sum(psutil.Process(pid).memory_info().rss for pid in sides) / 2**20)

        for _ in range(TURNS):
            at_home = _trial(store, rig, here, LOAD, lambda _: None)
            away = _trial(store, rig, there, LOAD, look)
            assert (at_home.outcome, away.outcome) == (Outcome.HELD, Outcome.HELD)
            ratios.append(away.facts.loads[0].rate / at_home.facts.loads[0].rate)
        stops = []
        for _ in range(TURNS):
            asked = [0.0]

            def stop(runner: TrialRunner, asked: list[float] = asked) -> None:
                time.sleep(4)
                asked[0] = time.monotonic()
                runner.stop()

            _trial(store, rig, there, replace(LOAD, duration_s=600.0), stop)
            stops.append(time.monotonic() - asked[0])
    opened.close()
    print(f"wire: {LOAD.show()}, rate beside bench here {_told(ratios)}")
    near, far_side = _told([100 * one for one in own]), _told([100 * one for one in far])
    print(f"wire: near side {near} % of a core, with its book; far side {far_side} %")
    print(f"wire: agent and front {_told(memory)} MiB resident; stopped and recorded within {_told(stops)} s")


def _agents(server: Sshd) -> list[int]:
    return [pid for pid in server.agents() if "tenaz.loads" not in " ".join(psutil.Process(pid).cmdline())]


def _cuts(folder: Path) -> None:
    """Lines cut after random bytes, at random moments, twice each: what is in the book against what happened."""
    reached.TRIES_AFTER_S, following.SETTLES_S = (0.0, 0.02), 0.05
    luck = random.Random(1871)
    opened = open_book(folder / "book.db")
    store, rig = opened.store, bare()
    store.rigs.put(rig)
    lost = doubled = wrong = 0
    began = time.monotonic()
    for number in range(CUTS):
        far = Far(folder / str(number), STEPS, WRONG_AT if number % 2 else ())
        bench = wire_bench(rig, None, RealClock(), "bench", way=far)
        bench.loading.check(LOAD)
        if number % 4 < 2:
            far.cut_after_bytes = [luck.randrange(1, 40_000), luck.randrange(1, 4_000)]
            far.cut()

        def cut(_: TrialRunner, far: Far = far, byte: bool = number % 4 < 2) -> None:
            for _again in range(0 if byte else 2):
                time.sleep(luck.random() * STEPS * STEP_S / 2)
                far.cut()

        trial = _trial(store, rig, bench, LOAD, cut)
        steps = [round(one.at_s / STEP_S) for one in store.load.samples_of(trial.id)]
        laps = [one.lap for one in store.load.mismatches_of(trial.id)]
        expected = list(WRONG_AT if number % 2 else ())
        lost += len(set(range(1, STEPS + 1)) - set(steps)) + len(set(expected) - set(laps))
        doubled += len(steps) - len(set(steps)) + len(laps) - len(set(laps)) + (far.begun - 1)
        wrong += trial.outcome is not (Outcome.ERRED if expected else Outcome.HELD)
    opened.close()
    print(
        f"wire: {CUTS} loads cut twice each in {time.monotonic() - began:.0f} s: {lost} lost, {doubled} counted twice, "
        f"{wrong} wrongly judged"
    )


def _told(found: list[float]) -> str:
    ordered = sorted(found)
    return f"{ordered[len(ordered) // 2]:.2f} ({ordered[0]:.2f} to {ordered[-1]:.2f})"


if __name__ == "__main__":
    report()
