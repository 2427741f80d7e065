"""Who writes in a book's file: several may, each at a rig of its own. The file itself is locked, so that no other name
of it slips past.
"""

import os
import struct
import zlib
from pathlib import Path

from tenaz.core.base.systems import CLOEXEC

try:
    import fcntl
except ImportError:
    # A system without such locks: better to go on than to shut everybody out.
    fcntl = None  # type: ignore[assignment]

FIRST_RIG = 1 << 61
"""Bytes from here on are the rigs', one each; no file reaches so far, and SQLite's own locks lie below."""


class BookLock:
    """Held until released, or until its process is gone.

    The file stays open as long as the lock is held: closing any handle of it would take SQLite's own locks away.
    """

    who = ""
    """A file does not tell who holds a rig that could not be had."""

    def __init__(self, handle: int) -> None:
        self._handle = handle
        self._held: int | None = None

    def hold(self, rig: str) -> bool:
        """Be the one who works on this rig, and no longer on the one before; whether nobody else does."""
        self.let_go()
        place = _place(rig)
        if not self._lock("F_WRLCK", place):
            return False
        self._held = place
        return True

    def held_elsewhere(self, rig: str) -> bool:
        """Whether somebody else works on this rig now."""
        return _held(self._handle, rig)

    def holder(self, rig: str) -> str:
        """A file does not tell who holds it."""
        del rig
        return ""

    def let_go(self) -> None:
        """Work on no rig any more."""
        if self._held is not None:
            self._lock("F_UNLCK", self._held)
            self._held = None

    def alone(self) -> bool:
        """Be the only one who has the book open for writing; whether that is so."""
        if fcntl is None:
            return True
        try:
            fcntl.flock(self._handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            return False
        except OSError:
            return True
        return True

    def among_others(self) -> None:
        """Let others open it for writing again."""
        if fcntl is None:
            return
        try:
            fcntl.flock(self._handle, fcntl.LOCK_SH | fcntl.LOCK_NB)
        except OSError:
            # A file system without such locks.
            return

    def _lock(self, kind: str, place: int) -> bool:
        """One byte, held by this opening of the file: other openings in this process are others."""
        if fcntl is None:
            return True
        asked = struct.pack("hhqqi", getattr(fcntl, kind), os.SEEK_SET, place, 1, 0)
        try:
            fcntl.fcntl(self._handle, fcntl.F_OFD_SETLK, asked)
        except (BlockingIOError, PermissionError):
            return False
        except OSError:
            # A file system without such locks: better to go on than to shut everybody out.
            return True
        return True

    def release(self) -> None:
        """Let go of it; after the database is closed."""
        os.close(self._handle)


class BookLooked:
    """A book's file as who only looks at it has it: nothing is held, who holds what is seen."""

    who = ""

    def __init__(self, path: Path) -> None:
        self._path = path

    def hold(self, rig: str) -> bool:
        """Who only looks holds nothing, and is in nobody's way."""
        del rig
        return True

    def held_elsewhere(self, rig: str) -> bool:
        """Whether somebody works on this rig now."""
        try:
            return _held(_looked_at(self._path), rig)
        except OSError:
            return False

    def holder(self, rig: str) -> str:
        """A file does not tell who holds it."""
        del rig
        return ""

    def release(self) -> None:
        """There is nothing to let go of."""


_LOOKED_AT: dict[tuple[int, int], int] = {}


def _looked_at(path: Path) -> int:
    """A handle of a file, opened once and never closed: closing any would take away what SQLite holds of it here."""
    found = path.stat()
    key = found.st_dev, found.st_ino
    if key not in _LOOKED_AT:
        _LOOKED_AT[key] = os.open(path, os.O_RDONLY | CLOEXEC)
    return _LOOKED_AT[key]


def _held(handle: int, rig: str) -> bool:
    """Whether another opening of a file holds a rig."""
    if fcntl is None:
        return False
    asked = struct.pack("hhqqi", fcntl.F_WRLCK, os.SEEK_SET, _place(rig), 1, 0)
    try:
        told = fcntl.fcntl(handle, fcntl.F_OFD_GETLK, asked)
    except OSError:
        return False
    return bool(struct.unpack("hhqqi", told[: len(asked)])[0] != fcntl.F_UNLCK)


def _place(rig: str) -> int:
    return FIRST_RIG + zlib.crc32(rig.encode("utf-8", "surrogateescape"))


def wait_for(handle: int) -> None:
    """Have a file that is open for oneself alone; whoever has it is waited for."""
    if fcntl is not None:
        fcntl.flock(handle, fcntl.LOCK_EX)


def lock_book(path: Path) -> BookLock | None:
    """Open a book for writing beside others who do; None when somebody has it for himself alone.

    Raises:
        OSError: it cannot be opened.
    """
    handle = os.open(path, os.O_RDWR | CLOEXEC)
    if fcntl is None:
        return BookLock(handle)
    try:
        fcntl.flock(handle, fcntl.LOCK_SH | fcntl.LOCK_NB)
    except BlockingIOError:
        os.close(handle)
        return None
    except OSError:
        # A file system without such locks: better to go on than to shut everybody out.
        pass
    return BookLock(handle)
