"""Margins of all knobs: from what is in use to the edge, with both numbers, on the sheet and in words."""

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tenaz.core.base.outcomes import Outcome
from tenaz.core.sensors.telemetry import SensorKind
from tenaz.core.trials.facts import LoadFacts, SensorFact
from tenaz.core.trials.trial import Trial
from tenaz.pictures.margins.build import margins_picture
from tenaz.pictures.margins.cells import draw_margins, margin_words
from tenaz.pictures.margins.model import figure
from tests.make import RIG, indexed, trial


def tried(*steps: tuple[str, int, Outcome]) -> list[Trial]:
    return [
        trial(outcome, RIG.stock.replacing(knob, value), number=number)
        for number, (knob, value, outcome) in enumerate(steps, 1)
    ]


TRIALS = tried(
    *(("data_rate_mts", value, Outcome.HELD) for value in range(4800, 6400, 400)),
    ("data_rate_mts", 6400, Outcome.ERRED),
    ("t_cl_nck", 38, Outcome.HELD),
    ("t_cl_nck", 34, Outcome.NO_BOOT),
)


def test_each_knob_that_was_moved_has_its_way_to_the_edge() -> None:
    picture = margins_picture(RIG, RIG.stock, indexed(TRIALS))
    rate, latency = picture.rows
    assert (rate.knob.name, latency.knob.name) == ("data_rate_mts", "t_cl_nck")
    assert (rate.in_use, rate.bracket.failed, rate.guard_steps) == (4800, 6400, 7)
    low, middle, high = rate.steps
    assert low < middle < high <= 8
    assert rate.in_units == pytest.approx(200 * middle, rel=0.01)
    assert rate.percent == pytest.approx(100 * rate.in_units / 4800)
    # Hours at harder values speak for it too, and so does the failure there.
    assert rate.shown_h == pytest.approx(1.256, rel=0.01)
    assert rate.rate.low < rate.rate.median < rate.rate.high
    assert rate.reserve_k is None
    assert "tRCD" in picture.still
    way, hours, between = margin_words(rate)
    assert f"{middle:+.1f} steps" in way
    assert "tested ≥ 1.3 h, model" in hours
    assert "7 steps before 6400 MT/s failed" in between
    assert picture.worth


def test_past_the_edge_the_margin_is_negative_and_nothing_tried_is_said() -> None:
    failed = RIG.stock.replacing("data_rate_mts", 6400)
    (row, *_) = margins_picture(RIG, failed, indexed(TRIALS)).rows
    assert row.steps[1] < 0
    assert row.sure < 0.05
    assert "an easier value does" in margins_picture(RIG, failed, indexed(TRIALS)).worth
    bare = margins_picture(RIG, RIG.stock, indexed([]))
    assert bare.rows == ()
    assert "No knob was moved from what is in use yet" in draw_margins(bare, 100, 30).text()


@given(width=st.integers(0, 180), height=st.integers(0, 60), skip=st.integers(0, 5))
@settings(max_examples=40)
def test_no_sheet_is_overdrawn_and_knobs_are_scrolled(width: int, height: int, skip: int) -> None:
    picture = margins_picture(RIG, RIG.stock, indexed(TRIALS))
    rows = draw_margins(picture, width, height, "t_cl_nck", skip).rows()
    assert len(rows) == height
    assert all(sum(len(run.text) for run in row) == width for row in rows)


def test_the_sheet_marks_in_use_advised_edge_and_failure() -> None:
    text = draw_margins(margins_picture(RIG, RIG.stock, indexed(TRIALS)), 100, 30, "data_rate_mts").text()
    way = next(line for line in text.splitlines() if line.startswith("▸ data rate"))
    assert way.index("│") < way.index("●") < way.index("✗")
    assert "━" in way
    small = draw_margins(margins_picture(RIG, RIG.stock, indexed(TRIALS)), 100, 10).text()
    assert "1 more: ↓" in small


def test_a_warm_bench_tells_the_reserve() -> None:
    def warm(one: Trial, mean_c: float) -> Trial:
        sensor = SensorFact("m", "module", SensorKind.TEMPERATURE, mean_c, mean_c)
        return replace(one, facts=LoadFacts((), (sensor,)))

    trials = [warm(one, 45.0 + 3 * k) for k, one in enumerate(TRIALS)]
    (row, *_) = margins_picture(RIG, RIG.stock, indexed(trials)).rows
    assert row.reserve_k is not None
    assert "°C left" in margin_words(row)[2]


@pytest.mark.parametrize(
    ("value", "words"), [(0.123, "0.12"), (9.6, "9.6"), (42.4, "42"), (1234, "1,200"), (5e7, "over 1M")]
)
def test_figures_have_two_places(value: float, words: str) -> None:
    assert figure(value) == words
