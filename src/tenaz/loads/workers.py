"""A worker of a load as its parent sees it: started, told, and what its silence or its death means."""

import contextlib
import os
import signal
import subprocess
import sys
import tempfile
from collections import Counter
from dataclasses import dataclass, field, replace
from typing import IO

from tenaz.core.base.plain_text import plain_lines
from tenaz.core.base.systems import signals
from tenaz.core.loads.plan import WorkerProgress
from tenaz.core.machine.physical_memory import Spans
from tenaz.loads.processes import cpu_time_s, state_of, worker_environment
from tenaz.loads.spec import Spec

MOST_LAST_WORDS = 4096
"""Letters of what a worker that died wrote to its error output."""

FROM_OUTSIDE = signals("SIGKILL", "SIGTERM", "SIGHUP")
"""Signals that no fault of the processor or the memory raises."""

SILENCE_S = 30.0
"""A worker that has spoken and then says nothing for so long is hung, or starved; it reports five times a second."""

MOST_LISTENED_S = 1.0
"""Of the time between two listenings so much counts as silence: the parent may have stood still, or been busy, and what
was said meanwhile waits in the pipe.
"""

NEARLY_ALL = 0.9
"""Of the time that silence must last, what a worker must have worked for to be hung and not slow."""

KEPT_WAITING = ("stopped", "tracing-stop", "disk-sleep")
"""States of a process that was stopped from outside, or waits for a disk: it could not have spoken."""

STARTING_S = 600.0
"""A worker that has not said its first word by then never will: the load could not start."""

STARVED_SHARE = 0.2
"""A silent worker that got less than this part of the time on its core was kept from working, or sleeps."""


@dataclass(slots=True)
class Worker:
    """A child process and the last it said. ``worked_s`` and ``asked_s`` are its own account of the time since go, see
    :class:`tenaz.loads.work_clock.WorkClock`; ``silent_s`` is for how long it was listened to since without a word.
    """

    spec: Spec
    process: "subprocess.Popen[bytes]"
    stderr: IO[str]
    lane: WorkerProgress
    ready: bool = False
    done: bool = False
    prepared: float = 0.0
    told_stop: bool = False
    spoken: bool = False
    silent_s: float = 0.0
    cpu_s: float = 0.0
    worked_s: float = 0.0
    asked_s: float = 0.0
    stood_s: float = 0.0
    ran_on: Counter[int] = field(default_factory=Counter)
    block: dict[str, int] = field(default_factory=dict)
    spans: Spans = ()
    unfinished_line: bytes = b""

    def tell(self, word: str) -> None:
        """``go``, ``stop``, or ``duty`` and a part of the time; a worker that is gone no longer listens."""
        self.told_stop = self.told_stop or word == "stop"
        with contextlib.suppress(BrokenPipeError, ValueError):
            assert self.process.stdin is not None
            self.process.stdin.write(word.encode() + b"\n")

    @property
    def name(self) -> str:
        """What it is called."""
        return f"worker {self.spec.worker} on {self.spec.on}"

    def heard(self) -> None:
        """It has just said something."""
        self.spoken, self.silent_s, self.cpu_s = True, 0.0, cpu_time_s(self.process.pid)

    def ran(self, core: int) -> None:
        """It was on a core as it spoke; that where it was most is told as its own."""
        if self.spec.card is not None:
            return
        self.ran_on[core] += 1
        self.lane = replace(self.lane, core=self.ran_on.most_common(1)[0][0])

    @property
    def moved(self) -> bool:
        """Whether it is now on another core than it was given."""
        return self.spec.card is None and self.lane.core != self.spec.core


@dataclass(frozen=True, slots=True)
class WorkerFate:
    """What a silence or a death comes to: ``died`` is a finding about the rig, ``void`` says nothing about it. ``card``
    is the card that was not heard of any more, if it was one.
    """

    died: str = ""
    void: str = ""
    card: int | None = None

    @property
    def over(self) -> bool:
        """Whether the load is over by it."""
        return bool(self.died or self.void)


def spawn(spec: Spec, files: contextlib.ExitStack) -> Worker:
    """Start a worker; ``files`` closes what it writes its last words to.

    Raises:
        OSError: there is no process or no file to be had.
    """
    stderr = files.enter_context(tempfile.TemporaryFile("w+"))  # noqa: SIM115 - the exit stack closes it
    process = subprocess.Popen(
        [sys.executable, "-P", "-m", "tenaz.loads.worker", spec.to_json()],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=stderr,
        bufsize=0,
        env=worker_environment(os.environ),
    )
    lane = WorkerProgress(spec.worker, spec.core, kind=spec.plan.kind, card=spec.card)
    return Worker(spec, process, stderr, lane)


def silence(worker: Worker) -> WorkerFate:
    """What it means that a worker has not been heard: hung when it had its core meanwhile, or sleeps; void when it was
    kept from its core.
    """
    silent_s, who = worker.silent_s, worker.name
    if not worker.spoken:
        if silent_s <= STARTING_S:
            return WorkerFate()
        return WorkerFate(void=f"{who} has not begun within {STARTING_S / 60:.0f} minutes; that is no finding")
    if silent_s <= SILENCE_S:
        return WorkerFate()
    worked_s, state = cpu_time_s(worker.process.pid) - worker.cpu_s, state_of(worker.process.pid)
    if worked_s >= STARVED_SHARE * silent_s:
        # One that had its core for a part of the time may take that much longer.
        hung = worked_s >= NEARLY_ALL * SILENCE_S
        told = f"{who} has been silent for {silent_s:.0f} s, and was not waiting for its core"
        return WorkerFate(died=told if hung else "", card=worker.spec.card)
    if state == "sleeping":
        asleep = "asleep where there was work to do" if worker.spec.card is None else "waiting for the card"
        return WorkerFate(died=f"{who} has been silent for {silent_s:.0f} s, {asleep}", card=worker.spec.card)
    kept = f"is {state}" if state in KEPT_WAITING else "other programs had the rest"
    return WorkerFate(
        void=f"{who} got {worked_s:.1f} s of its core in {silent_s:.0f} s, {kept}: it could not work, and that says "
        f"nothing about the rig"
    )


def death(worker: Worker) -> WorkerFate:
    """What the end of a worker's process comes to."""
    status = worker.process.returncode
    worker.stderr.seek(0)
    last_words = plain_lines(worker.stderr.read()[-MOST_LAST_WORDS:]).strip().splitlines()[-1:]
    how = signal.Signals(-status).name if status < 0 else f"status {status}"
    said = f": {last_words[0]}" if last_words else ""
    who = worker.name
    if -status in FROM_OUTSIDE:
        return WorkerFate(
            void=f"{who} was killed from outside ({how}), by somebody or by the system when memory ran out; that says "
            f"nothing about the rig"
        )
    begun = worker.lane.laps > 0 or worker.lane.errors > 0
    if not begun and status == -signal.SIGILL:
        return WorkerFate(
            void=f"{who} met an instruction that this processor does not have (SIGILL) before it had done anything: a "
            f"library here was built for later ones, and that says nothing about the rig"
        )
    if not begun and status > 0 and "Error" in said:
        return WorkerFate(void=f"{who} could not begin{said}; that says nothing about the rig")
    return WorkerFate(died=f"{who} died with {how}{said}", card=worker.spec.card)
