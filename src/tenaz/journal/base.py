"""What every part of the book stands on: transactions that are on the disk when they end, and clear words when not."""

import errno
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager

from sqlalchemy import Connection, Engine
from sqlalchemy.exc import SQLAlchemyError

from tenaz.core.errors import BookError


def book_trouble(place: str, error: Exception) -> BookError:
    """Say what happened to the book and what to do, from what the database said."""
    cause = getattr(error, "orig", None) or error
    text = str(cause)
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


class BookBase:
    """The database, open. With ``read_only`` (why, as text) every write is refused."""

    def __init__(self, engine: Engine, place: str, read_only: str = "") -> None:
        self._engine = engine
        self.place = place
        self.read_only = read_only

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
        except SQLAlchemyError as error:
            raise book_trouble(self.place, error) from error
