"""Processes that a program starts, and those that they start: all of them end with it (Linux, prctl)."""

import ctypes
import os
import signal
import time
from contextlib import suppress

import psutil

PR_SET_PDEATHSIG, PR_SET_CHILD_SUBREAPER = 1, 36
END_GRACE_S = 0.2
"""How long a family may take to end by itself before it is ended."""

_libc = ctypes.CDLL(None, use_errno=True)


def adopt_orphans() -> None:
    """From now on what loses its parent below this process becomes its child, wherever it tries to hide."""
    _libc.prctl(PR_SET_CHILD_SUBREAPER, 1, 0, 0, 0)


def die_with_parent() -> None:
    """In a new child: be gone when its parent is, however that goes."""
    _libc.prctl(PR_SET_PDEATHSIG, signal.SIGKILL, 0, 0, 0)


def end_family(grace_s: float = END_GRACE_S) -> None:
    """End all that came from this process: asked first, killed then, until none is left."""
    until = time.monotonic() + grace_s
    family = _family()
    for member in family:
        with suppress(psutil.Error):
            member.terminate()
    while family and time.monotonic() < until:
        _reap()
        time.sleep(0.01)
        family = _family()
    for _ in range(100):
        if not family:
            return
        for member in family:
            with suppress(psutil.Error):
                member.kill()
        _reap()
        time.sleep(0.005)
        family = _family()


def _family() -> list[psutil.Process]:
    with suppress(psutil.Error):
        members = psutil.Process().children(recursive=True)
        return [member for member in members if _alive(member)]
    return []


def _alive(member: psutil.Process) -> bool:
    try:
        return bool(member.status() != psutil.STATUS_ZOMBIE)
    except psutil.Error:
        return False


def _reap() -> None:
    """Take the statuses of orphans that were adopted; the run's own process is waited for by who started it."""
    for child in psutil.Process().children():
        with suppress(psutil.Error, ChildProcessError, OSError):
            if child.status() == psutil.STATUS_ZOMBIE and child.pid not in KNOWN:
                os.waitpid(child.pid, os.WNOHANG)


KNOWN: set[int] = set()
"""Children whose status somebody else waits for."""
