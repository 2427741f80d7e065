"""A real terminal with Tenaz in it: keys go in, the screen comes out."""

import os
import re
import shlex
import signal
import sys
import time
from pathlib import Path
from types import TracebackType

import libtmux
import psutil

from tenaz.demo.ridge import ridge
from tenaz.intake.new_rigs import this_machine
from tenaz.journal.opening.opening import open_book
from tests.patience import PATIENCE_S

PRESSED_S, AGREED_S = 0.25, 0.45
"""Before a further key, and before what answers something: who presses it has seen what came of the one before, on a
busy machine too.
"""


class Screen:
    """One tmux window. ``press`` takes tmux key names, ``type`` literal text."""

    def __init__(self, *arguments: str, width: int = 158, height: int = 48) -> None:
        self._server = libtmux.Server(
            socket_name=f"tenaz-test-{os.getpid()}-{time.monotonic_ns()}", config_file="/dev/null"
        )
        # The size comes from the window, not from what the test runner's environment says.
        unset = ["-u", "COLUMNS", "-u", "LINES"]
        command = shlex.join(["env", *unset, "TERM=tmux-256color", sys.executable, "-m", "tenaz", *arguments])
        self._session = self._server.new_session(
            "tenaz", x=width, y=height, window_command=f"{command}; echo LEFT WITH $?; sleep 600"
        )
        self._pane = self._session.active_pane
        assert self._pane is not None
        self.pressed = 0
        """How many keys were pressed one after the other."""

    def __enter__(self) -> "Screen":
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self._server.kill()

    @property
    def text(self) -> str:
        """What stands on the screen."""
        return "\n".join(self._pane.capture_pane())

    @property
    def title(self) -> str:
        """What the program put into the title of its window."""
        return str(self._pane.cmd("display-message", "-p", "#{pane_title}").stdout[0])

    def press(self, *keys: str) -> "Screen":
        """Press keys, one after the other; ``p›b`` is p and then b."""
        singly = [one for path in keys for one in (path.split("›") if "›" in path else [path])]
        for number, key in enumerate(singly):
            time.sleep(AGREED_S if key == "Enter" or number == 0 else PRESSED_S)
            self._pane.send_keys("\\;" if key == ";" else key, enter=False, suppress_history=False)
            self.pressed += 1
        return self

    def agree(self) -> "Screen":
        """Press Enter once the screen says that it does what was asked."""
        self.until("⏎ .* Esc leaves all as it is")
        return self.press("Enter")

    def press_now(self, key: str) -> None:
        """Press one key, and wait for nothing."""
        self._pane.send_keys(key, enter=False, suppress_history=False)

    def type(self, text: str) -> "Screen":
        """Type text as it is, then Enter."""
        time.sleep(AGREED_S)
        self._pane.send_keys(text, enter=True, literal=True, suppress_history=False)
        return self

    def type_fast(self, text: str) -> "Screen":
        """Type text in one burst, without Enter."""
        self._pane.send_keys(text, enter=False, literal=True, suppress_history=False)
        return self

    def click(self, column: int, row: int) -> "Screen":
        """Click a cell, counted from 1, as a terminal tells it (SGR mouse reports)."""
        for end in "Mm":
            self._pane.send_keys(f"\x1b[<0;{column};{row}{end}", enter=False, literal=True, suppress_history=False)
        return self

    def until(self, pattern: str) -> "re.Match[str]":
        """Wait until the screen shows a pattern."""
        deadline = time.monotonic() + PATIENCE_S
        while time.monotonic() < deadline:
            found = re.search(pattern, self.text)
            if found:
                return found
            time.sleep(0.1)
        raise AssertionError(f"the screen never showed {pattern!r}; it shows:\n{self.text}")

    def until_gone(self, pattern: str) -> None:
        """Wait until the screen no longer shows a pattern."""
        deadline = time.monotonic() + PATIENCE_S
        while re.search(pattern, self.text):
            assert time.monotonic() < deadline, f"the screen still shows {pattern!r}:\n{self.text}"
            time.sleep(0.1)

    def resize(self, width: int, height: int) -> None:
        """Give the window another size."""
        self._session.active_window.resize(width=width, height=height)

    def processes(self) -> list[psutil.Process]:
        """Tenaz and its workers."""
        shell = psutil.Process(int(self._pane.pane_pid or 0))
        return [child for child in shell.children(recursive=True) if "tenaz" in " ".join(child.cmdline())]

    def kill_group(self) -> None:
        """Cut everything off at once, as a crash would."""
        for process in self.processes():
            os.kill(process.pid, signal.SIGKILL)


def tenaz(book: Path, **size: int) -> Screen:
    """The workbench on a book, with its first view on the screen; a new book begins with the demo's rig."""
    if not book.exists():
        opened = open_book(book)
        opened.store.rigs.put(ridge())
        opened.store.rigs.put(this_machine())
        opened.close()
    screen = Screen("--book", str(book), **size)
    screen.until("evidence at|needs 80|baseline at stock")
    return screen
