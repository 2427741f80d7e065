"""``program`` in a worker: a program of the technician's own, again and again, judged by exit status and output."""

import os
import selectors
import signal
import subprocess
from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import partial
from random import SystemRandom

from tenaz.core.loads.plan import MismatchKind
from tenaz.loads.families import KNOWN, adopt_orphans, die_with_parent, end_family
from tenaz.loads.spec import Spec
from tenaz.loads.tried import Checked, Plant, told
from tenaz.loads.worker import Line

LISTEN_EVERY_S = 0.05
LINES_KEPT = 20
"""Of the end of its output."""
READ_BYTES = 1 << 16
MOST_LINE_BYTES = 4096
"""Of a line that never ends, what is kept."""
DRAIN_READS = 64
"""Of what still stands in the pipe when a run is cut off."""


@dataclass(slots=True)
class Heard:
    """What a run wrote, judged as it comes: nothing of it is kept but the end, whatever its length."""

    bad: bytes
    good: bytes
    said_bad: bool = False
    said_good: bool = False
    lines: list[bytes] = field(default_factory=list)
    _unfinished: bytes = b""
    _overlap: bytes = b""

    def take(self, written: bytes) -> None:
        """More output."""
        # A word may come in two pieces.
        window = self._overlap + written
        self.said_bad = self.said_bad or bool(self.bad and self.bad in window)
        self.said_good = self.said_good or bool(self.good and self.good in window)
        self._overlap = window[-max(len(self.bad), len(self.good), 1) :]
        *lines, self._unfinished = (self._unfinished + written).split(b"\n")
        self._unfinished = self._unfinished[-MOST_LINE_BYTES:]
        self.lines = [*self.lines, *(line[-MOST_LINE_BYTES:] for line in lines)][-LINES_KEPT:]

    @property
    def text(self) -> tuple[str, ...]:
        """The last lines that it wrote."""
        return tuple(line.decode(errors="replace").strip() for line in (*self.lines, self._unfinished) if line.strip())[
            -LINES_KEPT:
        ]


def run(spec: Spec, line: Line) -> float:
    """Run after run; one that fails is told with the last line that it wrote. No shell: arguments go as they are.

    A run that is cut off is judged by what it wrote; where no run came to its end, nothing was shown.
    """
    adopt_orphans()
    signal.signal(signal.SIGTERM, _end_all_and_go)
    line.wait_for_go(address=0, bytes=0, locked=0)
    line.check_by(Checked(partial(_plants, spec)))
    runs, kept = 0, tuple[str, ...]()
    while not line.stopping and runs != spec.plan.laps:
        heard = Heard(spec.plan.bad_words.encode(), spec.plan.good_words.encode())
        try:
            ended = _one(spec, line, heard, runs)
        except OSError as error:
            line.void(f"{spec.plan.command[0]} could not be started: {error.strerror}")
            return float(runs)
        finally:
            end_family()
        if kept != (kept := heard.text):
            # What it wrote goes into the book; runs that write the same again add nothing.
            for written in kept:
                line.note(f"run {runs + 1}: {written}")
        if said := judged(ended, heard, spec.plan.bad_words, spec.plan.good_words):
            status = 0 if ended is None else ended & 0xFF
            line.wrong_word(runs + 1, 0, (0, status, status), MismatchKind.COMPUTED, said)
        if ended is None:
            break
        runs += 1
        line.worked(float(runs), 3600e9, f"run {runs} done")
    if runs == 0 and not line.errors:
        line.void("no run came to its end, so nothing was shown; give it more time")
    return float(runs)


def _plants(spec: Spec, luck: SystemRandom) -> Iterator[Plant]:
    """Runs that ended badly, or wrote what they must not, as judged by the same words."""
    bad, good = spec.plan.bad_words, spec.plan.good_words
    status = luck.randrange(1, 256)
    silent, spoken = Heard(bad.encode(), good.encode()), Heard(bad.encode(), good.encode())
    spoken.take(f"{bad}\n{good}\n".encode())
    yield lambda: "" if judged(status, silent, bad, good) else told("a run's exit status", status.bit_length() - 1)
    if bad:
        yield lambda: "" if judged(0, spoken, bad, good) else told("a run's bad words", 0)
    if good:
        yield lambda: "" if judged(0, silent, bad, good) else told("a run's missing words", 0)


def _one(spec: Spec, line: Line, heard: Heard, runs: int) -> int | None:
    """One run; its exit status, None when it was cut off."""
    process = subprocess.Popen(
        spec.plan.command,
        stdin=subprocess.DEVNULL,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        start_new_session=True,
        preexec_fn=die_with_parent,  # noqa: PLW1509 - one call of the system, nothing that a thread could hold
    )
    KNOWN.add(process.pid)
    assert process.stdout is not None
    pipe = process.stdout.fileno()
    os.set_blocking(pipe, False)
    with process.stdout, selectors.DefaultSelector() as selector:
        selector.register(pipe, selectors.EVENT_READ)
        while process.poll() is None and not line.stopping and not (heard.said_bad and spec.plan.stop_at_first_error):
            if selector.select(LISTEN_EVERY_S):
                heard.take(_read(pipe))
            # What a program works, it works elsewhere.
            line.paused(LISTEN_EVERY_S)
            line.worked(float(runs), 0.0, f"run {runs + 1}, process {process.pid}")
        ended = process.poll()
        if ended is None:
            end_family()
        for _ in range(DRAIN_READS):
            if not (rest := _read(pipe)):
                break
            heard.take(rest)
        process.wait()
        KNOWN.discard(process.pid)
    return ended


def _read(pipe: int) -> bytes:
    try:
        return os.read(pipe, READ_BYTES)
    except BlockingIOError:
        return b""


def judged(status: int | None, heard: Heard, bad_words: str, good_words: str) -> str:
    """What is wrong with a run, with the last line that it wrote; empty when nothing is. Without a status it was cut
    off: then only what it wrote speaks against it.
    """
    last = heard.text[-1] if heard.text else "it wrote nothing"
    if heard.said_bad:
        return f"wrote {bad_words!r}"
    if status is None:
        return ""
    if status:
        how = f"ended by {_signal_name(-status)}" if status < 0 else f"ended with status {status}"
        return f"{how}: {last}"
    return f"did not write {good_words!r}: {last}" if good_words and not heard.said_good else ""


def _signal_name(number: int) -> str:
    try:
        return signal.Signals(number).name
    except ValueError:
        return f"signal {number}"


def _end_all_and_go(number: int, _frame: object) -> None:
    """Ended from outside: what was started goes first."""
    end_family()
    signal.signal(number, signal.SIG_DFL)
    os.kill(os.getpid(), number)
