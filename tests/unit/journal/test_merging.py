"""What a stick has done, brought home once."""

import signal
import sqlite3
import threading
from contextlib import closing
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from alembic import command

from tenaz.core.base.errors import BookError, Refused
from tenaz.core.base.loop import Move
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.plan import LoadKind, LoadPlan, WorkerProgress
from tenaz.core.machine.machine import Machine, MemoryModule
from tenaz.core.machine.physical_memory import Laid, Span
from tenaz.core.machine.recognising import same_machine
from tenaz.core.parts.works import parse_label
from tenaz.core.ports.bench import StationReport
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.trials.past_trials import PastTrial
from tenaz.core.trials.record_text import parse_record
from tenaz.core.trials.trial import Heartbeat, Trial
from tenaz.demo.ridge import ridge
from tenaz.engine import recovery
from tenaz.journal.merging import WRONG_CLOCK
from tenaz.journal.opening.engines import sqlite_engine
from tenaz.journal.opening.migrating import alembic_config
from tenaz.journal.opening.opening import open_book
from tenaz.journal.store import Store
from tenaz.workshop.errands.carrying_back import merge_book
from tests.make import SteppedClock

MACHINE = Machine(
    board="Taller board", processor="Taller processor", board_serial="B-17", modules=(MemoryModule("A2", 16 << 30),)
)
HOUR = LoadPlan(LoadKind.MARCH, duration_s=3600.0)


def stick_rig() -> Rig:
    return replace(ridge(), name="this machine", machine=MACHINE, benches=(BenchKind.HERE,))


def tried(store: Store, rig: Rig, clock: SteppedClock, outcome: Outcome | None) -> Trial:
    clock.now_s += 60
    trial = store.trials.begin(rig, BenchKind.HERE, rig.stock, HOUR, clock)
    if outcome is None:
        return trial
    for move in (Move.ENTERED, Move.CAME_UP, Move.CONFIRMED):
        trial = store.trials.move(trial, StationReport(move), clock)
    store.load.laid(trial.id, Laid((Span(0, 100),), (), ((Span(0, 50),),), 100))
    lanes = (WorkerProgress(0, 0, laps=1.5, kind=LoadKind.MARCH),)
    store.load.heartbeat(trial.id, Heartbeat(30.0, clock.boot_id(), clock.utc()), lanes)
    trial = store.trials.one(trial.id)
    return recovery.explain(trial, outcome, store, clock, 30.0)


@pytest.fixture
def stick(tmp_path: Path, clock: SteppedClock) -> Path:
    """Two judged trials and one that nobody judged, a label, and a rig that was never touched."""
    place = tmp_path / "stick" / "book.db"
    opened = open_book(place)
    store, rig = opened.store, stick_rig()
    store.rigs.put(rig)
    store.rigs.put(replace(ridge(), name="untouched"))
    tried(store, rig, clock, Outcome.HELD)
    tried(store, rig, clock, Outcome.RESTARTED)
    tried(store, rig, clock, None)
    store.works.label(rig.name, parse_label("slot A2 suspect: sparks"), clock)
    opened.close()
    return place


def test_everything_comes_home_once(stick: Path, store: Store) -> None:
    (first,) = merge_book(stick.parent, store)
    assert first.show() == (
        "from the stick (there this machine): 2 trials brought, 0 were here already, 1 left there: nobody judged it yet"
    )
    (again,) = merge_book(stick, store)
    assert (again.brought, again.known) == (0, 2)
    trials = store.trials.of("from the stick")
    assert [(one.number, one.outcome) for one in trials] == [(1, Outcome.HELD), (2, Outcome.RESTARTED)]
    assert [one.state.value for one in store.works.labels("from the stick")] == ["suspect"]
    assert [laps for _, laps in store.load.laid_of("from the stick")] == [(1.5,), (1.5,)]
    assert "untouched" not in store.rigs.names()
    assert store.trials.of("ridge") == ()


