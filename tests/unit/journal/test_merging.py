"""What a stick has done, brought home once."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest

from tenaz.core.errors import Refused
from tenaz.core.loading import LaneProgress, LoadKind, LoadPlan
from tenaz.core.loop import Move
from tenaz.core.machine import Machine, MemoryModule
from tenaz.core.outcomes import Outcome
from tenaz.core.physical_memory import Laid, Span
from tenaz.core.ports import StationReport
from tenaz.core.recognising import same_machine
from tenaz.core.rigs import BenchKind, Rig
from tenaz.core.trials import Heartbeat, Trial
from tenaz.core.works import parse_label
from tenaz.demo.ridge import ridge
from tenaz.engine import recovery
from tenaz.journal.merging import WRONG_CLOCK
from tenaz.journal.opening import open_book
from tenaz.journal.store import Store
from tenaz.workshop.carrying_back import merge_book
from tests.conftest import SteppedClock

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
    lanes = (LaneProgress(0, 0, laps=1.5, kind=LoadKind.MARCH),)
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
