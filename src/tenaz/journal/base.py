"""What every part of the book stands on: transactions that are on the disk when they end, and clear words when not."""

import errno
import sqlite3
import zlib
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from typing import TypeVar

from sqlalchemy import Connection, Engine, RowMapping
from sqlalchemy.exc import SQLAlchemyError

from tenaz.core.errors import BookError, TenazError


def book_trouble(place: str, error: Exception) -> BookError:
    """Say what happened to the book and what to do, from what the database said."""
    cause = getattr(error, "orig", None) or error
    text = str(cause)
    if isinstance(cause, OSError) and cause.strerror:
        text = cause.strerror
    code = getattr(cause, "sqlite_errorcode", None)
    full = code == sqlite3.SQLITE_FULL or getattr(cause, "errno", None) == errno.ENOSPC or "disk is full" in text
    if full:
        return BookError(
            f"The book {place} could not be written: the disk is full. Everything written before is kept; make room "
            f"and go on."
        )
    if "not a database" in text or "malformed" in text:
        return BookError(
            f"{place} cannot be read as a book ({text}). It was not touched; name another with --book, or restore "
            f"it from a copy."
        )
    if "locked" in text:
        return BookError(f"The book {place} is held by another program ({text}). Close that, then try again.")
    if "readonly" in text or "read-only" in text or "unable to open" in text:
        return BookError(
            f"The book {place} cannot be opened for writing ({text}). Check its folder's permissions, or name "
            f"another with --book."
        )
    return BookError(f"The book {place} could not be read or written: {text}.")


Read = TypeVar("Read")

DAMAGE = (ValueError, TypeError, LookupError, ArithmeticError, AttributeError, TenazError, zlib.error)
"""What reading a damaged row raises: values that are none, lengths that do not fit, moves that no table holds."""
MOST_WHY = 120


class BookBase:
    """The database, open. With ``read_only`` (why, as text) every write is refused."""

    def __init__(self, engine: Engine, place: str, read_only: str = "") -> None:
        self._engine = engine
        self.place = place
        self.read_only = read_only
        self.unread: dict[str, str] = {}
        """Rows that could not be read and were passed over: which, and why."""

    def _readable(self, what: str, rows: Iterable[RowMapping], read: Callable[[RowMapping], Read]) -> tuple[Read, ...]:
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

    @contextmanager
    def _writing(self) -> Iterator[Connection]:
        if self.read_only:
            raise BookError(f"Nothing can be written: {self.read_only}")
        try:
            with self._engine.begin() as connection:
                yield connection
        except (SQLAlchemyError, OSError) as error:
            raise book_trouble(self.place, error) from error

    @contextmanager
    def _reading(self) -> Iterator[Connection]:
        try:
            with self._engine.connect() as connection:
                yield connection
        except (SQLAlchemyError, sqlite3.Error) as error:
            raise book_trouble(self.place, error) from error
