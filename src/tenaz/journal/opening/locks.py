"""One writer a book: the file itself is locked, so that no other name of it slips past."""

import fcntl
import os
from pathlib import Path


class BookLock:
    """Held until released, or until its process is gone.

    The file stays open as long as the lock is held: closing any handle of it would take SQLite's own locks away.
    """

    def __init__(self, handle: int) -> None:
        self._handle = handle

    def release(self) -> None:
        """Let go of it; after the database is closed."""
        os.close(self._handle)


def lock_book(path: Path) -> BookLock | None:
    """Lock a book for writing; None when somebody else has it.

    Raises:
        OSError: it cannot be opened.
    """
    handle = os.open(path, os.O_RDONLY | os.O_CLOEXEC)
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        os.close(handle)
        return None
    except OSError:
        # A file system without such locks: better to go on than to shut everybody out.
        pass
    return BookLock(handle)
