"""Opening a book: finding it, checking that it is one, making it or bringing it up to date; one writer a rig."""

import os
import sqlite3
import stat
import tempfile
from contextlib import closing, suppress
from dataclasses import dataclass, field
from pathlib import Path
from typing import TYPE_CHECKING

from sqlalchemy import Engine
from sqlalchemy.exc import SQLAlchemyError

from tenaz.core.base.errors import BookError
from tenaz.core.base.systems import CLOEXEC
from tenaz.journal.base.tables import metadata
from tenaz.journal.base.troubles import book_trouble
from tenaz.journal.feed.triggers import sqlite_triggers
from tenaz.journal.opening.addresses import shown, url_of
from tenaz.journal.opening.engines import looking, sqlite_engine
from tenaz.journal.opening.locks import BookLock, BookLooked, lock_book, wait_for
from tenaz.journal.opening.migrating import HEAD_REVISION, known_revisions, migrate, revision_of
from tenaz.journal.opening.places import default_place
from tenaz.journal.store import Store

if TYPE_CHECKING:
    from tenaz.journal.opening.copies import CopyLock
    from tenaz.journal.opening.feeding import Feeding

APPLICATION_ID = 0x54454E5A
"""Marks an SQLite file as a book of Tenaz (``TENZ``)."""

IN_USE = "another Tenaz has the book {path} for itself, of another version. Close it there first; here it is read-only."
SQLITE_MAGIC = b"SQLite format 3\x00"


@dataclass(slots=True)
class OpenBook:
    """A book, the lock by which its rigs are held, and what is thrown away when it is closed."""

    store: Store
    lock: "BookLock | BookLooked | CopyLock | None" = None
    throw_away: list["tempfile.TemporaryDirectory[str]"] = field(default_factory=list)
    feeding: "Feeding | None" = None
    """Keeps a working copy in step with the book on its server; none where the file is the book."""

    def hold(self, rig: str) -> bool:
        """Be the one who works on this rig, and no longer on the one before; whether nobody else does."""
        return self.lock is None or self.lock.hold(rig)

    def held_elsewhere(self, rig: str) -> bool:
        """Whether somebody else works on this rig now; who only looks at a book is not told."""
        return self.lock is not None and self.lock.held_elsewhere(rig)

    def runs_anywhere(self) -> bool:
        """Whether somebody else works on any rig of it now."""
        return any(self.held_elsewhere(rig) for rig in self.store.rigs.names())

    @property
    def held_by(self) -> str:
        """Who works on the rig that could not be had; empty: another program of this machine."""
        return "" if self.lock is None else self.lock.who

    def holder(self, rig: str) -> str:
        """Who else works on a rig, by name; empty: nobody, or another program of this machine."""
        return "" if self.lock is None else self.lock.holder(rig)

    def close(self) -> None:
        """Let go of all; what a working copy has is told to its home first."""
        feeding, self.feeding = self.feeding, None
        if feeding is not None:
            feeding.close()
        self.store.close()
        lock, self.lock = self.lock, None
        if lock is not None:
            lock.release()
        for folder in self.throw_away:
            folder.cleanup()


def open_book(place: str | Path | None = None, read_only: bool = False) -> OpenBook:
    """Open a book by path or SQLAlchemy URL, making it when it is not there.

    Several may write in it, each at a rig that it holds (:meth:`OpenBook.hold`). Of a book on a server this machine's
    working copy is opened, and kept in step with it. Whoever opens one that may only be
    read, or one that somebody has for himself alone, gets it read-only; ``store.read_only`` then says why. An older one
    is then shown from a copy that was brought up to date.

    Raises:
        BookError: not a database, another program's database, a newer version's book, or not to be opened. The file
            is never touched in these cases.
    """
    path = _path_of(place)
    if path is None:
        from tenaz.journal.opening.working_copy import open_working_copy  # noqa: PLC0415 - nor does a file's book

        return open_working_copy(str(place or default_place()), read_only)
    try:
        return open_file(path, read_only)
    except (SQLAlchemyError, sqlite3.Error, OSError, ValueError) as error:
        raise book_trouble(str(path), error) from error


