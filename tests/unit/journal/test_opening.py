"""Books that are none, books from elsewhere, two at one book, and a disk that is full."""

import lzma
import sqlite3
from contextlib import closing
from dataclasses import replace
from pathlib import Path

import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import Engine, create_engine, event
from typer.testing import CliRunner

from tenaz.cli.app import app
from tenaz.core.base.errors import BookError
from tenaz.core.base.outcomes import Verdict
from tenaz.core.evidence.bracket import Bracket
from tenaz.core.evidence.shown import evidence_at
from tenaz.core.knobs.readings import Source
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.trials.trial import Heartbeat
from tenaz.journal.base.tables import metadata
from tenaz.journal.opening.opening import APPLICATION_ID, HEAD_REVISION, open_book
from tenaz.journal.store import Store
from tenaz.workshop.shop.shop import Workshop
from tests.make import HOUR, SteppedClock
from tests.torture.kills import OLDER_TRIALS, older_book


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


def test_several_write_each_at_a_rig_of_its_own(book: Path, rig: Rig, clock: SteppedClock) -> None:
    first, second = open_book(book), open_book(book)
    other = replace(rig, name="hut")
    first.store.rigs.put(rig)
    second.store.rigs.put(other)
    assert first.hold("ridge")
    assert not second.hold("ridge")
    assert second.hold("hut")
    assert (first.held_elsewhere("hut"), first.held_elsewhere("ridge"), second.held_elsewhere("ridge")) == (
        True, False, True,
    )  # fmt: skip
    first.store.trials.begin(rig, BenchKind.SIM, rig.stock, HOUR, clock)
    second.store.trials.begin(other, BenchKind.SIM, rig.stock, HOUR, clock)
    assert [len(second.store.trials.of(name)) for name in ("ridge", "hut")] == [1, 1]
    first.close()
    assert second.hold("ridge"), "let go of with its process, or when it is closed"
    second.close()


def test_whoever_brings_a_book_up_to_date_is_alone_with_it(
    book: Path, clock: SteppedClock, monkeypatch: pytest.MonkeyPatch
) -> None:
    first = open_book(book)
    monkeypatch.setattr("tenaz.journal.opening.opening.HEAD_REVISION", "0014")
    second = open_book(book)
    assert "another Tenaz has the book" in second.store.read_only
    with pytest.raises(BookError, match="another Tenaz"):
        second.store.goldens.put("ridge", {}, clock)
    second.close()
    first.close()


def test_a_full_disk_loses_nothing_that_was_written(book: Path, rig: Rig, clock: SteppedClock) -> None:
    open_book(book).close()
    engine = create_engine(f"sqlite:///{book}")

    @event.listens_for(engine, "connect")
    def _little_room(connection: sqlite3.Connection, _: object) -> None:
        pages = connection.execute("PRAGMA page_count").fetchone()[0]
        connection.execute(f"PRAGMA max_page_count = {pages + 12}")

    store = Store(engine, str(book))
    store.rigs.put(rig)
    trial = store.trials.begin(rig, BenchKind.SIM, rig.stock, HOUR, clock)
    store.load.heartbeat(trial.id, Heartbeat(12.0, "boot-a", clock.utc()))
    with pytest.raises(BookError, match=r"the disk is full.*make room"):  # noqa: PT012 - what is refused is the whole of it
        for number in range(2000):
            store.log.write("ridge", trial.id, "test", f"line {number} " * 20, clock)
    store.close()
    reopened = open_book(book)
    (kept,) = reopened.store.trials.of("ridge")
    assert kept.heartbeat is not None
    assert kept.heartbeat.elapsed_s == 12.0
    reopened.close()


@pytest.mark.parametrize(
    "name", ["job?1.db", "job?mode=memory.db", "100%25.db", "Kunde #12/book.db", "a&b=c;d.db", "file:x.db", "日誌 .db"]
)
def test_a_books_name_may_hold_any_sign(tmp_path: Path, name: str, rig: Rig, clock: SteppedClock) -> None:
    place = tmp_path / name
    opened = open_book(str(place))
    opened.store.rigs.put(rig)
    opened.store.trials.begin(rig, BenchKind.SIM, rig.stock, HOUR, clock)
    opened.close()
    assert [path.relative_to(tmp_path) for path in tmp_path.rglob("*") if path.is_file()] == [Path(name)]
    looked = open_book(place, read_only=True)
    assert len(looked.store.trials.of("ridge")) == 1
    looked.close()
    assert place.stat().st_mode & 0o077 == 0, "private to its owner"


@pytest.mark.parametrize("by", ["symlink", "url", "relative"])
def test_no_other_name_of_a_book_slips_past_its_lock(book: Path, by: str, monkeypatch: pytest.MonkeyPatch) -> None:
    first = open_book(book)
    other: str | Path = f"sqlite:///{book}"
    if by == "symlink":
        other = book.with_name("link.db")
        other.symlink_to(book)
    elif by == "relative":
        monkeypatch.chdir(book.parent)
        other = "./book.db"
    second = open_book(other)
    assert first.hold("ridge")
    assert not second.hold("ridge")
    first.close()
    assert second.hold("ridge")
    second.close()


