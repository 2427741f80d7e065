"""Opening a book: finding it, checking that it is one, bringing it up to date, and keeping two writers apart."""

import sqlite3
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

from filelock import FileLock, Timeout
from platformdirs import user_data_path
from sqlalchemy import Engine, create_engine, event
from sqlalchemy.exc import SQLAlchemyError

from tenaz.core.errors import BookError
from tenaz.journal.base import book_trouble
from tenaz.journal.store import Store

if TYPE_CHECKING:
    from alembic.config import Config

HEAD_REVISION = "0007"
"""The newest migration; a test holds it to what the migrations folder says."""

APPLICATION_ID = 0x54454E5A
"""Marks an SQLite file as a book of Tenaz (``TENZ``)."""

SQLITE_MAGIC = b"SQLite format 3\x00"


def default_book() -> Path:
    """Where the book is when nothing else is said."""
    return user_data_path("tenaz", appauthor=False) / "book.db"


@dataclass(slots=True)
class OpenBook:
    """A book and the lock that keeps a second writer out."""

    store: Store
    lock: FileLock | None

    def close(self) -> None:
        """Let go of both."""
        self.store.close()
        if self.lock is not None:
            self.lock.release()


def open_book(place: str | Path | None = None, read_only: bool = False) -> OpenBook:
    """Open a book by path or SQLAlchemy URL, making it when it is not there.

    A second opener of the same file gets it read-only; ``store.read_only`` then says why.

    Raises:
        BookError: not a database, another program's database, a newer version's book, or not to be opened. The file
            is never touched in these cases.
    """
    if place is not None and "://" in str(place):
        return _open_url(str(place), read_only)
    path = Path(place) if place is not None else default_book()
    _check_file(path)
    fresh = not path.exists() or path.stat().st_size == 0
    if fresh and read_only:
        raise BookError(f"There is no book at {path} yet; open the workbench once, or name one with --book.")
    lock = None
    why = "the book was opened for reading only." if read_only else ""
    if not read_only:
        lock = _lock(path)
        if lock is None:
            why = f"another Tenaz has the book {path} open. Close it there first; here it is read-only."
    try:
        if not fresh:
            _check_version(path)
        engine = _engine(path, read_only=bool(why))
        if not why:
            _bring_up_to_date(engine, path, fresh)
    except (SQLAlchemyError, sqlite3.Error, OSError) as error:
        if lock is not None:
            lock.release()
        raise book_trouble(str(path), error) from error
    except BookError:
        if lock is not None:
            lock.release()
        raise
    return OpenBook(Store(engine, str(path), why), lock)


def _open_url(url: str, read_only: bool) -> OpenBook:
    try:
        engine = create_engine(url)
        _bring_up_to_date(engine, None, fresh=False)
    except (SQLAlchemyError, ImportError) as error:
        raise book_trouble(url, error) from error
    return OpenBook(Store(engine, url, "the book was opened for reading only." if read_only else ""), None)


def _check_file(path: Path) -> None:
    """Refuse what is no file of SQLite before anything opens it."""
    if path.is_dir():
        raise BookError(f"{path} is a folder; name a file for the book with --book.")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        if not path.exists():
            return
        with path.open("rb") as file:
            start = file.read(len(SQLITE_MAGIC))
    except OSError as error:
        raise BookError(f"The book {path} cannot be opened: {error.strerror}. Name another with --book.") from error
    if start and start != SQLITE_MAGIC:
        raise BookError(
            f"{path} is not a book: it is no SQLite database. It was not touched; name another file with --book."
        )


def _lock(path: Path) -> FileLock | None:
    """The writer's lock beside the book, or None when another Tenaz holds it; it dies with its process."""
    lock = FileLock(path.with_name(path.name + ".lock"))
    try:
        lock.acquire(timeout=0)
    except Timeout:
        return None
    except OSError as error:
        raise BookError(
            f"The folder of the book {path} cannot be written: {error.strerror}. Name another with --book."
        ) from error
    return lock


def _check_version(path: Path) -> None:
    """Refuse another program's database and a newer version's book, without writing."""
    connection = sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True, timeout=5)
    try:
        (mark,) = connection.execute("PRAGMA application_id").fetchone()
        if mark != APPLICATION_ID:
            raise BookError(
                f"{path} is a database, but not a book of Tenaz. It was not touched; name another file with --book."
            )
        (revision,) = connection.execute("SELECT max(version_num) FROM alembic_version").fetchone()
    finally:
        connection.close()
    if revision != HEAD_REVISION and revision not in _known_revisions():
        raise BookError(
            f"The book {path} was written by a newer Tenaz (its format is {revision}, this one knows up to "
            f"{HEAD_REVISION}). It was not touched; use the newer Tenaz."
        )


def _engine(path: Path, read_only: bool) -> Engine:
    if read_only:
        engine = create_engine(f"sqlite:///{path.absolute().as_uri()}?mode=ro&uri=true")
    else:
        engine = create_engine(f"sqlite:///{path.absolute()}")

    @event.listens_for(engine, "connect")
    def _pragmas(connection: sqlite3.Connection, _record: object) -> None:
        connection.execute("PRAGMA busy_timeout = 5000")
        connection.execute("PRAGMA foreign_keys = ON")
        if not read_only:
            connection.execute("PRAGMA journal_mode = WAL")
            # FULL: a commit is on the disk before anything that may crash the machine is touched.
            connection.execute("PRAGMA synchronous = FULL")

    return engine


def _revision(engine: Engine) -> str | None:
    with engine.connect() as connection:
        if not connection.dialect.has_table(connection, "alembic_version"):
            return None
        return connection.exec_driver_sql("SELECT version_num FROM alembic_version").scalar()


def _bring_up_to_date(engine: Engine, path: Path | None, fresh: bool) -> None:
    """Run the migrations that the book lacks; an old book is copied beside itself first."""
    revision = None if fresh else _revision(engine)
    if revision == HEAD_REVISION:
        return
    if path is not None and revision is not None:
        _copy_aside(path, revision)
    from alembic import command  # noqa: PLC0415 - only a book that lacks migrations pays for it

    with engine.begin() as connection:
        config = _alembic_config()
        config.attributes["connection"] = connection
        command.upgrade(config, "head")
        if path is not None:
            connection.exec_driver_sql(f"PRAGMA application_id = {APPLICATION_ID}")


def _copy_aside(path: Path, revision: str) -> None:
    aside = path.with_name(f"{path.name}.before-{HEAD_REVISION}-from-{revision}")
    source, target = sqlite3.connect(path), sqlite3.connect(aside)
    with source, target:
        source.backup(target)
    source.close()
    target.close()


def _alembic_config() -> "Config":
    from alembic.config import Config  # noqa: PLC0415 - only a book that lacks migrations pays for it

    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    return config


def _known_revisions() -> set[str]:
    from alembic.script import ScriptDirectory  # noqa: PLC0415

    script = ScriptDirectory.from_config(_alembic_config())
    return {revision.revision for revision in script.walk_revisions()}
