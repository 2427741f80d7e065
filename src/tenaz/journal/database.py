"""What every part of the book stands on: transactions that are on the disk when they end, and clear words when not."""

import sqlite3
import zlib
from collections.abc import Callable, Iterable, Iterator, Mapping
from contextlib import contextmanager
from typing import Any, TypeVar

from sqlalchemy import Connection, Engine, RowMapping, Table, select
from sqlalchemy.exc import SQLAlchemyError

from tenaz.core.errors import BookError, Refused, TenazError
from tenaz.journal import tables as t
from tenaz.journal.troubles import book_trouble

Read = TypeVar("Read")

DAMAGE = (ValueError, TypeError, LookupError, ArithmeticError, AttributeError, TenazError, zlib.error)
"""What reading a damaged row raises: values that are none, lengths that do not fit, moves that no table holds."""
MOST_WHY = 120


class Database:
    """The database, open. With ``read_only`` (why, as text) every write is refused."""

    def __init__(self, engine: Engine, place: str, read_only: str = "") -> None:
        self._engine = engine
        self._rig_ids: dict[str, int] = {}
        self.place = place
        self.read_only = read_only
        self.unread: dict[str, str] = {}
        """Rows that could not be read and were passed over: which, and why."""

    def readable(self, what: str, rows: Iterable[RowMapping], read: Callable[[RowMapping], Read]) -> tuple[Read, ...]:
        """What rows hold; one that cannot be read is named and passed over, the others are still there."""
        found = []
        for row in rows:
            try:
                found.append(read(row))
            except DAMAGE as error:
                key = next((row[key] for key in ("id", "trial_id") if key in row), "?")
                why = str(error).splitlines()[0] if str(error) else type(error).__name__
                self.unread[f"{what} {key}"] = why[:MOST_WHY]
        return tuple(found)

    def close(self) -> None:
        """Let go of the database."""
        self._engine.dispose()

    @property
    def on_server(self) -> bool:
        """Whether several may write at once, from other machines."""
        return self._engine.dialect.name != "sqlite"

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
        """One transaction, which is on the disk when it ends; BookError where it cannot be."""
        if self.read_only:
            raise BookError(f"Nothing can be written: {self.read_only}")
        try:
            with self._engine.execution_options(writes=True).begin() as connection:
                yield connection
        except (SQLAlchemyError, OSError) as error:
            raise book_trouble(self.place, error) from error

    @contextmanager
    def reading(self) -> Iterator[Connection]:
        """A connection to read by."""
        try:
            with self._engine.connect() as connection:
                yield connection
        except (SQLAlchemyError, sqlite3.Error) as error:
            raise book_trouble(self.place, error) from error
