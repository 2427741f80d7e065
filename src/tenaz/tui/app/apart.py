"""The workbench in a process of its own, so that the shell gets its terminal back while what runs goes on.

The process that was started waits; the one that works may let go of the terminal and live on without it.
"""

import os
import signal
import sys
from collections.abc import Callable
from contextlib import suppress
from types import FrameType

from tenaz.core.base.systems import signals

PR_SET_PDEATHSIG = 1
LEFT, NEXT = b"L", b"N"
"""What the one that works tells the one that waits: it goes on without it; another is to work, on which rig."""
PASSED_ON = signals("SIGTERM", "SIGHUP", "SIGINT", "SIGQUIT")


class Apart:
    """In the process that works: its way to let go of the one that waits."""

    def __init__(self, writer: int) -> None:
        self._writer = writer

    @staticmethod
    def follow() -> None:
        """From now on hear it when the one that waits is gone, as when the terminal is."""
        _die_with_parent(*signals("SIGHUP"))

    def let_go(self, words: str = "", following: str = "") -> None:
        """Go on without terminal; the one that waits says these words, and gives the terminal back, or to another that
        works on the rig ``following``.
        """
        _die_with_parent(0)
        detach()
        self._tell(NEXT + LEFT + following.encode() if following else LEFT + words.encode())

    def followed_by(self, rig: str) -> None:
        """Another is to work, on this rig, once this one has ended."""
        self._tell(NEXT + rig.encode())

    def _tell(self, what: bytes) -> None:
        with suppress(OSError):
            os.write(self._writer, what)
            os.close(self._writer)


def detach() -> None:
    """No terminal any more: nothing is read from it, nothing goes to it, its end means nothing."""
    for number in signals("SIGHUP", "SIGINT", "SIGQUIT", "SIGTSTP", "SIGWINCH"):
        signal.signal(number, signal.SIG_IGN)
    with suppress(OSError):
        os.setsid()
    # Whoever still waits for keys must not see an end of them over and over: nothing comes, for ever.
    silent, _never_written = os.pipe()
    os.dup2(silent, 0)
    nowhere = os.open(os.devnull, os.O_RDWR)
    for handle in (1, 2):
        os.dup2(nowhere, handle)
    os.close(nowhere)
    os.close(silent)


def run_apart(work: Callable[[Apart, str], int], rig: str = "") -> int:
    """Do the work in a process of its own, on one rig after the other; gives its exit status, or 0 when it went on by
    itself. Where a system has no such processes it is done here, and cannot be left running.
    """
    if not hasattr(os, "fork"):
        return work(Apart(-1), rig)
    while True:
        status, following = _one_apart(work, rig)
        if not following:
            return status
        rig = following


def _one_apart(work: Callable[[Apart, str], int], rig: str) -> tuple[int, str]:
    reader, writer = os.pipe()
    sys.stdout.flush()
    sys.stderr.flush()
    child = os.fork()
    if child == 0:
        os.close(reader)
        status = 1
        try:
            status = work(Apart(writer), rig)
        except SystemExit as leaving:
            status = leaving.code if isinstance(leaving.code, int) else int(leaving.code is not None)
        except BaseException:  # noqa: BLE001 - it is told, and the rest goes on
            sys.excepthook(*sys.exc_info())
        finally:
            with suppress(Exception):
                sys.stdout.flush()
                sys.stderr.flush()
            os._exit(status)
    os.close(writer)
    return _wait(child, reader)


def _die_with_parent(number: int) -> None:
    """Which signal the kernel sends when the process that waits is gone; 0: none."""
    import ctypes  # noqa: PLC0415 - the first picture does not wait for it

    with suppress(OSError, AttributeError):
        ctypes.CDLL(None, use_errno=True).prctl(PR_SET_PDEATHSIG, int(number), 0, 0, 0)


def _wait(child: int, reader: int) -> tuple[int, str]:
    """Until the child ends or lets go: its status, and the rig that is worked on next. Meanwhile what is sent here is
    passed on to it.
    """

    def pass_on(number: int, _frame: FrameType | None) -> None:
        with suppress(ProcessLookupError):
            os.kill(child, number)

    for number in PASSED_ON:
        signal.signal(number, pass_on)
    told = b""
    while chunk := os.read(reader, 4096):
        told += chunk
    os.close(reader)
    if told.startswith(NEXT + LEFT):
        return 0, told[2:].decode()
    if told.startswith(LEFT):
        with suppress(OSError):
            sys.stdout.write(f"{told[1:].decode()}\n" if told != LEFT else "")
            sys.stdout.flush()
        return 0, ""
    _, status = os.waitpid(child, 0)
    ended = os.waitstatus_to_exitcode(status) if os.WIFEXITED(status) else 128 + os.WTERMSIG(status)
    return ended, told[1:].decode() if told.startswith(NEXT) else ""
