"""What every part of the book stands on: transactions that are on the disk when they end, and clear words when not."""

import sqlite3
import time
import zlib
from collections.abc import Callable, Iterable, Iterator, Mapping
from contextlib import contextmanager
from typing import Any, TypeVar

from sqlalchemy import Connection, Engine, RowMapping, Table, event, select
from sqlalchemy.exc import OperationalError, SQLAlchemyError

from tenaz.core.base.errors import BookError, Refused, TenazError
from tenaz.journal.base import tables as t
from tenaz.journal.base.troubles import book_trouble

Read = TypeVar("Read")
Told = TypeVar("Told")

DAMAGE = (ValueError, TypeError, LookupError, ArithmeticError, AttributeError, TenazError, zlib.error)
"""What reading a damaged row raises: values that are none, lengths that do not fit, moves that no table holds."""
MOST_WHY = 120

MOST_VALUE_BYTES = 32 * 2**20
MOST_STATEMENT_S = 60.0
STEPS_BETWEEN_LOOKS = 20_000
"""Of SQLite's machine; well under a millisecond."""


def _key_of(row: Any) -> object:
    if isinstance(row, RowMapping):
        return next((row[key] for key in ("id", "trial_id") if key in row), "?")
    return row[0]


class StatementWatch:
    """Looks at a statement while it runs, from within."""

    def __init__(self) -> None:
        self._began_s = time.monotonic()
        self.ended = False

    def begins(self, *_: object) -> None:
        """A statement begins."""
        self._began_s = time.monotonic()

    def goes_on(self) -> int:
        """Whether it may go on (0), or is ended."""
        self.ended = time.monotonic() - self._began_s > MOST_STATEMENT_S
        return int(self.ended)


class Database:
    """The database, open. With ``read_only`` (why, as text) every write is refused; ``before_write`` looks within each
    transaction that writes whether it still may.
    """

    def __init__(
        self,
        engine: Engine,
        place: str,
        read_only: str = "",
        before_write: Callable[[Connection], None] | None = None,
    ) -> None:
        self._engine, self._before_write = engine, before_write
        self._rig_ids: dict[str, int] = {}
        self._watching: Connection | None = None
        self.place = place
        self.read_only = read_only
        self.unread: dict[str, str] = {}
        """Rows that could not be read and were passed over: which, and why."""

    def readable(self, what: str, rows: Iterable[Told], read: Callable[[Told], Read]) -> tuple[Read, ...]:
        """What rows hold; one that cannot be read is named and passed over, the others are still there. Rows are named
        by their id, or by what stands first.
        """
        found = []
        for row in rows:
            try:
                found.append(read(row))
            except DAMAGE as error:
                key = _key_of(row)
                why = str(error).splitlines()[0] if str(error) else type(error).__name__
                self.unread[f"{what} {key}"] = why[:MOST_WHY]
        return tuple(found)

    def close(self) -> None:
        """Let go of the database."""
        if self._watching is not None:
            self._watching.close()
        self._engine.dispose()

    @property
    def engine(self) -> Engine:
        """What it is reached by."""
        return self._engine

    @property
    def on_server(self) -> bool:
        """Whether several may write at once, from other machines."""
        return self._engine.dialect.name != "sqlite"

    def version(self) -> int:
        """Another number whenever anything was written in a file, by whomever; asked on a connection of its own."""
        if self.on_server:
            return 0
        if self._watching is None:
            self._watching = self._engine.connect()
        found = int(self._watching.exec_driver_sql("PRAGMA data_version").scalar() or 0)
        self._watching.rollback()
        return found

    def forget_rigs(self) -> None:
        """Rigs were renamed by another book: their rows are looked up again."""
        self._rig_ids = {}

    def rig_id(self, connection: Connection, name: str) -> int:
        """The row of a rig; rigs are never taken out, so it is looked up once.

        Raises:
            Refused: there is none.
        """
        if name not in self._rig_ids:
            found = connection.execute(select(t.rigs.c.id).where(t.rigs.c.name == name)).scalar()
            if found is None:
                raise Refused(f"The book has no rig {name!r}.")
            self._rig_ids[name] = int(found)
        return self._rig_ids[name]

    def put(self, connection: Connection, table: Table, keys: Mapping[str, Any], values: Mapping[str, Any]) -> None:
        """Insert a row, or change the one with these keys: one statement, so that two who do it do not collide."""
        if self.on_server:
            from sqlalchemy.dialects.postgresql import insert  # noqa: PLC0415 - a file's book does not pay for it
        else:
            from sqlalchemy.dialects.sqlite import insert  # type: ignore[assignment] # noqa: PLC0415
        statement = insert(table).values(**keys, **values)
        connection.execute(statement.on_conflict_do_update(index_elements=list(keys), set_=dict(values)))

    @contextmanager
    def writing(self) -> Iterator[Connection]:
        """One transaction, which is on the disk when it ends; BookError where it cannot be.

        Raises:
            BookError: the book is only looked at, or cannot be written.
        """
        if self.read_only:
            raise BookError(f"Nothing can be written: {self.read_only}")
        try:
            with self._engine.execution_options(writes=True).begin() as connection:
                if self._before_write is not None:
                    self._before_write(connection)
                yield connection
        except (SQLAlchemyError, OSError) as error:
            raise book_trouble(self.place, error) from error

    @contextmanager
    def reading_still(self) -> Iterator[Connection]:
        """A connection by which the book is read as it stood at one moment, whatever is written meanwhile."""
        with self.reading() as connection:
            if self.on_server:
                connection.exec_driver_sql("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ")
            yield connection

    @contextmanager
    def reading_warily(self) -> Iterator[Connection]:
        """A connection to read a book by that came from elsewhere: a statement that does not end is ended, and so is
        one that somebody interrupts; a value of absurd size is refused.

        Raises:
            BookError: a statement took too long.
            KeyboardInterrupt: it was interrupted.
        """
        with self.reading() as connection:
            raw = connection.connection.driver_connection
            if not isinstance(raw, sqlite3.Connection):
                yield connection
                return
            watch = StatementWatch()
            raw.setlimit(sqlite3.SQLITE_LIMIT_LENGTH, MOST_VALUE_BYTES)
            raw.set_progress_handler(watch.goes_on, STEPS_BETWEEN_LOOKS)
            event.listen(connection, "before_cursor_execute", watch.begins)
            try:
                yield connection
            except OperationalError as error:
                if not watch.ended and "interrupted" in str(error.orig):
                    # An interrupt that comes while SQLite works is raised in what it calls, and ends there.
                    raise KeyboardInterrupt from error
                if watch.ended:
                    raise BookError(
                        f"The book {self.place} did not answer within {MOST_STATEMENT_S:.0f} s: it is damaged, or made "
                        f"to hold us up. Nothing was brought."
                    ) from error
                raise
            finally:
                event.remove(connection, "before_cursor_execute", watch.begins)
                raw.set_progress_handler(None, 0)

    @contextmanager
    def reading(self) -> Iterator[Connection]:
        """A connection to read by."""
        try:
            with self._engine.connect() as connection:
                yield connection
        except (SQLAlchemyError, sqlite3.Error) as error:
            raise book_trouble(self.place, error) from error