def test_a_machine_that_is_known_is_recognised(stick: Path, store: Store, rig: Rig, clock: SteppedClock) -> None:
    store.rigs.put(replace(rig, machine=MACHINE, benches=(BenchKind.HERE, BenchKind.HAND)))
    tried(store, rig, clock, Outcome.HELD)
    (came,) = merge_book(stick, store)
    assert came.rig == "ridge"
    assert [one.number for one in store.trials.of("ridge")] == [1, 2, 3]


def test_a_clock_that_was_wrong_is_marked(tmp_path: Path, store: Store, clock: SteppedClock) -> None:
    place, old = tmp_path / "old.db", SteppedClock()
    opened = open_book(place)
    rig = stick_rig()
    opened.store.rigs.put(rig)
    tried(opened.store, rig, clock, Outcome.HELD)
    old.utc = lambda: datetime(2012, 1, 1, tzinfo=UTC) + timedelta(seconds=old.now_s)  # type: ignore[method-assign]
    tried(opened.store, rig, old, Outcome.HELD)
    opened.close()
    (came,) = merge_book(place, store)
    assert came.wrong_clock == 1
    assert [one.note for one in store.trials.of("from the stick")] == ["", WRONG_CLOCK]


def test_what_is_no_book_is_told(tmp_path: Path, store: Store, book: Path) -> None:
    itself = "is the book that it would be brought into"
    for place, why in ((tmp_path / "none", "nothing at"), (tmp_path, itself), (book, itself)):
        with pytest.raises(Refused, match=why):
            merge_book(place, store)
    image = tmp_path / "x.img"
    image.touch()
    with pytest.raises(Refused, match="must be mounted first"):
        merge_book(image, store)


@pytest.mark.parametrize(
    ("seen", "same"),
    [
        (MACHINE, True),
        (replace(MACHINE, processor="another"), True),
        (replace(MACHINE, board_serial="B-18"), False),
        (replace(MACHINE, board_serial="", modules=()), True),
        (replace(MACHINE, board_serial="", board="another"), False),
        (None, False),
    ],
)
def test_a_machine_is_known_by_its_serials(seen: Machine | None, same: bool) -> None:
    assert same_machine(MACHINE, seen) is same


def typed_in(store: Store, rig: Rig, clock: SteppedClock, count: int) -> None:
    """Trials of one and the same minute, as they are typed in."""
    at_utc = datetime(2026, 3, 1, 9, 30, tzinfo=UTC)
    past = [PastTrial(rig.stock, HOUR, parse_record(f"held {hours}h"), at_utc) for hours in range(1, count + 1)]
    store.afterwards.enter([(rig, BenchKind.HAND, past)], clock)


def test_trials_typed_in_for_one_minute_all_come_and_come_once(
    tmp_path: Path, store: Store, rig: Rig, clock: SteppedClock
) -> None:
    opened = open_book(tmp_path / "winter.db")
    opened.store.rigs.put(rig)
    typed_in(opened.store, rig, clock, 3)
    opened.close()
    typed_in(store, rig, clock, 1)
    assert [merge_book(tmp_path / "winter.db", store)[0].brought for _ in range(2)] == [3, 0]
    assert [one.elapsed_s / 3600 for one in store.trials.of("ridge")] == [1, 1, 2, 3]


def test_what_was_corrected_or_undone_there_since_comes_too(stick: Path, store: Store, clock: SteppedClock) -> None:
    merge_book(stick, store)
    opened, name = open_book(stick), "this machine"
    held, restarted = opened.store.trials.of(name)[:2]
    clock.now_s += 3600
    opened.store.afterwards.correct(
        held, parse_record("erred 12m 3 errors"), held.setpoint, held.facts, "technician", clock
    )
    opened.store.trials.undo(restarted, clock)
    opened.close()
    (came,) = merge_book(stick, store)
    assert (came.brought, came.corrected) == (0, 2)
    assert [one.outcome for one in store.trials.of("from the stick")] == [Outcome.ERRED, Outcome.LOST]
    (again,) = merge_book(stick, store)
    assert again.corrected == 0
    opened = open_book(stick)
    open_again = opened.store.trials.one(restarted.id)
    clock.now_s += 60
    recovery.explain(open_again, Outcome.FROZE, opened.store, clock, 30.0)
    opened.close()
    assert merge_book(stick, store)[0].corrected == 1
    assert [one.outcome for one in store.trials.of("from the stick")] == [Outcome.ERRED, Outcome.FROZE]


