"""What lies on the part of the stick that any system reads: the report, and a copy of the book to be brought home."""

import os
import sqlite3
from contextlib import closing
from pathlib import Path

from tenaz.aboard.medium import mounted

SPARE_BYTES = 1 << 20


def leave_word(text: str, html: str, book: Path) -> str:
    """Write them; gives what is to be said of it where not all was written, else nothing.

    Raises:
        Refused: the stick is not there, or cannot be written.
        OSError: it is full.
    """
    with mounted("reports") as folder:
        _put(folder / "report.txt", text.replace("\n", "\r\n").encode())
        _put(folder / "report.html", html.encode())
        return _copy(book, folder)


def _put(path: Path, data: bytes) -> None:
    beside = path.with_suffix(".new")
    beside.write_bytes(data)
    beside.replace(path)


def _copy(book: Path, folder: Path) -> str:
    room = os.statvfs(folder)
    old = folder / "book.db"
    free = room.f_bavail * room.f_frsize + (old.stat().st_size if old.is_file() else 0)
    with closing(sqlite3.connect(f"file:{book}?mode=ro", uri=True)) as source:
        size = source.execute("PRAGMA page_count").fetchone()[0] * source.execute("PRAGMA page_size").fetchone()[0]
        if size + SPARE_BYTES > free:
            return f"the book ({size >> 20} MiB) is too large for the part that any system reads; it is on the stick"
        old.unlink(missing_ok=True)
        with closing(sqlite3.connect(old)) as into:
            into.execute("PRAGMA journal_mode=OFF")
            source.backup(into)
    return ""