def _path_of(place: str | Path | None) -> Path | None:
    """The file that is meant; None for a database on a server."""
    if place is None:
        place = default_place()
    if str(place).startswith("-"):
        raise BookError(f"{place} is an option, not the name of a book; if a file is meant, write ./{place}")
    if isinstance(place, Path) or "://" not in place:
        return Path(place)
    url = url_of(place)
    if url.get_backend_name() != "sqlite":
        return None
    if not url.database or url.query:
        raise BookError(f"{shown(url)} names no file that a book could be kept in; give its path: --book FILE.")
    return Path(url.database)


def open_file(path: Path, read_only: bool) -> OpenBook:
    """Open the book in a file, as :func:`open_book` does.

    Raises:
        BookError: there is none to look at, or it is none that may be opened.
    """
    if _is_fresh(path):
        if read_only:
            raise BookError(f"There is no book at {path} yet; open the workbench once, or name one with --book.")
        _make(path)
    lock, why = None, "the book was opened for reading only." if read_only else ""
    if not read_only:
        if not os.access(path, os.W_OK) or not os.access(path.absolute().parent, os.W_OK):
            why = f"the book {path} or its folder may not be written here."
        else:
            lock = lock_book(path)
            if lock is None:
                why = IN_USE.format(path=path)
    try:
        _check_version(path)
        if why:
            return _look_only(path, why)
        engine = sqlite_engine(path)
        assert lock is not None
        if revision_of(engine) != HEAD_REVISION:
            if not lock.alone():
                engine.dispose()
                lock.release()
                lock = None
                return _look_only(path, IN_USE.format(path=path))
            _bring_up_to_date(engine, path)
            lock.among_others()
    except BaseException:
        if lock is not None:
            lock.release()
        raise
    return OpenBook(Store(engine, str(path)), lock)


def _look_only(path: Path, why: str) -> OpenBook:
    """A book that may only be read; an older one from a copy, since its tables are not those that are asked for."""
    engine = sqlite_engine(path, read_only=True)
    if revision_of(engine) == HEAD_REVISION:
        return OpenBook(Store(engine, str(path), why), BookLooked(path))
    folder = tempfile.TemporaryDirectory(prefix="tenaz-older-")
    copy = Path(folder.name) / path.name
    engine.dispose()
    copy_into(copy, looking(path))
    writing = sqlite_engine(copy)
    migrate(writing)
    writing.dispose()
    return OpenBook(Store(sqlite_engine(copy, read_only=True), str(path), why), None, [folder])


def _is_fresh(path: Path) -> bool:
    """Whether there is no book yet; refuses what is no file of SQLite before anything opens it. What a creation
    that was cut short left behind is put aside.
    """
    try:
        found = path.stat()
    except FileNotFoundError:
        return True
    except (OSError, ValueError) as error:
        why = error.strerror if isinstance(error, OSError) else error
        raise BookError(f"The book {str(path)[:200]!r} cannot be opened: {why}. Name another with --book.") from error
    if stat.S_ISDIR(found.st_mode):
        raise BookError(f"{path} is a folder; name a file for the book with --book.")
    if not stat.S_ISREG(found.st_mode):
        raise BookError(f"{path} is no file, so it can hold no book; name another with --book.")
    if found.st_nlink > 1:
        raise BookError(
            f"{path} has a second name (a hard link): what is written under one is not seen under the other. Make a "
            f"file of its own of it first: cp {path.name} NEW, and use that."
        )
    with path.open("rb") as file:
        start = file.read(len(SQLITE_MAGIC))
    if start and start != SQLITE_MAGIC:
        raise BookError(
            f"{path} is not a book: it is no SQLite database. It was not touched; name another file with --book."
        )
    if not start:
        # Nothing was ever written there.
        return True
    if _was_cut_short(path):
        path.rename(path.with_name(f"{path.name}.unfinished-{os.getpid()}"))
        return True
    return False


