"""The one door to SQLite, for reading and for writing: a file by its path, whatever signs its name has."""

import os
import sqlite3
from functools import partial
from pathlib import Path

from sqlalchemy import Connection, Engine, create_engine, event
from sqlalchemy.pool import QueuePool

BUSY_S = 5.0


def sqlite_engine(path: Path, read_only: bool = False) -> Engine:
    """An engine over one file. The driver's own handling of transactions is off: each begins where it is said to and
    holds all that is done in it, changes of tables too.
    """
    whole = path.absolute()

    def connect() -> sqlite3.Connection:
        if read_only:
            return looking(whole)
        connection = sqlite3.connect(whole, timeout=BUSY_S, isolation_level=None, check_same_thread=False)
        connection.execute("PRAGMA journal_mode = WAL")
        # FULL: a commit is on the disk before anything that may crash the machine is touched.
        connection.execute("PRAGMA synchronous = FULL")
        return _as_we_like_it(connection)

    engine = create_engine("sqlite://", creator=connect, poolclass=QueuePool)

    @event.listens_for(engine, "begin")
    def _begin(connection: Connection) -> None:
        # Who is going to write says so at once, and waits for others who do: a reader that turns writer cannot wait.
        writes = connection.get_execution_options().get("writes")
        connection.exec_driver_sql("BEGIN IMMEDIATE" if writes else "BEGIN")

    return engine


def looking(path: Path) -> sqlite3.Connection:
    """A connection that cannot write; on a medium that cannot be written either, where SQLite keeps no notes beside."""
    path = path.absolute()
    uri = f"{path.as_uri()}?mode=ro"
    wal = path.with_name(path.name + "-wal")
    if not os.access(path.parent, os.W_OK) and not (wal.exists() and wal.stat().st_size):
        uri += "&immutable=1"
    connection = sqlite3.connect(uri, uri=True, timeout=BUSY_S, isolation_level=None, check_same_thread=False)
    return _as_we_like_it(connection)


def _as_we_like_it(connection: sqlite3.Connection) -> sqlite3.Connection:
    connection.execute("PRAGMA foreign_keys = ON")
    # A text that is damaged is still shown as far as it goes.
    connection.text_factory = partial(str, encoding="utf-8", errors="replace")
    return connection
