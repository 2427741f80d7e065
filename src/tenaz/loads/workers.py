"""A worker of a load as its parent sees it: started, told, and what its silence or its death means."""

import contextlib
import os
import signal
import subprocess
import sys
import tempfile
import time
from dataclasses import dataclass, field
from typing import IO

from tenaz.core.loading import LaneProgress
from tenaz.core.physical_memory import Spans
from tenaz.core.plain_text import plain_lines
from tenaz.loads.processes import cpu_time_s, worker_environment
from tenaz.loads.spec import Spec

MOST_LAST_WORDS = 4096
"""Letters of what a worker that died wrote to its error output."""

FROM_OUTSIDE = (signal.SIGKILL, signal.SIGTERM, signal.SIGHUP)
"""Signals that no fault of the processor or the memory raises."""

SILENCE_S = 30.0
"""A worker that has spoken and then says nothing for so long is hung, or starved; it reports five times a second."""

STARTING_S = 600.0
"""A worker that has not said its first word by then never will: the load could not start."""

STARVED_SHARE = 0.2
"""A silent worker that got less than this part of the time on its core was kept from working, not hung."""


@dataclass(slots=True)
class Worker:
    """A child process and the last it said."""

    spec: Spec
    process: "subprocess.Popen[bytes]"
    stderr: IO[str]
    lane: LaneProgress
    ready: bool = False
    done: bool = False
    prepared: float = 0.0
    heard_s: float = 0.0
    spoken: bool = False
    cpu_s: float = 0.0
    stood_s: float = 0.0
    block: dict[str, int] = field(default_factory=dict)
    spans: Spans = ()
    unfinished_line: bytes = b""

    def tell(self, word: str) -> None:
        """``go`` or ``stop``; a worker that is gone no longer listens."""
        with contextlib.suppress(BrokenPipeError, ValueError):
            assert self.process.stdin is not None
            self.process.stdin.write(word.encode() + b"\n")


@dataclass(frozen=True, slots=True)
class Finding:
    """What a silence or a death comes to: ``died`` is a finding about the rig, ``void`` says nothing about it."""

    died: str = ""
    void: str = ""

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
    lane = LaneProgress(spec.worker, spec.core, kind=spec.plan.kind)
    return Worker(spec, process, stderr, lane, heard_s=time.monotonic())


def silence(worker: Worker, resumed_s: float) -> Finding:
    """What it means that a worker has not been heard: hung when it had its core meanwhile, void when it had not."""
    silent_s = time.monotonic() - max(worker.heard_s, resumed_s)
    who = f"worker {worker.spec.worker} on core {worker.spec.core}"
    if not worker.spoken:
        if silent_s <= STARTING_S:
            return Finding()
        return Finding(void=f"{who} has not begun within {STARTING_S / 60:.0f} minutes; that is no finding")
    if silent_s <= SILENCE_S:
        return Finding()
    worked_s = cpu_time_s(worker.process.pid) - worker.cpu_s
    if worked_s < STARVED_SHARE * silent_s:
        return Finding(
            void=f"{who} got {worked_s:.1f} s of its core in {silent_s:.0f} s, other programs had the rest: it could "
            f"not work, which says nothing about the rig"
        )
    return Finding(died=f"{who} has been silent for {silent_s:.0f} s, and was not waiting for its core")


def death(worker: Worker) -> Finding:
    """What the end of a worker's process comes to."""
    status = worker.process.returncode
    worker.stderr.seek(0)
    last_words = plain_lines(worker.stderr.read()[-MOST_LAST_WORDS:]).strip().splitlines()[-1:]
    how = signal.Signals(-status).name if status < 0 else f"status {status}"
    said = f": {last_words[0]}" if last_words else ""
    who = f"worker {worker.spec.worker} on core {worker.spec.core}"
    if -status in FROM_OUTSIDE:
        return Finding(
            void=f"{who} was killed from outside ({how}), by somebody or by the system when memory ran out; that says "
            f"nothing about the rig"
        )
    return Finding(died=f"{who} died with {how}{said}")
