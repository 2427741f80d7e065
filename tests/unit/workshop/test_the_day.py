"""What a day at the bench needs beside trials: the plan, corrections, steps back, trials of elsewhere, lists."""

from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path

import pytest

from tenaz import orders as o
from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.loads.routines import parse_routine
from tenaz.core.searches.plans import USUAL_RULE, Planned, StopRule, parse_rule
from tenaz.core.searches.search import Advice
from tenaz.core.trials.querying import parse_query
from tenaz.core.trials.record_text import parse_record
from tenaz.pictures.day.build import day_picture
from tenaz.pictures.plan.build import plan_picture
from tenaz.workshop.looking.session_paper import ground_of, plan_ground, session_paper
from tenaz.workshop.runs.planning import CUT_SHORT, EMPTY
from tenaz.workshop.shop.shop import Workshop

HOUR = LoadPlan(LoadKind.MARCH, duration_s=3600.0)


@pytest.fixture
def workshop(book: Path) -> Iterator[Workshop]:
    opened = Workshop()
    opened.open(book)
    opened.do(o.ChooseRig("ridge"))
    yield opened
    opened.close()


def planned(workshop: Workshop, *rates: int) -> None:
    stock = workshop.rig.stock
    workshop.do(
        o.AddPlanned(tuple(Planned(0, stock.replacing("data_rate_mts", rate), HOUR, "to see") for rate in rates))
    )


def run(workshop: Workshop, rule: StopRule = USUAL_RULE) -> str:
    workshop.do(o.RunPlan(rule))
    workshop.running.wait()
    ended = workshop.view().kept.plan_run
    assert ended is not None
    return ended.ended_why


def test_a_plan_is_reordered_skipped_made_and_accounted_for(workshop: Workshop) -> None:
    planned(workshop, 5000, 5200, 5400)
    first, second, third = workshop.view().kept.planned
    workshop.do(o.MovePlanned(third.id, -1))
    assert [one.id for one in workshop.view().kept.planned] == [first.id, third.id, second.id]
    workshop.do(o.SkipPlanned(second.id))
    workshop.do(o.Undo())
    workshop.do(o.SkipPlanned(first.id))
    assert run(workshop) == EMPTY
    assert [trial.setpoint["data_rate_mts"] for trial in workshop.trials()] == [5400, 5200]
    assert {trial.reason for trial in workshop.trials()} == {"to see"}
    assert workshop.view().kept.planned == ()
    workshop.do(o.StartTrial(workshop.rig.stock, HOUR))
    workshop.running.wait()
    account = plan_picture(
        plan_ground(workshop.stands(), workshop.session().kept, workshop.session().searches), datetime.now(UTC)
    )
    assert [trial.number for trial in account.made] == [1, 2], "what came after the run is none of it"


@pytest.mark.parametrize(
    ("rates", "rule", "made", "why"),
    [
        ((7400, 7400, 5000), "1 failure", 1, "1 failure"),
        ((7400, 5000, 7400, 7400, 5200), "2 failures", 4, "2 failures in a row"),
        ((5000, 5200, 5400), "2h", 1, "only after the 2h"),
    ],
)
def test_a_run_of_the_plan_ends_by_its_rule_and_the_rest_waits(
    workshop: Workshop, rates: tuple[int, ...], rule: str, made: int, why: str
) -> None:
    planned(workshop, *rates)
    assert why in run(workshop, parse_rule(rule))
    assert (len(workshop.trials()), len(workshop.view().kept.planned)) == (made, len(rates) - made)


def test_a_climb_on_the_plan_goes_as_far_as_it_goes(workshop: Workshop) -> None:
    begin = o.BeginSearch(("data_rate_mts",), workshop.rig.stock, HOUR, strategy="stride")
    plan = workshop.do(begin)
    workshop.do(o.AddPlanned((Planned(0, plan.base, plan.load, "", search_id=plan.id),)))
    planned(workshop, 4800)
    assert run(workshop, StopRule(failures=9)) == EMPTY
    view = workshop.view()
    assert view.searches.going is None
    picture = view.searches.pictures["data_rate_mts"]
    assert isinstance(picture.advice, Advice)
    assert workshop.trials()[-1].setpoint["data_rate_mts"] == 4800


def test_a_run_that_nobody_ended_was_cut_short(workshop: Workshop, book: Path) -> None:
    planned(workshop, 5000)
    workshop.store.plans.begin_run("ridge", workshop.bench, StopRule(), workshop.at.clock)
    workshop.close()
    again = Workshop()
    again.open(book)
    again.do(o.ChooseRig("ridge"))
    ended = again.view().kept.plan_run
    assert ended is not None
    assert ended.ended_why == CUT_SHORT
    again.close()


@pytest.mark.parametrize("text", ["never", "0 failures", "2 failures, soon"])
def test_a_rule_that_is_none_is_told(text: str) -> None:
    with pytest.raises(Refused):
        parse_rule(text)


