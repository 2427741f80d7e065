"""Files that are written whole, or not at all."""

import glob
import os
import stat
import tempfile
import time
from contextlib import suppress
from pathlib import Path

from tenaz.core.base.errors import TenazError
from tenaz.core.base.systems import owns


def write_whole(path: Path, content: str | bytes, for_all: bool = False) -> None:
    """Write a file whole or not at all, readable by its owner only, or ``for_all``. Beside it first, under a name that
    nobody can have laid there; a link at ``path`` is replaced, not followed.

    Raises:
        TenazError: it cannot be written; says why.
    """
    data = content.encode() if isinstance(content, str) else content
    beside: Path | None = None
    try:
        if path.exists() and not path.is_file():
            raise TenazError(f"{path} is no file that could be written over; name another.")
        prefix = f".{path.name[:40]}."
        _sweep(path.absolute().parent, prefix)
        handle, name = tempfile.mkstemp(dir=path.absolute().parent, prefix=prefix)
        beside = Path(name)
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        if for_all:
            beside.chmod(READABLE)
        beside.replace(path)
    except (OSError, ValueError) as error:
        if beside is not None:
            with suppress(OSError):
                beside.unlink()
        why = error.strerror if isinstance(error, OSError) else str(error)
        raise TenazError(f"{path} could not be written: {why}. Choose another place.") from error


def _sweep(folder: Path, prefix: str) -> None:
    """Remove what writers of this file left behind who were killed: no write takes so long."""
    with suppress(OSError):
        for left in folder.glob(f"{glob.escape(prefix)}{'[a-z0-9_]' * RANDOM_LETTERS}"):
            told = left.stat(follow_symlinks=False)
            if stat.S_ISREG(told.st_mode) and owns(told.st_uid) and time.time() - told.st_mtime > LEFT_AFTER_S:
                left.unlink()


READABLE = 0o644
RANDOM_LETTERS = 8
"""Of a temporary file's name, see :mod:`tempfile`."""
LEFT_AFTER_S = 60.0
