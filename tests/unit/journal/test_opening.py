"""Books that are none, books from elsewhere, two at one book, and a disk that is full."""

import sqlite3
from contextlib import closing
from pathlib import Path

import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import create_engine, event

from tenaz.core.errors import BookError
from tenaz.core.rigs import BenchKind, Rig
from tenaz.core.trials import Heartbeat
from tenaz.journal.opening import APPLICATION_ID, HEAD_REVISION, open_book
from tenaz.journal.store import Store
from tenaz.journal.tables import metadata
from tests.conftest import HOUR, SteppedClock


def test_a_new_book_is_what_the_tables_say_and_durable(book: Path) -> None:
    opened = open_book(book)
    opened.close()
    engine = create_engine(f"sqlite:///{book}")
    with engine.connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), metadata) == []
        assert connection.exec_driver_sql("SELECT version_num FROM alembic_version").scalar() == HEAD_REVISION
        assert connection.exec_driver_sql("PRAGMA application_id").scalar() == APPLICATION_ID
        assert connection.exec_driver_sql("PRAGMA journal_mode").scalar() == "wal"


def not_a_database(path: Path) -> None:
    path.write_bytes(b"minutes of the avalanche office, 1871\n" * 40)


def other_program(path: Path) -> None:
    with closing(sqlite3.connect(path)) as connection, connection:
        connection.execute("CREATE TABLE cheese (name TEXT)")


def newer_book(path: Path) -> None:
    open_book(path).close()
    with closing(sqlite3.connect(path)) as connection, connection:
        connection.execute("UPDATE alembic_version SET version_num = '0999'")


def folder(path: Path) -> None:
    path.mkdir()


def broken_inside(path: Path) -> None:
    path.write_bytes(b"SQLite format 3\x00" + b"\xff" * 4000)


@pytest.mark.parametrize(
    ("make", "words"),
    [
        (not_a_database, "is not a book: it is no SQLite database"),
        (other_program, "not a book of Tenaz"),
        (newer_book, "written by a newer Tenaz"),
        (folder, "is a folder"),
        (broken_inside, "cannot be read as a book"),
    ],
)
def test_what_is_no_book_is_named_and_left_alone(book: Path, make, words: str) -> None:  # type: ignore[no-untyped-def]
    make(book)
    before = book.read_bytes() if book.is_file() else None
    with pytest.raises(BookError, match=words) as refused:
        open_book(book)
    assert str(book) in str(refused.value)
    assert before is None or book.read_bytes() == before


def test_the_second_opener_reads_only_and_is_told(book: Path, rig: Rig, clock: SteppedClock) -> None:
    first = open_book(book)
    first.store.put_rig(rig)
    second = open_book(book)
    assert "another Tenaz has the book" in second.store.read_only
    first.store.begin_trial(rig, BenchKind.SIM, rig.stock, HOUR, clock)
    assert len(second.store.trials("ridge")) == 1, "it sees what the first writes"
    with pytest.raises(BookError, match="another Tenaz"):
        second.store.put_rig(rig)
    second.close()
    first.close()
    third = open_book(book)
    assert third.store.read_only == ""
    third.close()


def test_a_full_disk_loses_nothing_that_was_written(book: Path, rig: Rig, clock: SteppedClock) -> None:
    open_book(book).close()
    engine = create_engine(f"sqlite:///{book}")

    @event.listens_for(engine, "connect")
    def _little_room(connection: sqlite3.Connection, _: object) -> None:
        pages = connection.execute("PRAGMA page_count").fetchone()[0]
        connection.execute(f"PRAGMA max_page_count = {pages + 4}")

    store = Store(engine, str(book))
    store.put_rig(rig)
    trial = store.begin_trial(rig, BenchKind.SIM, rig.stock, HOUR, clock)
    store.heartbeat(trial.id, Heartbeat(12.0, "boot-a", clock.utc()))
    with pytest.raises(BookError, match=r"the disk is full.*make room"):
        for number in range(2000):
            store.log("ridge", trial.id, "test", f"line {number} " * 20, clock)
    store.close()
    reopened = open_book(book)
    (kept,) = reopened.store.trials("ridge")
    assert kept.heartbeat is not None
    assert kept.heartbeat.elapsed_s == 12.0
    reopened.close()
