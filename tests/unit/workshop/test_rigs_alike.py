"""What parts usually reach, by the workshop's rigs that have them."""

from dataclasses import replace
from pathlib import Path

import pytest
from typer.testing import CliRunner

from tenaz.cli.app import app
from tenaz.core.base.outcomes import Outcome
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.trials.past_trials import PastTrial
from tenaz.core.trials.record_text import SeenRecord
from tenaz.journal.store import Store
from tenaz.pictures.alike.cells import draw_alike
from tenaz.workshop.looking.rigs_alike import alike_of
from tests.make import HOUR, SteppedClock

EDGES = (6000, 6000, 6200, 6200, 6400)
KIT = (("memory", "LQ-24 kit"), ("board", "KB-10"))


def a_climb(store: Store, rig: Rig, edge: int, clock: SteppedClock) -> None:
    """Held for an hour up to the edge, wrong within minutes past it."""
    past = [
        PastTrial(
            rig.stock.replacing("data_rate_mts", rate),
            HOUR,
            SeenRecord(Outcome.HELD, 3600.0) if rate <= edge else SeenRecord(Outcome.ERRED, 60.0, 3),
        )
        for rate in range(5600, edge + 401, 200)
    ]
    store.afterwards.enter([(rig, BenchKind.HAND, past)], clock)


@pytest.fixture
def kits(store: Store, rig: Rig, clock: SteppedClock) -> Store:
    for number, edge in enumerate(EDGES):
        one = replace(rig, name=f"kit {number}", parts=KIT)
        store.rigs.put(one)
        a_climb(store, one, edge, clock)
    return store


def test_one_more_rig_of_the_kit_is_told_where_its_edge_lies_and_where_it_stands(kits: Store) -> None:
    mine = kits.rigs.one("kit 4")
    picture = alike_of(kits, mine, real=True)
    memory = next(part for part in picture.parts if part.part == "memory LQ-24 kit")
    assert memory.rigs == ("kit 0", "kit 1", "kit 2", "kit 3")
    (rate,) = (knob for knob in memory.knobs if knob.label == "data rate")
    low, _, high, _ = rate.stretch.split()
    assert 4000 < int(low) < 6000 < int(high) < 6900
    assert [value for value, _ in rate.others] == ["6000 MT/s", "6000 MT/s", "6200 MT/s", "6200 MT/s"]
    assert (rate.rigs, rate.mine) == (4, "6400 MT/s")
    assert rate.places[0] < rate.places[1] < rate.places[2]
    drawn = draw_alike(picture, 120, 30).text()
    assert "4 other rigs with it: kit 0, kit 1, kit 2, kit 3" in drawn
    assert "●" in drawn
    assert alike_of(kits, mine, real=False).parts == (), "what was simulated is told apart"


def test_too_few_are_named_and_the_command_tells_the_same(
    kits: Store, book: Path, rig: Rig, clock: SteppedClock
) -> None:
    for number in (7, 8):
        one = replace(rig, name=f"odd {number}", parts=(("board", "KB-77"),))
        kits.rigs.put(one)
        a_climb(kits, one, 6000, clock)
    (board,) = (part for part in alike_of(kits, kits.rigs.one("odd 7"), real=True).parts if part.part == "board KB-77")
    assert "data rate" in board.too_few
    kits.close()
    told = CliRunner().invoke(app, ["--book", str(book), "book", "alike", "part:lq-24"]).output
    assert "on real machines" in told
    assert "they held at 6000 MT/s ×4, 6200 MT/s ×2, kit 4 at 6400 MT/s" in told.replace("\n", " ")
    lost = CliRunner().invoke(app, ["--book", str(book), "book", "alike", "part:nothing"])
    assert "No rig of the book has 'nothing'" in lost.output


def test_a_rig_of_which_no_part_is_known_says_so(store: Store, rig: Rig) -> None:
    drawn = draw_alike(alike_of(store, rig, real=True), 120, 20).text()
    assert "Nothing is known of the parts of this rig" in drawn
