"""A book on a database server: one writer at a time from whatever machine, others look."""

from dataclasses import dataclass
from typing import Any

from sqlalchemy import Connection, Engine, create_engine, event, inspect, make_url, text
from sqlalchemy.exc import SQLAlchemyError

from tenaz.core.errors import BookError
from tenaz.journal.migrating import HEAD_REVISION, known_revisions, migrate, revision_of
from tenaz.journal.store import Store
from tenaz.journal.tables import metadata
from tenaz.journal.troubles import book_trouble

LOCK_KEY = 0x54454E5A
"""Names the book's lock among the advisory locks of its database."""

ANSWERS_WITHIN_S = 10

DRIVERS = {"postgresql": "postgresql+psycopg"}
"""Where a URL names only the kind of database."""


class ServerLock:
    """An advisory lock, held by a connection of its own: it is gone when the process or its machine is."""

    def __init__(self, connection: Connection) -> None:
        self._connection = connection

    def release(self) -> None:
        """Let go of it."""
        engine = self._connection.engine
        self._connection.invalidate()
        self._connection.close()
        engine.dispose()


@dataclass(frozen=True, slots=True)
class OnServer:
    """The open book and its lock; None where it may only be read."""

    store: Store
    lock: ServerLock | None


def open_on_server(url: str, read_only: bool) -> OnServer:
    """Open a book by its URL, making its tables when there are none.

    A second opener gets it read-only; ``store.read_only`` then says why.

    Raises:
        BookError: other tables, a newer version's book, or a server that does not answer. Nothing is touched then.
    """
    parsed = make_url(url)
    parsed = parsed.set(drivername=DRIVERS.get(parsed.drivername, parsed.drivername))
    place = parsed.render_as_string()
    if parsed.get_backend_name() != "postgresql":
        raise BookError(
            f"{place}: a book is kept in a file (SQLite) or on a PostgreSQL server; give --book FILE or postgresql://…."
        )
    try:
        return _open(_engine(parsed), place, read_only)
    except (SQLAlchemyError, ImportError) as error:
        raise book_trouble(place, error) from error


def _engine(url: Any) -> Engine:
    engine = create_engine(url, pool_pre_ping=True, connect_args={"connect_timeout": ANSWERS_WITHIN_S})

    @event.listens_for(engine, "connect")
    def durable(connection: Any, _: object) -> None:
        # A commit is on the server's disk before anything that may crash a machine is touched.
        with connection.cursor() as cursor:
            cursor.execute("SET synchronous_commit = on")
        connection.commit()

    return engine


def _open(engine: Engine, place: str, read_only: bool) -> OnServer:
    why, lock = "the book was opened for reading only." if read_only else "", None
    if not read_only:
        lock = _lock(engine)
        if lock is None:
            why = f"another Tenaz has the book {place} open. Close it there first; here it is read-only."
    try:
        revision = revision_of(engine)
        _refuse_what_is_no_book(engine, revision, place)
        if revision != HEAD_REVISION:
            if lock is None:
                raise BookError(
                    f"The book {place} is not made, or not brought up to date yet, and may only be read here: open it "
                    f"once for writing."
                )
            migrate(engine)
    except BaseException:
        if lock is not None:
            lock.release()
        raise
    return OnServer(Store(engine, place, why), lock)


def _lock(engine: Engine) -> ServerLock | None:
    """Lock the book for writing; None when somebody else has it."""
    # Its own engine: the connection that holds the lock must not go back to a pool.
    connection = create_engine(engine.url, connect_args={"connect_timeout": ANSWERS_WITHIN_S}).connect()
    got = connection.execute(text("SELECT pg_try_advisory_lock(:key)"), {"key": LOCK_KEY}).scalar()
    connection.commit()
    lock = ServerLock(connection)
    if got:
        return lock
    lock.release()
    return None


def _refuse_what_is_no_book(engine: Engine, revision: str | None, place: str) -> None:
    names = set(inspect(engine).get_table_names())
    if revision is None and names:
        raise BookError(
            f"The database {place} holds other tables ({', '.join(sorted(names)[:3])}). It was not touched; name an "
            f"empty one."
        )
    if revision is not None and revision not in known_revisions():
        ours = "by a newer Tenaz" if names >= set(metadata.tables) - {"changes", "readings"} else "by another program"
        raise BookError(
            f"The book {place} was written {ours} (its format is {revision}, this one knows up to {HEAD_REVISION}). It "
            f"was not touched; use the newer Tenaz, or name an empty database."
        )