def spoil(place: Path, *statements: str) -> None:
    with closing(sqlite3.connect(place)) as connection, connection:
        for statement in statements:
            connection.execute(statement)


def test_what_is_damaged_here_hinders_nobody(stick: Path, store: Store, book: Path) -> None:
    merge_book(stick, store)
    spoil(book, "UPDATE part_labels SET at_utc = 'never'")
    (again,) = merge_book(stick, store)
    assert (again.brought, again.known) == (0, 2)


@pytest.mark.parametrize(
    "statement",
    [
        "UPDATE trials SET setpoint = 'nonsense' WHERE number = 1",
        "UPDATE trials SET begun_utc = 'never' WHERE number = 1",
        "UPDATE records SET facts = '[1' WHERE trial_id = (SELECT id FROM trials WHERE number = 1)",
        "UPDATE trials SET note = zeroblob(100000000) WHERE number = 1",
    ],
)
def test_what_is_damaged_is_named_and_the_rest_comes(stick: Path, store: Store, statement: str) -> None:
    spoil(stick, statement)
    (came,) = merge_book(stick, store)
    assert (came.brought, came.damaged) == (1, ("trial 1",))
    assert "damaged there and left there: trial 1" in came.show()
    assert [one.outcome for one in store.trials.of("from the stick")] == [Outcome.RESTARTED]


ENDLESS = "WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n) SELECT i AS id FROM n"


@pytest.mark.parametrize(
    "statements",
    [
        ("ALTER TABLE goldens RENAME TO g", f"CREATE VIEW goldens AS {ENDLESS}"),
        ("CREATE TRIGGER t AFTER INSERT ON log BEGIN DELETE FROM trials; END",),
        ("ALTER TABLE works ADD COLUMN x TEXT AS (hex(zeroblob(999999999)))",),
    ],
)
def test_a_book_that_acts_by_itself_is_refused(stick: Path, store: Store, statements: tuple[str, ...]) -> None:
    spoil(stick, *statements)
    with pytest.raises(BookError, match="holds what no book of Tenaz does"):
        merge_book(stick, store)


def test_a_statement_that_does_not_end_is_ended_and_can_be_interrupted(
    stick: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("tenaz.journal.base.database.MOST_STATEMENT_S", 0.3)
    opened = open_book(stick, read_only=True)
    database = opened.store._database
    with pytest.raises(BookError, match="did not answer within"), database.reading_warily() as connection:
        connection.exec_driver_sql(f"SELECT count(*) FROM ({ENDLESS})")
    monkeypatch.setattr("tenaz.journal.base.database.MOST_STATEMENT_S", 60.0)
    # Whoever runs the tests in the background may have had it ignored.
    signal.signal(signal.SIGINT, signal.default_int_handler)
    later = threading.Timer(0.5, lambda: signal.raise_signal(signal.SIGINT))
    later.start()
    with pytest.raises(KeyboardInterrupt), database.reading_warily() as connection:
        connection.exec_driver_sql(f"SELECT count(*) FROM ({ENDLESS})")
    opened.close()


def test_copies_of_an_older_book_agree_on_who_is_who(tmp_path: Path, rig: Rig, clock: SteppedClock) -> None:
    place = tmp_path / "older.db"
    opened = open_book(place)
    opened.store.rigs.put(rig)
    typed_in(opened.store, rig, clock, 2)
    tried(opened.store, rig, clock, Outcome.HELD)
    opened.close()
    engine, config = sqlite_engine(place), alembic_config()
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.downgrade(config, "0013")
    engine.dispose()
    copy = tmp_path / "copy.db"
    copy.write_bytes(place.read_bytes())
    opened = open_book(place)
    typed_in(opened.store, rig, clock, 1)
    (came,) = merge_book(copy, opened.store)
    opened.close()
    assert (came.brought, came.known) == (0, 3)
