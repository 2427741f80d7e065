"""Two books meet: whatever was written in either, and wherever a meeting was cut short, both end alike."""

from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import pytest

from tenaz.core.base.loop import Move
from tenaz.core.base.outcomes import Outcome
from tenaz.core.ports.bench import StationReport
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.searches.search import SearchPlan
from tenaz.journal.feed import coming_home, meeting
from tenaz.journal.opening.opening import OpenBook, open_book
from tests.doors.histories import Clock, everything, fresh
from tests.make import HOUR
from tests.torture.meetings import meetings


@pytest.fixture
def two(tmp_path: Path) -> Iterator[tuple[OpenBook, OpenBook]]:
    """A home, and a book that is away."""
    home, away = (open_book(fresh(tmp_path, name)) for name in ("home", "away"))
    yield home, away
    home.close()
    away.close()


@pytest.mark.parametrize("first", range(0, 24, 4))
def test_both_books_end_alike_and_nothing_is_lost_or_twice(tmp_path: Path, first: int) -> None:
    assert meetings(4, first).failures == []


def test_a_trial_that_has_a_number_of_the_homes_is_numbered_anew_and_what_counts_by_it_follows(
    two: tuple[OpenBook, OpenBook], rig: Rig
) -> None:
    home, away, clock = two[0].store, two[1].store, Clock()
    home.rigs.put(rig)
    away.meeting_with(home).until_quiet(clock.utc)
    here = home.trials.begin(rig, BenchKind.SIM, rig.stock, HOUR, clock)
    there = [away.trials.begin(rig, BenchKind.SIM, rig.stock, HOUR, clock) for _ in range(2)]
    away.measures.begin("ridge", BenchKind.SIM, rig.stock, clock)
    met = away.meeting_with(home).until_quiet(clock.utc)
    assert [(old, new) for one in met for _, old, new in one.renumbered] == [(1, 2), (2, 3)]
    for store in (home, away):
        assert [trial.uid for trial in store.trials.of("ridge")] == [here.uid, *(one.uid for one in there)]
        (measure,) = store.measures.of("ridge", BenchKind.SIM)
        assert measure.after_trial == 3


@pytest.mark.parametrize("told_by", ["away", "home"])
def test_what_trials_belong_to_comes_with_them_however_late_it_was_touched(
    two: tuple[OpenBook, OpenBook], rig: Rig, told_by: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(meeting, "MOST_THINGS", 3)
    monkeypatch.setattr(coming_home.touched, "__defaults__", (3,))
    home, away, clock = two[0].store, two[1].store, Clock()
    teller, listener = (away, home) if told_by == "away" else (home, away)
    teller.rigs.put(rig)
    plan = SearchPlan(0, "ridge", BenchKind.SIM, ("data_rate_mts",), rig.stock, HOUR, "adapt")
    search = teller.searches.begin(plan, clock)
    for _ in range(10):
        teller.trials.begin(rig, BenchKind.SIM, rig.stock, HOUR, clock, search_id=search.id)
    teller.searches.end(search.id, "done", clock)
    teller.rigs.put(replace(rig, owner="mara"))
    away.meeting_with(home).until_quiet(clock.utc)
    (theirs,) = listener.searches.of("ridge")
    assert [trial.search_id for trial in listener.trials.of("ridge")] == [theirs.id] * 10
    assert everything(home) == everything(away)


def test_what_both_changed_is_kept_beside_and_can_be_taken(two: tuple[OpenBook, OpenBook], rig: Rig) -> None:
    home, away, clock = two[0].store, two[1].store, Clock()
    home.rigs.put(rig)
    trial = home.trials.begin(rig, BenchKind.SIM, rig.stock, HOUR, clock)
    trial = home.trials.move(trial, StationReport(Move.STOP), clock)
    trial = home.trials.record(trial, Outcome.HELD, "test", clock)
    away.meeting_with(home).until_quiet(clock.utc)
    home.rigs.put(replace(rig, owner="mara"))
    away.rigs.put(replace(rig, owner="the club", complaint="it froze"))
    for store, outcome, note in ((away, Outcome.FROZE, "fan"), (home, Outcome.ERRED, "warm")):
        mine = next(iter(store.trials.of("ridge")))
        again = store.trials.undo(mine, clock)
        store.trials.record(again, outcome, "test", clock)
        store.trials.note(mine.id, note)
    away.meeting_with(home).until_quiet(clock.utc)
    assert everything(home) == everything(away)
    (one,) = home.trials.of("ridge")
    assert one.outcome is Outcome.ERRED, "it was told later"
    assert one.note == "warm; of the other book: fan"
    told = {kept.text.partition(":")[0]: kept for kept in away.beside.all()}
    assert "froze gave way to erred" in told["trial 1"].text
    assert home.rigs.one("ridge").owner == "mara"
    away.beside.take(told["the rig ridge"].id)
    away.beside.settle(told["trial 1"].id)
    away.meeting_with(home).until_quiet(clock.utc)
    assert (home.rigs.one("ridge").owner, home.rigs.one("ridge").complaint) == ("the club", "it froze")
    assert home.beside.waiting() == 0
