"""``tenaz book VERB``: a book looked after."""

import shutil
import sqlite3
from pathlib import Path

import pytest
from typer.testing import CliRunner, Result

from tenaz.cli.app import app
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.journal.opening.opening import open_book
from tests.make import HOUR, SteppedClock


def book(place: Path, *words: str) -> Result:
    return CliRunner().invoke(app, ["--book", str(place), "book", *words])


def a_trial(place: Path, rig: Rig, clock: SteppedClock) -> None:
    opened = open_book(place)
    opened.store.rigs.put(rig)
    opened.store.trials.begin(rig, BenchKind.HAND, rig.stock, HOUR, clock)
    opened.close()


def test_a_copy_is_kept_put_back_and_nothing_is_written_over(tmp_path: Path, rig: Rig, clock: SteppedClock) -> None:
    home, kept, back = (tmp_path / f"{name}.db" for name in ("home", "kept", "back"))
    a_trial(home, rig, clock)
    assert book(home, "backup", str(kept)).exit_code == 0
    assert "is there already" in book(home, "backup", str(kept)).output
    assert book(back, "restore", str(kept)).exit_code == 0
    assert "is whole: 1 rigs, 1 trials" in book(back, "check").output
    assert "There is a book" in book(home, "restore", str(kept)).output
    assert "no copy of a book" in book(tmp_path / "x.db", "restore", str(tmp_path / "nowhere.db")).output


def test_taken_along_it_comes_home_and_tells_what_gave_way(tmp_path: Path, rig: Rig, clock: SteppedClock) -> None:
    home, trip = tmp_path / "home.db", tmp_path / "trip.db"
    a_trial(home, rig, clock)
    assert book(home, "away", str(trip)).exit_code == 0
    a_trial(trip, rig, clock)
    a_trial(home, rig, clock)
    came = book(trip, "home").output
    assert "trial 2 is 3 now" in came
    assert str(home) in came
    for place in (home, trip):
        assert "1 rigs, 3 trials" in book(place, "check").output
        assert "Nothing was kept beside" in book(place, "beside").output
    assert "it comes home by itself" in book(home, "merge", str(trip)).output
    assert "has no home" in book(home, "home").output
    assert "typed so: tenaz book away FILE" in book(home, "away").output
    assert "nothing under 9" in book(home, "beside", "take", "9").output
    assert "less than a day" in book(home, "thin", "90").output
    assert "Say which part" in book(home, "alike", "part:").output


def test_two_copies_of_a_copy_are_two(tmp_path: Path, rig: Rig, clock: SteppedClock) -> None:
    home, trip, other = (tmp_path / f"{name}.db" for name in ("home", "trip", "other"))
    a_trial(home, rig, clock)
    assert book(home, "away", str(trip)).exit_code == 0
    shutil.copy(trip, other)
    for place in (trip, other):
        a_trial(place, rig, clock)
        a_trial(place, rig, clock)
        assert book(place, "home").exit_code == 0
    assert "1 rigs, 5 trials" in book(home, "check").output


@pytest.mark.parametrize(
    ("damage", "told"),
    [
        ("UPDATE trials SET setpoint = 'cheese'", "trial 1 cannot be read"),
        ("UPDATE trials SET station = 'closed'", "trial 1 of ridge is closed with 0 records"),
        ("DELETE FROM feed", "stand in no feed"),
        ("PRAGMA foreign_keys = OFF; DELETE FROM rigs", "is not there"),
    ],
)
def test_what_is_wrong_with_a_book_is_told(
    tmp_path: Path, rig: Rig, clock: SteppedClock, damage: str, told: str
) -> None:
    place = tmp_path / "book.db"
    a_trial(place, rig, clock)
    with sqlite3.connect(place) as connection:
        connection.executescript(damage)
    found = book(place, "check")
    assert found.exit_code == 1
    assert told in found.output
