"""Who works on which rig of a book on a server: advisory locks, one a rig, that are gone with whoever held them."""

import getpass
import socket
import threading
import zlib
from contextlib import suppress

from sqlalchemy import URL, Connection, create_engine, text
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.pool import NullPool

from tenaz.core.base.systems import user_number

RIGS = 0x54454E5A
"""The first of the two numbers of these locks; the second tells the rig."""

ANSWERS_WITHIN_S = 10
MOST_NAME = 63
SILENT = {"keepalives_idle": 5, "keepalives_interval": 2, "keepalives_count": 3, "tcp_user_timeout": 10_000}
"""A server that is gone is known to be within some ten seconds."""
FORGETS = "SET tcp_keepalives_idle = 5; SET tcp_keepalives_interval = 2; SET tcp_keepalives_count = 3"
"""And so does the server of a machine that is gone: its rigs are free then."""
HELD = text(
    "SELECT objid::bigint, application_name, pid = ANY(:mine) FROM pg_locks JOIN pg_stat_activity USING (pid) "
    "WHERE locktype = 'advisory' AND granted AND classid = CAST(:rigs AS oid) AND pg_locks.database = "
    "(SELECT oid FROM pg_database WHERE datname = current_database())"
)


def called() -> str:
    """Who this is, for others: like ``mara@bench2``."""
    try:
        user = getpass.getuser()
    except (OSError, KeyError):
        user = user_number()
    return f"{user}@{socket.gethostname()}"[:MOST_NAME].encode("ascii", "replace").decode()


class RigLocks:
    """Held by a connection of its own, so that they are gone when the process or its machine is."""

    def __init__(self, url: URL) -> None:
        arguments = {"connect_timeout": ANSWERS_WITHIN_S, "application_name": called(), **SILENT}
        # Its own engine: the connection that holds a lock must not go back to a pool.
        self._engine = create_engine(url, poolclass=NullPool, isolation_level="AUTOCOMMIT", connect_args=arguments)
        self._connection: Connection | None = None
        self._mutex = threading.Lock()
        self._rig = ""
        self._backend = 0

    def take(self, rig: str) -> str:
        """Be the one who works on this rig, and no longer on the one before. Gives who does in our place; empty: we do.

        Raises:
            SQLAlchemyError: the server does not answer.
        """
        with self._mutex:
            connection = self._connected()
            if self._rig and self._rig != rig:
                self._let_go(connection)
            if self._rig == rig:
                return ""
            asked = {"rigs": RIGS, "rig": place_of(rig)}
            if connection.execute(text("SELECT pg_try_advisory_lock(:rigs, :rig)"), asked).scalar():
                self._rig = rig
                return ""
            return self._holders(connection).get(place_of(rig), ("somebody", False))[0]

    def others(self) -> dict[int, str]:
        """By the rig's place: who else works on it now.

        Raises:
            SQLAlchemyError: the server does not answer.
        """
        with self._mutex:
            found = self._holders(self._connected())
        return {place: who for place, (who, mine) in found.items() if not mine}

    def lost(self) -> None:
        """The server is gone, and with it what was held there."""
        with self._mutex:
            connection, self._connection, self._rig = self._connection, None, ""
            if connection is not None:
                with suppress(SQLAlchemyError):
                    connection.invalidate()
                    connection.close()

    def close(self) -> None:
        """Let go of all."""
        self.lost()
        self._engine.dispose()

    def _connected(self) -> Connection:
        if self._connection is None or self._connection.invalidated:
            self._rig = ""
            self._connection = self._engine.connect()
            self._connection.exec_driver_sql(FORGETS)
            self._backend = int(self._connection.execute(text("SELECT pg_backend_pid()")).scalar_one())
        return self._connection

    def _let_go(self, connection: Connection) -> None:
        self._rig = ""
        connection.exec_driver_sql("SELECT pg_advisory_unlock_all()")

    def _holders(self, connection: Connection) -> dict[int, tuple[str, bool]]:
        rows = connection.execute(HELD, {"rigs": RIGS, "mine": [self._backend]})
        return {_signed(int(place)): (str(who) or "somebody", bool(mine)) for place, who, mine in rows}


def place_of(rig: str) -> int:
    """A rig's number among the locks."""
    return _signed(zlib.crc32(rig.encode("utf-8", "surrogateescape")))


def _signed(number: int) -> int:
    return number - (1 << 32) if number >= 1 << 31 else number
