"""How soon the first picture stands, and how fast a key is answered, measured through a pseudo-terminal."""

import contextlib
import fcntl
import os
import pty
import select
import signal
import statistics
import struct
import sys
import tempfile
import termios
import threading
import time
from pathlib import Path

import psutil

from tenaz.benches.here import surroundings
from tenaz.core.loads.plan import CacheLevel, LoadKind, LoadPlan
from tenaz.loads.run import LoadRun
from tenaz.workshop.errands.demo_book import make_demo_book

EMPTY_APP = """
from textual.app import App
from textual.widgets import Static
class Empty(App):
    def compose(self):
        yield Static("first picture")
Empty().run()
"""
STARTS = 9
KEYS = 200


class Terminal:
    """A program in a pseudo-terminal of 158×48."""

    def __init__(self, *command: str) -> None:
        self.started_s = time.perf_counter()
        self._pid, self._fd = pty.fork()
        if self._pid == 0:
            os.execvpe(command[0], list(command), {**os.environ, "TERM": "xterm-256color", "COLORTERM": "truecolor"})
        fcntl.ioctl(self._fd, termios.TIOCSWINSZ, struct.pack("HHHH", 48, 158, 0, 0))

    @property
    def pid(self) -> int:
        """The process that works: the one that was started, or the one that it waits for."""
        children = psutil.Process(self._pid).children()
        return children[0].pid if children else self._pid

    def send(self, keys: bytes) -> None:
        """Type."""
        os.write(self._fd, keys)

    def until(self, *texts: bytes, patience_s: float = 30.0) -> float:
        """Read until one of the texts came; gives the seconds since the start."""
        heard, deadline = b"", time.perf_counter() + patience_s
        while not any(text in heard for text in texts):
            ready, _, _ = select.select([self._fd], [], [], max(0.0, deadline - time.perf_counter()))
            if not ready:
                raise TimeoutError(f"{texts} never came")
            heard += os.read(self._fd, 1 << 16)
        return time.perf_counter() - self.started_s

    def drain(self, quiet_s: float = 0.05) -> None:
        """Read away what was drawn before, until nothing more comes for a while."""
        while select.select([self._fd], [], [], quiet_s)[0]:
            os.read(self._fd, 1 << 16)

    def end(self) -> None:
        """Kill it, and what it waits for."""
        for child in psutil.Process(self._pid).children(recursive=True):
            child.kill()
        os.kill(self._pid, signal.SIGKILL)
        with contextlib.suppress(OSError):
            while os.read(self._fd, 1 << 16):
                pass
        os.waitpid(self._pid, 0)
        os.close(self._fd)


def first_pictures() -> None:
    """Time to the first picture of the workbench and of an empty application, in turn."""
    empty, workbench, view = [], [], []
    with tempfile.TemporaryDirectory() as folder:
        book = Path(folder) / "book.db"
        make_demo_book(book)
        for _ in range(STARTS):
            terminal = Terminal(sys.executable, "-c", EMPTY_APP)
            empty.append(terminal.until(b"first picture"))
            terminal.end()
            terminal = Terminal(
                sys.executable,
                "-c",
                "import sys; sys.argv = ['tenaz']; "
                f"from tenaz.tui.app.run import run_workbench; run_workbench({str(book)!r})",
            )
            workbench.append(terminal.until(b"confirm"))
            view.append(terminal.until(b"baseline at stock"))
            terminal.end()
    ratio = statistics.median(w / e for w, e in zip(workbench, empty, strict=True))
    print(f"first picture: {statistics.median(workbench):.2f} s; an empty application {statistics.median(empty):.2f} s")
    print(
        f"  ratio {ratio:.2f} (median of {STARTS} pairs); with everything from the book {statistics.median(view):.2f} s"
    )


def key_answers() -> None:
    """How fast the screen answers a key, first idle, then while both loads run on all cores."""
    with tempfile.TemporaryDirectory() as folder:
        book = Path(folder) / "book.db"
        make_demo_book(book)
        print(f"a key is answered ({KEYS} keys)")
        print(f"  idle:                        {_answers(book)}")
        around = surroundings()
        runs = [
            LoadRun(LoadPlan(LoadKind.MARCH, share=0.25), around),
            LoadRun(LoadPlan(LoadKind.TRANSFORM, level=CacheLevel.L2), around),
        ]
        threads = [threading.Thread(target=run.run) for run in runs]
        for thread in threads:
            thread.start()
        while any(run.progress().elapsed_s < 2 for run in runs):
            time.sleep(0.1)
        try:
            print(f"  both loads on all {len(around.cores)} cores:  {_answers(book)}")
        finally:
            for run in runs:
                run.stop()
            for thread in threads:
                thread.join()


def _answers(book: Path) -> str:
    command = [sys.executable, "-m", "tenaz", "--book", str(book)]
    terminal = Terminal(*command)
    terminal.until(b"baseline at stock")
    time.sleep(2.0)
    terminal.send(b"\t")
    terminal.until(b"chance of the edge")
    time.sleep(1.0)
    took = []
    for number in range(KEYS):
        # To and fro on the track; the answer draws the value anew, which nothing else on the idle screen does.
        key = (b"\x1b[C", b"\x1b[D")[number % 2]
        terminal.drain()
        asked = time.perf_counter()
        terminal.send(key)
        terminal.until(b"MT/s")
        took.append(1000 * (time.perf_counter() - asked))
    terminal.end()
    took.sort()
    within = took[int(0.95 * len(took))]
    return f"median {statistics.median(took):.0f} ms, 95 % within {within:.0f} ms, all {took[-1]:.0f} ms"


def report() -> None:
    """Print both."""
    first_pictures()
    key_answers()