def test_a_record_is_corrected_told_and_taken_back(workshop: Workshop) -> None:
    workshop.do(o.StartTrial(workshop.rig.stock.replacing("data_rate_mts", 5600), HOUR))
    workshop.running.wait()
    trial = workshop.trials()[-1]
    said = workshop.do(o.Correct(trial.id, parse_record("erred 12m 3 errors"), {"data_rate_mts": 5800}))
    assert said == "trial 1: corrected from 'held 1h' to 'erred 12m 3 errors', data rate 5600 to 5800"
    now = workshop.trials()[-1]
    assert (now.outcome, now.failed_after_s, now.errors, now.verdict) == (Outcome.ERRED, 720.0, 3, Verdict.FAIL)
    assert (now.setpoint["data_rate_mts"], now.asked["data_rate_mts"]) == (5800, 5600)
    assert any("corrected from" in text for _, _, text in workshop.view().log)
    workshop.do(o.Undo())
    back = workshop.trials()[-1]
    assert (back.outcome, back.setpoint, back.elapsed_s) == (Outcome.HELD, trial.setpoint, 3600.0)


def test_steps_are_taken_back_one_after_the_other(workshop: Workshop) -> None:
    stock = workshop.rig.stock
    workshop.do(o.StartTrial(stock, HOUR))
    workshop.running.wait()
    trial = workshop.trials()[-1]
    workshop.do(o.NoteTrial(trial.id, "fan loose"))
    workshop.do(o.NoteTrial(trial.id, "fan fixed"))
    workshop.do(o.SaveSetpoint("winter", stock))
    workshop.do(o.SaveRoutine("evening", "march 1h; solve 10m"))
    workshop.do(o.KeepRig(workshop.rig))
    assert parse_routine("evening", own=workshop.view().kept.routines).length_s == 4200
    told = [str(workshop.do(o.Undo())) for _ in range(5)]
    assert told[0] == "taken back: ridge changed"
    view = workshop.view()
    assert (view.kept.saved, dict(view.kept.routines), view.trials[-1].note) == ((), {}, "")
    assert view.now.undo == ""
    with pytest.raises(Refused, match="Trial 1 held by what its own load verified"):
        workshop.do(o.Undo())
    for _ in range(5):
        assert workshop.do(o.Redo()).startswith("done again: ")
    view = workshop.view()
    assert ([one.name for one in view.kept.saved], view.trials[-1].note) == (["winter"], "fan fixed")
    assert view.kept.routines == {"evening": "march 1h; solve 10m"}
    with pytest.raises(Refused, match="nothing that was taken back"):
        workshop.do(o.Redo())
    workshop.do(o.Undo())
    workshop.do(o.NoteTrial(trial.id, "meanwhile"))
    with pytest.raises(Refused, match="nothing that was taken back"):
        workshop.do(o.Redo())


def test_a_record_that_was_taken_back_is_added_again_as_it_was(workshop: Workshop) -> None:
    workshop.do(o.SetPace(1.0))
    workshop.do(o.StartTrial(workshop.rig.stock, HOUR))
    workshop.do(o.Stop())
    workshop.running.wait()
    stopped = workshop.trials()[-1]
    assert (stopped.outcome, workshop.view().now.undo) == (Outcome.STOPPED, "record of trial 1")
    for _ in range(2):
        workshop.do(o.Undo())
        assert workshop.trials()[-1].open
        workshop.do(o.Redo())
        again = workshop.trials()[-1]
        assert (again.outcome, again.elapsed_s, again.facts) == (Outcome.STOPPED, stopped.elapsed_s, stopped.facts)
    workshop.do(o.Undo())
    workshop.do(o.Explain(stopped.id, Outcome.FROZE, 60.0))
    with pytest.raises(Refused, match="nothing that was taken back"):
        workshop.do(o.Redo())


def test_the_book_is_searched_across_rigs_and_rigs_are_listed(workshop: Workshop) -> None:
    planned(workshop, 5000)
    workshop.do(o.StartTrial(workshop.rig.stock.replacing("data_rate_mts", 7400), HOUR))
    workshop.running.wait()
    found = workshop.do(o.BringFound(parse_query("all failed")))
    assert [(trial.number, rig.name) for trial, rig in found.trials] == [(1, "ridge")]  # type: ignore[attr-defined]
    page = workshop.do(o.BringTrial(workshop.trials()[-1].id))
    assert page.readings == () or page.readings[0].knob  # type: ignore[attr-defined]
    lines = {one.name: one for one in workshop.do(o.BringRigs())}  # type: ignore[attr-defined]
    assert lines["this machine"].state == "nothing tried yet"
    assert "trial 1: no boot" in lines["ridge"].state
    assert lines["ridge"].next_step == "1 planned"
    assert "exercise: " in lines["ridge"].story


def test_the_day_tells_how_far_the_work_has_come_and_goes_on_paper(workshop: Workshop, tmp_path: Path) -> None:
    def states() -> list[str]:
        return [stage.state.value for stage in day_picture(ground_of(workshop.session())).stages]

    assert states() == ["done", "to come", "to come", "to come", "to come", "to come"]
    workshop.do(o.StartRoutine(workshop.rig.stock, parse_routine("march 8h; transform 4h").plans))
    workshop.running.wait()
    assert states() == ["done", "done", "to come", "to come", "done", "done"]
    workshop.do(o.BeginSearch(("data_rate_mts",), workshop.rig.stock, HOUR, strategy="stride"))
    assert states()[3] == "begun"
    workshop.do(o.StartTrial(workshop.rig.stock.replacing("data_rate_mts", 7400), HOUR))
    workshop.running.wait()
    stands = {heading: words for heading, words, _ in day_picture(ground_of(workshop.session())).stands}
    assert stands["last failure"].startswith("trial 3 at data rate 7400 MT/s")
    session_paper(workshop.view()).write(tmp_path / "session.pdf")
    assert (tmp_path / "session.pdf").read_bytes().startswith(b"%PDF")
