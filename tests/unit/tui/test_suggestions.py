"""What the line *next* says, and what Enter would do."""

from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import pytest

from tenaz import orders as o
from tenaz.advice.coming import Coming
from tenaz.advice.tuning import next_step
from tenaz.core.base.outcomes import Outcome
from tenaz.core.knobs.setpoint import UNKNOWN, Setpoint
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.searches.search import Advice
from tenaz.core.trials.index import TrialIndex
from tenaz.core.trials.trial import Trial
from tenaz.demo.ridge import ridge
from tenaz.orders.fields import read_field
from tenaz.pictures.climb.build import as_now
from tenaz.tui.base.dial import Dial
from tenaz.workshop.looking.view import View
from tenaz.workshop.shop.shop import Workshop
from tests.make import changed, trial

HOUR = LoadPlan(LoadKind.MARCH, duration_s=3600)


@pytest.fixture
def view(book: Path) -> Iterator[View]:
    """After a climb of the data rate on the demo's rig."""
    workshop = Workshop()
    workshop.open(book)
    workshop.do(o.ChooseRig("ridge"))
    workshop.do(o.BeginSearch(("data-rate",), workshop.rig.stock, HOUR, steps=o.Steps(), strategy="stride"))
    workshop.running.wait()
    yield workshop.view()
    workshop.close()


def said(view: View, *more: Trial, in_force: Setpoint | None = None) -> Coming:
    """What is next with some more trials in the book; in force is the last climb's base when nothing else is said."""
    stands = in_force or view.rig.stock
    trials = (*view.trials, *(replace(one, id=10**6 + k, number=10**6 + k) for k, one in enumerate(more)))
    index = TrialIndex(trials)
    pictures = {name: as_now(view.rig, one, index, stands) for name, one in view.searches.pictures.items()}
    shown = changed(view, index=index, in_force=stands, pictures=pictures)
    return next_step(shown.known, stands, view.rig.knobs[0], False)


def test_advice_stands_where_the_purpose_tolerates_it_and_runs_what_is_owed(view: View) -> None:
    picture = view.searches.pictures["data_rate_mts"]
    assert picture.bracket.failed is not None
    # Before hours are spent on it: whether the other load that is asked for bears as much.
    look = said(view)
    assert look.stand is not None
    assert look.stand["data_rate_mts"] > picture.stand
    (plan,) = look.owed
    assert (plan.kind, plan.duration_s) == (LoadKind.TRANSFORM, 1200)
    tried = trial(Outcome.HELD, look.stand, plan=plan, elapsed_s=1200.0)
    first = said(view, tried)
    assert first.stand is not None
    assert first.stand is not None
    assert picture.stand < picture.bracket.failed
    assert [(plan.kind, plan.duration_s) for plan in first.owed][1:] == [(LoadKind.TRANSFORM, 4 * 3600)]
    assert "sure of at most 1 failure in 2,000 h" in first.reason
    half = trial(Outcome.HELD, first.stand, plan=replace(HOUR, duration_s=28800), elapsed_s=28800.0)
    assert [plan.kind for plan in said(view, half, tried).owed] == [LoadKind.TRANSFORM]
    other = trial(Outcome.HELD, first.stand, plan=LoadPlan(LoadKind.TRANSFORM), elapsed_s=4 * 3600.0)
    # All hours are there; but transform ran at this value alone, and says too little of how far its edge is.
    short = said(view, half, other)
    assert short.stand is not None
    assert "held back by data rate under transform" in short.reason
    assert short.stand is not None
    assert short.stand["data_rate_mts"] > first.stand["data_rate_mts"]
    (plan,) = short.owed
    tried = trial(Outcome.HELD, short.stand, plan=plan, elapsed_s=plan.duration_s)
    (longer,) = said(view, half, other, tried).owed
    assert plan.duration_s == 1200
    assert longer == replace(plan, duration_s=3600)
    done = said(view, half, other, tried, replace(tried, plan=longer, elapsed_s=longer.duration_s or 0.0))
    assert (done.order, "of 8 h, transform 4 of 4 h" in done.headline) == (None, True)
    assert "sign off, or go on with another knob" in done.reason
    assert "and that failed" in said(view, trial(Outcome.FROZE, first.stand)).reason