def _was_cut_short(path: Path) -> bool:
    """Whether a version before 0.5 was interrupted while it made this book: no table but ours, and nothing in them."""
    try:
        with closing(looking(path)) as connection:
            if connection.execute("PRAGMA application_id").fetchone() != (0,):
                return False
            names = {row[0] for row in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
            if not names or not names <= {*metadata.tables, "alembic_version", "sqlite_sequence"}:
                return False
            filled = names & set(metadata.tables)
            return all(connection.execute(f'SELECT 1 FROM "{name}" LIMIT 1').fetchone() is None for name in filled)
    except sqlite3.Error:
        return False


def _make(path: Path) -> None:
    """A new book, made whole beside its place and then put there: whoever looks finds none, or a complete one. Who
    makes it holds the empty place meanwhile, so that two do not make two.
    """
    folder = path.absolute().parent
    beside: Path | None = None
    claim = -1
    try:
        if not folder.is_dir():
            folder.mkdir(mode=0o700, parents=True)
        claim = os.open(path, os.O_CREAT | os.O_RDWR | CLOEXEC, 0o600)
        wait_for(claim)
        if os.fstat(claim).st_ino != path.stat().st_ino or path.stat().st_size:
            return
        handle, name = tempfile.mkstemp(dir=folder, prefix=f".{path.name[:40]}.new-")
        os.close(handle)
        beside = Path(name)
        engine = sqlite_engine(beside)
        migrate(engine, APPLICATION_ID)
        engine.dispose()
        beside.replace(path)
    except OSError as error:
        raise BookError(f"The book {path} cannot be made: {error.strerror}. Name another with --book.") from error
    finally:
        if claim >= 0:
            os.close(claim)
        if beside is not None:
            for left in (beside, *(beside.with_name(beside.name + end) for end in ("-wal", "-shm", "-journal"))):
                with suppress(OSError):
                    left.unlink()


def _check_version(path: Path) -> None:
    """Refuse another program's database and a newer version's book, without writing."""
    with closing(looking(path)) as connection:
        cursor = connection.cursor()
        (mark,) = cursor.execute("PRAGMA application_id").fetchone()
        if mark != APPLICATION_ID:
            raise BookError(
                f"{path} is a database, but not a book of Tenaz. It was not touched; name another file with --book."
            )
        _refuse_what_acts(cursor, path)
        (revision,) = cursor.execute("SELECT max(version_num) FROM alembic_version").fetchone()
    if revision != HEAD_REVISION and revision not in known_revisions():
        raise BookError(
            f"The book {path} was written by a newer Tenaz (its format is {revision}, this one knows up to "
            f"{HEAD_REVISION}). It was not touched; use the newer Tenaz."
        )


def _refuse_what_acts(cursor: sqlite3.Cursor, path: Path) -> None:
    """Refuse a file in which reading a table would run somebody's own statements: no book of ours has such things."""
    cursor.execute("PRAGMA trusted_schema = OFF")
    found = cursor.execute("SELECT type, name, sql FROM sqlite_master").fetchall()
    ours = sqlite_triggers()
    odd = next(
        (
            f"{kind} {name}"
            for kind, name, sql in found
            if (kind in ACTING and ours.get(name) != sql) or "VIRTUAL" in (sql or "")[:40]
        ),
        "",
    )
    for kind, name, _ in found:
        if odd or kind != "table":
            continue
        made = [row[1] for row in cursor.execute("SELECT * FROM pragma_table_xinfo(?)", (name,)) if row[6]]
        odd = f"column {made[0]} of {name}, which is computed" if made else ""
    if odd:
        raise BookError(
            f"{path} holds what no book of Tenaz does: the {str(odd)[:80]}. It was not touched, and nothing of it was "
            f"read; name another file."
        )


ACTING = ("view", "trigger")
"""Parts of a schema that act by themselves: none passes but the triggers of ours, word for word."""


def _bring_up_to_date(engine: Engine, path: Path) -> None:
    """Run the migrations that the book lacks, all or none; an old book is copied beside itself first."""
    revision = revision_of(engine)
    if revision == HEAD_REVISION:
        return
    aside = path.with_name(f"{path.name}.before-{HEAD_REVISION}-from-{revision}")
    try:
        _copy(path, aside)
        migrate(engine)
    except (SQLAlchemyError, sqlite3.Error, OSError) as error:
        trouble = book_trouble(str(path), error)
        raise BookError(f"{trouble} It was to be brought up to date, and is as it was; a copy is {aside}.") from error


def _copy(path: Path, aside: Path) -> None:
    handle, name = tempfile.mkstemp(dir=path.absolute().parent, prefix=f".{aside.name[:40]}.")
    os.close(handle)
    try:
        copy_into(Path(name), sqlite3.connect(path))
        Path(name).replace(aside)
    finally:
        with suppress(OSError):
            Path(name).unlink()


def copy_into(target: Path, source: sqlite3.Connection) -> None:
    """All of an open database into a file; it is closed then."""
    with closing(source), closing(sqlite3.connect(target)) as into:
        source.backup(into)