def test_a_book_with_a_second_name_is_refused_under_both(book: Path) -> None:
    open_book(book).close()
    second = book.with_name("second.db")
    second.hardlink_to(book)
    for name in (book, second):
        with pytest.raises(BookError, match=r"a second name \(a hard link\)"):
            open_book(name)
    second.unlink()
    open_book(book).close()


def test_another_programs_database_is_never_added_to_whatever_it_is_called(book: Path) -> None:
    other_program(book)
    before = book.read_bytes()
    for name in (book, f"sqlite:///{book}"):
        with pytest.raises(BookError, match="not a book of Tenaz"):
            open_book(name)
    assert book.read_bytes() == before
    with pytest.raises(BookError, match="names no file that a book could be kept in"):
        open_book("sqlite://")


def test_what_an_interrupted_creation_left_behind_is_put_aside(book: Path) -> None:
    with closing(sqlite3.connect(book)) as connection, connection:
        # As 0.4.0 left it: tables, but neither rows nor the mark.
        connection.execute("CREATE TABLE alembic_version (version_num VARCHAR(32))")
        connection.execute("CREATE TABLE rigs (id INTEGER PRIMARY KEY, name VARCHAR(80), data JSON)")
    open_book(book).close()
    assert [path.name.split("-")[0] for path in sorted(book.parent.iterdir())] == ["book.db", "book.db.unfinished"]


def test_an_older_book_that_may_only_be_read_is_shown_from_a_copy(book: Path) -> None:
    book.write_bytes(older_book())
    opened = open_book(book, read_only=True)
    assert len(opened.store.trials.of("ridge")) == OLDER_TRIALS
    opened.close()
    assert book.read_bytes() == older_book(), "and is left as it is"
    open_book(book).close()
    assert (book.parent / f"book.db.before-{HEAD_REVISION}-from-0005").exists()


def test_a_migration_that_fails_leaves_the_book_as_it_was_and_names_the_copy(
    book: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    book.write_bytes(older_book())

    def half(engine: Engine, application_id: int | None = None) -> None:
        with engine.begin() as connection:
            connection.exec_driver_sql("DROP TABLE log")
            raise OSError(28, "No space left on device")

    monkeypatch.setattr("tenaz.journal.opening.opening.migrate", half)
    with pytest.raises(BookError, match=r"it is as it was; a copy is .*before-|and is as it was; a copy is .*before-"):
        open_book(book)
    monkeypatch.undo()
    opened = open_book(book)
    assert len(opened.store.trials.of("ridge")) == OLDER_TRIALS
    opened.close()


def test_a_row_that_cannot_be_read_is_named_and_passed_over(book: Path, rig: Rig, clock: SteppedClock) -> None:
    opened = open_book(book)
    opened.store.rigs.put(rig)
    for _ in range(5):
        opened.store.trials.begin(rig, BenchKind.SIM, rig.stock, HOUR, clock)
    opened.close()
    with closing(sqlite3.connect(book)) as connection, connection:
        connection.execute("UPDATE trials SET setpoint = '{broken' WHERE number = 2")
        connection.execute("UPDATE trials SET station = 'moon' WHERE number = 3")
        connection.execute("UPDATE trials SET begun_utc = 'yesterday' WHERE number = 4")
    looked = open_book(book, read_only=True)
    assert [trial.number for trial in looked.store.trials.of("ridge")] == [1, 5]
    assert list(looked.store.unread) == ["trial 2", "trial 3", "trial 4"]
    looked.close()
    told = CliRunner().invoke(app, ["--book", str(book), "book"])
    assert (told.exit_code, "trial 3 of the book is damaged" in told.stderr) == (1, True)


def test_a_book_of_0_4_0_is_brought_up_to_date_and_says_the_same(book: Path) -> None:
    kept = Path(__file__).parents[2] / "books" / "0.4.0.db.xz"
    book.write_bytes(lzma.decompress(kept.read_bytes()))
    with closing(sqlite3.connect(book)) as connection:
        query = "SELECT number, outcome, elapsed_s FROM records JOIN trials ON trials.id = trial_id ORDER BY number"
        before = connection.execute(query).fetchall()
    workshop = Workshop()
    workshop.open(book)
    view = workshop.view()
    workshop.close()
    assert [(one.number, one.outcome, one.elapsed_s) for one in view.trials] == before
    assert [one.verdict for one in view.trials].count(Verdict.FAIL) == 2
    assert all(one.asked == one.setpoint and one.source_of("t_cl_nck") is Source.ASSUMED for one in view.trials)
    picture = view.searches.pictures["data_rate_mts"]
    assert picture.bracket == Bracket(6200, 6400)
    assert picture.advice is not None
    assert picture.advice.reason == "6200 MT/s held 2 times, 6400 MT/s failed"
    march = evidence_at(view.rig.stock.replacing("data_rate_mts", 6200), view.index, view.rig).kinds[0]
    assert (march.passed, march.hours) == (2, 2.0)


def test_an_option_is_no_name_of_a_book(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.chdir(tmp_path)
    with pytest.raises(BookError, match=r"--help is an option, not the name of a book"):
        open_book("--help")
    assert list(tmp_path.iterdir()) == []
    open_book("./--help").close()