def test_advice_does_not_outlive_the_values_that_it_was_found_under(view: View) -> None:
    moved = said(view, in_force=view.rig.stock.replacing("t_cl_nck", 36).replacing("memory_vdd_mv", 1200))
    assert (moved.stand is not None, moved.headline) == (True, "⏎   ask the old edge: data rate 6000 MT/s (march 1h)")
    assert "with tCL 40 nCK (now 36 nCK), memory VDD 1100 mV (now 1200 mV): neither" in moved.reason
    assert moved.stand is not None
    holds = said(view, trial(Outcome.HELD, moved.stand), in_force=moved.stand)
    assert holds.key == "c"
    assert "its last climb was made with tCL 40 nCK, memory VDD 1100 mV" in holds.reason


def test_advice_never_goes_past_stock(view: View) -> None:
    picture = view.searches.pictures["data_rate_mts"]
    assert picture.judged is not None
    low = replace(
        picture,
        judged=replace(picture.judged, stand=picture.knob.strain(4600)),
        advice=Advice(view.rig.stock.replacing("data_rate_mts", 5000), "5000 MT/s held twice, 5200 MT/s failed"),
    )
    close = said(changed(view, pictures={"data_rate_mts": low}))
    assert (close.order, close.headline) == (None, "leave data rate at its stock 4800 MT/s")


def test_no_climb_is_advised_from_values_that_failed(view: View) -> None:
    bare = changed(view, pictures={})
    assert said(bare).key == "c"
    stock = said(bare, trial(Outcome.ERRED, view.rig.stock))
    assert (stock.order, "find the fault" in stock.headline) == (None, True)
    harder = view.rig.stock.replacing("t_cl_nck", 36)
    assert said(bare, trial(Outcome.FROZE, harder), in_force=harder).headline == "dial easier and try"


def test_many_values_that_failed_together_are_unpicked(view: View) -> None:
    stock = view.rig.stock
    moved = {"t_cl_nck": 34, "t_rcd_nck": 34, "t_rp_nck": 34}
    failed = stock
    for name, value in moved.items():
        failed = failed.replacing(name, value)
    tried = [trial(Outcome.HELD, stock, id=1000, number=100), trial(Outcome.ERRED, failed, id=1001, number=101)]
    told = said(view, *tried, in_force=failed)
    assert isinstance(told.order, o.BeginSearch)
    assert told.order.strategy == "unpick"
    assert set(told.order.knobs) == set(moved)
    assert told.order.base == stock
    two = replace(tried[1], setpoint=stock.replacing("t_cl_nck", 34).replacing("t_rp_nck", 34))
    assert not isinstance(said(view, tried[0], two, in_force=two.setpoint).order, o.BeginSearch)


def test_what_nobody_knows_is_no_number_until_somebody_says_it() -> None:
    rig = replace(ridge(), stock=ridge().stock.replacing("data_rate_mts", UNKNOWN))
    dial = Dial(rig, rig.stock, rig.stock)
    assert dial.setpoint.unknown() == ("data_rate_mts",)
    assert rig.knob("data_rate_mts").show(dial.value) == "unknown"
    rig.check(rig.stock)
    dial.know("data_rate_mts", 5600)
    assert dial.setpoint == dial.in_force == dial.rig.stock == ridge().stock.replacing("data_rate_mts", 5600)


def test_what_a_search_over_several_knobs_came_to_is_said_until_something_else_is_tried(book: Path) -> None:
    workshop = Workshop()
    workshop.open(book)
    workshop.do(o.ChooseRig("ridge"))
    stock = workshop.rig.stock
    knobs, parameters = read_field(workshop.rig, "data_rate_mts=4800..5600 t_cl_nck=40..34")
    workshop.do(o.BeginSearch(knobs, stock, replace(HOUR, duration_s=600.0), "", "field", parameters))
    workshop.do(o.GoOn(o.Steps(one=True)))
    workshop.running.wait()

    def next_now() -> Coming:
        view = workshop.view()
        return next_step(view.known, view.in_force, view.rig.knobs[0], False)

    assert next_now().headline == "a›f   go on with the field"
    workshop.do(o.GoOn())
    workshop.running.wait()
    assert next_now().headline.startswith("the field is done")
    workshop.do(o.StartTrial(stock, HOUR))
    workshop.running.wait()
    assert "field" not in next_now().headline
    # Several values moved at once, and it fails: which of them is asked even while a climb is open.
    workshop.do(o.BeginSearch(("data_rate_mts",), stock, HOUR, strategy="stride"))
    many = stock.replacing("data_rate_mts", 7400).replacing("t_cl_nck", 34).replacing("t_rcd_nck", 33)
    workshop.do(o.StartTrial(many, HOUR))
    workshop.running.wait()
    assert next_now().headline.startswith("⏎   find the culprit: which of the 3")
    workshop.close()
