"""What the far side keeps until it is acknowledged: notices in their order, and which load was begun on which boot."""

import json
import sqlite3
import threading
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from uuid import uuid4

from tenaz.core.base.errors import Refused
from tenaz.wire.frames import Frame

BATCH = 100
JUMP = 1_000_000
"""What a crash took of the newest notices may have been heard: on another boot numbers go on so far behind them."""

TABLES = """
CREATE TABLE IF NOT EXISTS notes (id TEXT NOT NULL, boot_id TEXT NOT NULL);
CREATE TABLE IF NOT EXISTS notices (seq INTEGER PRIMARY KEY AUTOINCREMENT, event TEXT NOT NULL, data TEXT NOT NULL);
CREATE TABLE IF NOT EXISTS loads (token TEXT PRIMARY KEY, boot_id TEXT NOT NULL, ended INTEGER NOT NULL DEFAULT 0);
"""


@dataclass(frozen=True, slots=True)
class Begun:
    """A load that was begun here: on which boot, and whether its end was written."""

    token: str
    boot_id: str
    ended: bool


class Spool:
    """Notices, numbered for as long as the file lives. For several threads. Where the disk gives out in the middle,
    memory takes what comes: a load does not end for it.

    Raises:
        Refused: it cannot be written at all; nothing is to be begun then.
    """

    def __init__(self, place: Path, boot_id: str) -> None:
        self.place, self._boot_id = place, boot_id
        self._lock = threading.RLock()
        self._held: dict[int, tuple[str, str]] = {}
        try:
            place.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
            self._base = self._opened(place)
        except (OSError, sqlite3.Error) as error:
            raise Refused(
                f"{place} on the rig cannot be written: {error}. Make room on its disk, or name another place there "
                f"with the variable XDG_STATE_HOME."
            ) from error
        found = self._base.execute("SELECT max(seq) FROM notices").fetchone()[0]
        sequence = self._base.execute("SELECT seq FROM sqlite_sequence WHERE name = 'notices'").fetchone()
        self._newest = max(found or 0, sequence[0] if sequence else 0) + (JUMP if self._is_another_boot() else 0)

    def _is_another_boot(self) -> bool:
        """Whether these are the notes of another boot; they are this one's from now on."""
        known = self._base.execute("SELECT boot_id FROM notes").fetchone()[0]
        self._base.execute("UPDATE notes SET boot_id = ?", (self._boot_id,))
        return bool(known != self._boot_id)

    def _opened(self, place: Path) -> sqlite3.Connection:
        base = _connected(place)
        try:
            base.executescript(TABLES)
        except sqlite3.DatabaseError:
            # A crash can leave half a file; what was in it came over the line, or is lost.
            base.close()
            for name in (place, *(place.with_name(place.name + end) for end in ("-wal", "-shm"))):
                with suppress(FileNotFoundError):
                    name.unlink()
            base = _connected(place)
            base.executescript(TABLES)
        if base.execute("SELECT id FROM notes").fetchone() is None:
            base.execute("INSERT INTO notes VALUES (?, ?)", (uuid4().hex, self._boot_id))
        self.name: str = base.execute("SELECT id FROM notes").fetchone()[0]
        return base

    @property
    def newest(self) -> int:
        """The number of the newest notice; 0: none was ever put."""
        return self._newest

    def put(self, event: str, data: object) -> int:
        """Keep a notice; gives its number."""
        with self._lock:
            self._newest += 1
            text = json.dumps(data, separators=(",", ":"))
            try:
                self._base.execute("INSERT INTO notices VALUES (?, ?, ?)", (self._newest, event, text))
            except sqlite3.Error:
                self._held[self._newest] = (event, text)
            return self._newest

    def after(self, seq: int) -> tuple[Frame, ...]:
        """The next notices after a number, a batch of them."""
        with self._lock:
            rows = self._base.execute(
                "SELECT seq, event, data FROM notices WHERE seq > ? ORDER BY seq LIMIT ?", (seq, BATCH)
            ).fetchall()
            rows += [(at, *one) for at, one in self._held.items() if at > seq]
        return tuple({"seq": at, "event": event, "data": json.loads(text)} for at, event, text in sorted(rows)[:BATCH])

    def acknowledged(self, seq: int) -> None:
        """All up to here is in the book: it need not be kept."""
        with self._lock, suppress(sqlite3.Error):
            self._held = {at: one for at, one in self._held.items() if at > seq}
            # Which sensors are read is told again to whoever joins later: without that samples mean nothing.
            self._base.execute("DELETE FROM notices WHERE seq <= ? AND event != 'sensors'", (seq,))
            left = self._base.execute("SELECT 1 FROM notices WHERE event != 'sensors' LIMIT 1").fetchone()
            going = self._base.execute("SELECT 1 FROM loads WHERE ended = 0 LIMIT 1").fetchone()
            # The end of a load is a notice: once none is left, all loads that ended are known.
            if not self._held and left is None and going is None:
                self._base.execute("DELETE FROM notices")
                self._base.execute("DELETE FROM loads")

    def begin(self, token: str, boot_id: str) -> None:
        """A load is about to begin.

        Raises:
            Refused: that cannot be kept; it is not begun.
        """
        try:
            with self._lock:
                self._base.execute("INSERT OR REPLACE INTO loads VALUES (?, ?, 0)", (token, boot_id))
        except sqlite3.Error as error:
            raise Refused(f"{self.place} on the rig cannot be written: {error}. Make room on its disk.") from error

    def end(self, token: str) -> None:
        """Its end is among the notices."""
        with self._lock, suppress(sqlite3.Error):
            self._base.execute("UPDATE loads SET ended = 1 WHERE token = ?", (token,))

    def loads(self) -> Iterator[Begun]:
        """Those whose end is not acknowledged yet."""
        with self._lock:
            rows = self._base.execute("SELECT token, boot_id, ended FROM loads").fetchall()
        return (Begun(token, boot_id, bool(ended)) for token, boot_id, ended in rows)

    def close(self) -> None:
        """Let go of the file."""
        with self._lock:
            self._base.close()


def _connected(place: Path) -> sqlite3.Connection:
    base = sqlite3.connect(place, timeout=5, isolation_level=None, check_same_thread=False)
    try:
        base.execute("PRAGMA journal_mode = WAL")
        # What goes with the machine is in the book already, or nowhere: the line is quicker than a disk.
        base.execute("PRAGMA synchronous = NORMAL")
    except sqlite3.DatabaseError:
        # What is wrong with it is found with the tables.
        pass
    return base
