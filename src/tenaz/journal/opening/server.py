"""A book on a database server: one writer at a time from whatever machine, others look."""

import time
from dataclasses import dataclass

from sqlalchemy import URL, Connection, Engine, create_engine, event, inspect, text
from sqlalchemy.engine.interfaces import DBAPIConnection
from sqlalchemy.exc import SQLAlchemyError

from tenaz.core.base.errors import BookError
from tenaz.journal.base.tables import metadata
from tenaz.journal.base.troubles import book_trouble
from tenaz.journal.opening.addresses import shown, url_of, without_secrets
from tenaz.journal.opening.migrating import HEAD_REVISION, known_revisions, migrate, revision_of
from tenaz.journal.store import Store

LOCK_KEY = 0x54454E5A
"""Names the book's lock among the advisory locks of its database."""

ANSWERS_WITHIN_S = 10

DRIVERS = {"postgresql": "postgresql+psycopg"}
"""Where a URL names only the kind of database."""


WRITING_KEY = LOCK_KEY + 1
"""Names the lock that one transaction of writing holds, so that none overlaps another writer's."""

MADE_WITHIN_S, LOOK_AGAIN_S = 20.0, 0.2
"""How long whoever may only look waits for another to make the tables, or to bring them up to date."""


class ServerLock:
    """An advisory lock, held by a connection of its own: it is gone when the process or its machine is.

    A server that was started anew, or cut the connection, has forgotten it: each write looks whether it is still held,
    asks for it again where it is not, and is refused where somebody else has it by now.
    """

    def __init__(self, url: URL, place: str) -> None:
        self._url, self._place = url, place
        self._connection: Connection | None = None
        self._backend = 0

    def take(self) -> bool:
        """Lock the book for writing; whether it could be had."""
        self.release()
        # Its own engine: the connection that holds the lock must not go back to a pool.
        connection = create_engine(self._url, connect_args={"connect_timeout": ANSWERS_WITHIN_S}).connect()
        got = connection.execute(text("SELECT pg_try_advisory_lock(:key)"), {"key": LOCK_KEY}).scalar()
        self._backend = int(connection.execute(text("SELECT pg_backend_pid()")).scalar_one())
        connection.commit()
        self._connection = connection
        if not got:
            self.release()
        return bool(got)

    def hold(self, rig: str) -> bool:
        """Whoever has the book has all its rigs."""
        del rig
        return True

    def held_elsewhere(self, rig: str) -> bool:
        """Nobody else can hold one."""
        del rig
        return False

    def before_write(self, writing: Connection) -> None:
        """See that the lock is held, within the transaction that is going to write.

        Raises:
            BookError: it was lost, and somebody else has it.
        """
        writing.execute(text("SELECT pg_advisory_xact_lock(:key)"), {"key": WRITING_KEY})
        if self._held(writing) or (self.take() and self._held(writing)):
            return
        raise BookError(
            f"Nothing can be written: the server of the book {self._place} let go of the hold on it, and another "
            f"Tenaz writes there now. Close that one, and open the book here again."
        )

    def _held(self, writing: Connection) -> bool:
        held = text(
            "SELECT EXISTS (SELECT 1 FROM pg_locks WHERE locktype = 'advisory' AND granted AND pid = :pid "
            "AND objid = CAST(:key AS oid) AND classid = 0 "
            "AND database = (SELECT oid FROM pg_database WHERE datname = current_database()))"
        )
        return bool(writing.execute(held, {"pid": self._backend, "key": LOCK_KEY}).scalar())

    def release(self) -> None:
        """Let go of it."""
        connection, self._connection, self._backend = self._connection, None, 0
        if connection is None:
            return
        engine = connection.engine
        connection.invalidate()
        connection.close()
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
    parsed = url_of(url)
    parsed = parsed.set(drivername=DRIVERS.get(parsed.drivername, parsed.drivername))
    place = shown(parsed)
    if parsed.get_backend_name() != "postgresql":
        raise BookError(
            f"{place}: a book is kept in a file (SQLite) or on a PostgreSQL server; give --book FILE or postgresql://…."
        )
    try:
        return _open(_engine(parsed), place, read_only)
    except (SQLAlchemyError, ImportError) as error:
        raise BookError(without_secrets(str(book_trouble(place, error)), parsed)) from None


def _engine(url: URL) -> Engine:
    engine = create_engine(url, pool_pre_ping=True, connect_args={"connect_timeout": ANSWERS_WITHIN_S})

    @event.listens_for(engine, "connect")
    def durable(connection: DBAPIConnection, _: object) -> None:
        # A commit is on the server's disk before anything that may crash a machine is touched.
        cursor = connection.cursor()
        cursor.execute("SET synchronous_commit = on")
        cursor.close()
        connection.commit()

    return engine


def _open(engine: Engine, place: str, read_only: bool) -> OnServer:
    why, lock = "the book was opened for reading only." if read_only else "", None
    why = why or _may_only_look(engine)
    if not why:
        lock = ServerLock(engine.url, place)
        if not lock.take():
            lock = None
            why = f"another Tenaz has the book {place} open. Close it there first; here it is read-only."
    try:
        revision = revision_of(engine) if lock is not None else _made_by_another(engine)
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
    return OnServer(Store(engine, place, why, lock.before_write if lock is not None else None), lock)


def _may_only_look(engine: Engine) -> str:
    """Why this user cannot write to the book; empty where it can, or where there is none yet."""
    asked = text(
        "SELECT current_user, current_setting('default_transaction_read_only') = 'on', CASE WHEN "
        "to_regclass('trials') IS NULL THEN TRUE ELSE has_table_privilege('trials', 'INSERT, UPDATE') END"
    )
    with engine.connect() as connection:
        user, looks_only, may_write = connection.execute(asked).one()
    if looks_only:
        return f"the server gives the user {user} this database for reading only."
    return "" if may_write else f"the user {user} may only read it; ask whoever keeps the server for more."


def _made_by_another(engine: Engine) -> str | None:
    """Up to which migration the database has come, once whoever is making it is done."""
    until = time.monotonic() + MADE_WITHIN_S
    while (revision := revision_of(engine)) != HEAD_REVISION and time.monotonic() < until:
        if revision is not None and revision not in known_revisions():
            break
        if revision is None and not _somebody_writes(engine):
            break
        time.sleep(LOOK_AGAIN_S)
    return revision


def _somebody_writes(engine: Engine) -> bool:
    with engine.connect() as connection:
        held = text("SELECT EXISTS (SELECT 1 FROM pg_locks WHERE locktype = 'advisory' AND objid = CAST(:key AS oid))")
        return bool(connection.execute(held, {"key": LOCK_KEY}).scalar())


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
