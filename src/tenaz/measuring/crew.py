"""The child processes that measure, one on each core, asked one task at a time."""

import contextlib
import json
import os
import select
import subprocess
import sys
import time
from collections.abc import Sequence
from dataclasses import dataclass
from types import TracebackType

from tenaz.core.base.errors import Refused
from tenaz.core.scores.score import Cores
from tenaz.loads.processes import worker_environment
from tenaz.loads.workers import FROM_OUTSIDE
from tenaz.measuring.tasks import Task

LEAD_S = 0.003
"""All begin at a moment that lies so far ahead: long enough for the word to reach each."""
ANSWER_S = 60.0
"""A worker that says nothing for so long is gone, or the machine hangs."""
HAD_CORE = 1 / 1.05
"""A repeat in which a thread had its core for less of the time was disturbed by others."""


class WorkerLost(Exception):
    """A worker died or fell silent: the machine may not be stable, and nothing more can be measured. ``killed``: it was
    ended from outside, which says nothing about the machine.
    """

    def __init__(self, told: str, killed: bool = False) -> None:
        super().__init__(told)
        self.killed = killed


@dataclass(frozen=True, slots=True)
class Repeat:
    """Work a second over all workers (bytes, steps or operations), and whether others disturbed it."""

    rate: float
    undisturbed: bool


class _Worker:
    """One of them."""

    def __init__(self, core: int, tasks: str) -> None:
        self.core = core
        self._process = subprocess.Popen(
            [sys.executable, "-P", "-m", "tenaz.measuring.worker", str(core), tasks],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            bufsize=0,
            env=worker_environment(os.environ),
        )
        self._heard = b""

    def tell(self, **fields: object) -> None:
        with contextlib.suppress(BrokenPipeError):
            assert self._process.stdin is not None
            self._process.stdin.write(json.dumps(fields).encode() + b"\n")

    def hear(self) -> dict[str, float]:
        """Its next line.

        Raises:
            WorkerLost: there will be none.
        """
        assert self._process.stdout is not None
        until = time.monotonic() + ANSWER_S
        while b"\n" not in self._heard:
            ready, _, _ = select.select([self._process.stdout], [], [], max(0.0, until - time.monotonic()))
            more = os.read(self._process.stdout.fileno(), 1 << 16) if ready else b""
            if not more:
                raise self._lost(bool(ready))
            self._heard += more
        line, _, self._heard = self._heard.partition(b"\n")
        heard: dict[str, float] = json.loads(line)
        return heard

    def _lost(self, died: bool) -> WorkerLost:
        who = f"what measured on core {self.core}"
        if not died:
            return WorkerLost(f"{who} fell silent")
        with contextlib.suppress(subprocess.TimeoutExpired):
            self._process.wait(1.0)
        status = self._process.returncode
        if status is not None and -status in FROM_OUTSIDE:
            return WorkerLost(f"{who} was ended from outside, by somebody or by the system as memory ran out", True)
        return WorkerLost(f"{who} died")

    def end(self) -> None:
        self._process.kill()
        self._process.wait()


class Crew:
    """Workers on these cores, for these tasks; ended when left.

    Raises:
        Refused: no process is to be had.
    """

    def __init__(self, cores: Sequence[int], tasks: Sequence[Task]) -> None:
        self._tasks = tasks
        self._workers: list[_Worker] = []
        try:
            for place, core in enumerate(cores):
                # The first works alone too; the others take only what all do together, each its share of it.
                mine = [task.size for task in tasks if place == 0 or task.figure.cores is Cores.ALL]
                told = json.dumps([{**task.to_fields(), "largest": max(mine, default=0)} for task in tasks])
                self._workers.append(_Worker(core, told))
            for worker in self._workers:
                worker.hear()
        except OSError as error:
            self._end()
            raise Refused(f"No process can be started to measure with: {error.strerror}.") from error

    def __enter__(self) -> "Crew":
        return self

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, at: TracebackType | None) -> None:
        self._end()

    def _end(self) -> None:
        for worker in self._workers:
            worker.end()

    def prepare(self, number: int, together: bool) -> bool:
        """Have a task ready: its block, its machine code, how long it takes; whether its memory is as was asked for."""
        workers = self._workers if together else self._workers[:1]
        for worker in workers:
            worker.tell(task=number, prepare=True)
        told = [worker.hear() for worker in workers]
        return all(one["as_asked"] for one in told)

    def repeat(self, number: int, together: bool, for_s: float) -> Repeat:
        """Once through a task, on one core or on all at the same time."""
        workers = self._workers if together else self._workers[:1]
        at_s = time.monotonic() + LEAD_S
        for worker in workers:
            worker.tell(task=number, at_s=at_s, for_s=for_s)
        heard = [worker.hear() for worker in workers]
        rate = sum(one["work"] / one["took_s"] for one in heard)
        return Repeat(rate, all(one["had_s"] >= HAD_CORE * one["took_s"] for one in heard))
