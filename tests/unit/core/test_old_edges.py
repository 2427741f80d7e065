"""What an edge of other values still says, the cheapest check of it, and what moves with what."""

from dataclasses import replace

import pytest

from tenaz.core.base.outcomes import Outcome
from tenaz.core.evidence.old_edges import Speaks, moves_with, old_edge
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.trials.trial import Trial
from tenaz.pictures.margins.build import margins_picture
from tenaz.pictures.margins.cells import draw_margins
from tenaz.pictures.margins.old_edges import moves_words, old_edge_words
from tests.make import RATE, RIG, indexed, trial

HOUR = LoadPlan(LoadKind.MARCH, duration_s=3600)


def climbed(base: Setpoint, held: int, failed: int, first: int = 1, after_s: float | None = 200.0) -> list[Trial]:
    """The data rate on one line: what held, then what failed."""
    ended = trial(Outcome.ERRED, base.replacing(RATE.name, failed), number=first + 1, id=first + 1, plan=HOUR)
    ended = replace(ended, failed_after_s=after_s, elapsed_s=after_s or 0.0)
    return [trial(Outcome.HELD, base.replacing(RATE.name, held), number=first, id=first, plan=HOUR), ended]


@pytest.mark.parametrize(
    ("moved", "speaks", "asked"),
    [
        ({"memory_vdd_mv": 1200}, Speaks.HELD, 6200),
        ({"t_cl_nck": 36}, Speaks.FAILED, 6000),
        ({"t_cl_nck": 36, "memory_vdd_mv": 1200}, Speaks.NEITHER, 6000),
    ],
)
def test_an_edge_of_before_says_what_still_stands_and_the_cheapest_check(
    moved: dict[str, int], speaks: Speaks, asked: int
) -> None:
    trials = climbed(RIG.stock, 6000, 6200)
    now = RIG.stock
    for name, value in moved.items():
        now = now.replacing(name, value)
    found = old_edge(RIG, RATE, now, indexed(trials))
    assert found is not None
    assert (found.speaks, found.asked, found.bracket.failed) == (speaks, asked, 6200)
    assert {change.knob for change in found.moved} == set(moved)
    assert found.check is not None
    assert found.check.setpoint == now.replacing(RATE.name, asked)
    assert found.check.plan == replace(HOUR, duration_s=600.0), "three times what the failure took"
    words = old_edge_words(RIG, found)
    assert "held 6000, failed 6200 MT/s with " in words
    assert f"ask data rate {asked} MT/s (march 10m)" in words
    answered = trial(Outcome.HELD, found.check.setpoint, number=9, id=9)
    short = old_edge(RIG, RATE, now, indexed([*trials, replace(answered, elapsed_s=100.0)]))
    assert short == found, "held for too short a time to tell"
    told = old_edge(RIG, RATE, now, indexed([*trials, answered]))
    assert told is not None
    assert (told.check, told.holds_today, told.stands) == (None, True, speaks is Speaks.FAILED)
    assert f"{asked} MT/s holds now too: {'it stands' if told.stands else 'climb again'}" in old_edge_words(RIG, told)
    again = trial(Outcome.ERRED, found.check.setpoint, number=9, id=9)
    assert old_edge(RIG, RATE, now, indexed([*trials, again])) is None, "an edge of today"


def test_an_edge_of_now_needs_none_of_before_and_none_is_made_up() -> None:
    now = RIG.stock.replacing("t_cl_nck", 36)
    before, today = climbed(RIG.stock, 6000, 6200), climbed(now, 5600, 5800, first=5)
    assert old_edge(RIG, RATE, RIG.stock, indexed(before)) is None
    assert old_edge(RIG, RATE, now, indexed([*before, *today])) is None
    assert old_edge(RIG, RATE, now, indexed(before[:1])) is None
    other_parts = [replace(one, fitted="the module before") for one in before]
    assert old_edge(RIG, RATE, now, indexed(other_parts, fitted="the module of now")) is None
    never_came_up = climbed(RIG.stock, 6000, 6200, after_s=None)
    old = old_edge(RIG, RATE, now, indexed(never_came_up))
    assert old is not None
    assert old.check is not None
    assert old.check.plan.duration_s == 60
    high = old_edge(RIG, RIG.knob("memory-vdd"), RIG.stock.replacing("data_rate_mts", 6000), indexed(before))
    assert high is None


def test_what_moves_with_what_is_told_between_the_lines_farthest_apart() -> None:
    tight, tightest = RIG.stock.replacing("t_cl_nck", 36), RIG.stock.replacing("t_cl_nck", 34)
    trials = [
        *climbed(RIG.stock, 6400, 6600),
        *climbed(tight, 6400, 6600, first=3),
        *climbed(tightest, 5800, 6000, first=5),
    ]
    (pair,) = moves_with(RIG, indexed(trials))
    assert (pair.other.name, pair.easier, pair.harder, pair.least, pair.most) == ("t_cl_nck", 40, 34, -3, -3)
    assert moves_words(pair) == "edge of data rate: 3 steps nearer with tCL 40 → 34 nCK"
    (still,) = moves_with(RIG, indexed(trials[:4]))
    assert not still.seen
    assert "not seen to move (+0 to +0 steps)" in moves_words(still)
    picture = margins_picture(RIG, tight.replacing("memory_vdd_mv", 1200), indexed(trials))
    shown = draw_margins(picture, 100, 30).text()
    assert "ask data rate" in shown
    assert "3 steps nearer with tCL" in shown
