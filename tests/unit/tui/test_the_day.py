"""Keys of a day at the bench: steps back on the dial, the plan, the book, lists, routines, settings."""

from dataclasses import replace

import pytest

from tenaz import orders as o
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.composing import Draft
from tenaz.core.loads.parsing import parse_load
from tenaz.core.loads.routines import parse_routine
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.searches.plans import Planned, StopRule
from tenaz.core.searches.search import SearchPlan
from tenaz.core.trials.record_text import SeenRecord
from tenaz.pictures.book.trial import TrialPage
from tenaz.settings.model import Settings, WorkPart
from tenaz.tui.pages.book import BookPage
from tenaz.tui.screens.picks import Pick, narrowed
from tenaz.tui.session.session import Session
from tenaz.tui.session.workspace import Workspace
from tests.make import HOUR, Recorded, changed, trial
from tests.unit.tui.test_controllers import hands, session, view, work

__all__ = ["hands", "session", "view", "work"]


def test_one_key_takes_back_just_what_was_done_last_and_another_does_it_again(
    session: Session, hands: Recorded, work: Workspace
) -> None:
    stock, usual = work.view.rig.stock, work.plan
    session.order("turn_knob", 1)
    session.order("take_load", "solo")
    session.take_view(changed(work.view, made=1, undo="note on trial 3"))
    session.order("dial_stock")
    session.order("undo")
    assert work.dial.setpoint["data_rate_mts"] == 5000
    session.order("undo")
    assert hands.orders[-1] == o.Undo(), "the note was made before that"
    session.order("undo")
    assert work.plan == usual
    session.order("undo")
    assert work.dial.setpoint == stock
    session.order("undo")
    assert hands.orders.count(o.Undo()) == 2, "what was done before it was opened"
    for _ in range(2):
        session.order("redo")
    assert (work.dial.setpoint["data_rate_mts"], work.plan.kind.value) == (5000, "solo")
    session.order("redo")
    assert hands.orders[-1] == o.Redo()
    session.take_view(changed(work.view, made=2))
    session.order("redo")
    assert work.dial.setpoint == stock
    session.order("undo")
    session.order("undo")
    session.could_not(o.Undo())
    session.order("undo")
    assert hands.orders[-2:] == [o.Undo(), o.Undo()], "what could not be taken back stays the next"
    session.order("turn_knob", 2)
    dialled = work.dial.setpoint
    session.order("redo")
    assert work.dial.setpoint == dialled, "what was done meanwhile stays"


def test_trials_and_climbs_go_on_the_plan_and_are_run_by_a_rule(
    session: Session, hands: Recorded, work: Workspace
) -> None:
    session.order("run_plan")
    assert "Nothing is planned yet" in hands.trouble
    session.order("turn_knob", 1)
    session.order("put_on_plan")
    assert hands.orders == [o.AddPlanned((Planned(0, work.dial.setpoint, work.plan, ""),))]
    session.order("undo")
    climb = SearchPlan(4, "ridge", BenchKind.SIM, ("data_rate_mts",), work.view.rig.stock, HOUR)
    work.view = changed(work.view, going=climb)
    session.order("put_on_plan")
    (added,) = hands.orders[-1].trials  # type: ignore[union-attr]
    assert added.search_id == 4
    waiting = (Planned(7, work.view.rig.stock, HOUR, ""), replace(added, id=8))
    work.view = changed(work.view, planned=waiting)
    session.order("put_on_plan")
    assert "on the plan already" in hands.trouble
    session.order("point_at", 1)
    session.order("move_planned", -1)
    session.order("skip_planned")
    assert hands.orders[-2:] == [o.MovePlanned(8, -1), o.SkipPlanned(7)]
    hands.answers = ["1 failure, 8h"]
    session.order("run_plan")
    assert hands.orders[-1] == o.RunPlan(StopRule(1, 8 * 3600.0))
    assert work.busy


def test_the_book_is_looked_through_opened_compared_and_corrected(
    session: Session, hands: Recorded, work: Workspace
) -> None:
    rig = work.view.rig
    trials = tuple(trial(Outcome.HELD, id=k, number=k, rig="ridge", elapsed_s=3600.0) for k in (1, 2, 3))
    work.view = changed(work.view, trials=trials, change=99)
    hands.answers = ["held"]
    session.order("search_book")
    assert (work.pages.shown.name, hands.orders[-1]) == ("book", o.BringTrial(3))
    hands.came(o.BringTrial, TrialPage(trials[2], rig))
    session.order("mark_trial")
    session.order("point_at", -1)
    assert hands.orders[-1] == o.BringTrial(2)
    hands.came(o.BringTrial, TrialPage(trials[1], rig))
    picture = work.pages.of(BookPage).picture(work.view)
    assert picture.page is not None
    assert picture.beside is not None
    assert (picture.page.trial.number, picture.beside.trial.number) == (2, 3)
    hands.answers = ["erred 12m 3 errors | data rate 5000"]
    session.order("correct_trial")
    assert hands.orders[-1] == o.Correct(2, SeenRecord(Outcome.ERRED, 720.0, 3), {"data_rate_mts": 5000})
    hands.answers = ["all failed"]
    session.order("search_book")
    assert isinstance(hands.orders[-1], o.BringFound)


def test_a_routine_is_composed_and_kept_and_usual_work_is_as_set(
    session: Session, hands: Recorded, work: Workspace
) -> None:
    draft = Draft(parse_routine("march 10m; solve 5m").plans)
    hands.answers = [draft]
    session.order("run_routine")
    assert hands.orders[-1] == o.StartRoutine(work.view.rig.stock, draft.steps)
    work.busy = False
    session.take_settings(Settings(work=WorkPart(load="march 2h 80%", strategy="halve", plan_rule="2 failures")))
    assert (work.plan, work.strategy) == (parse_load("march 2h 80%"), "halve")
    hands.answers = ["screen.theme = chalk", "keys.climb = t"]
    session.order("edit_settings")
    assert hands.orders[-1] == o.ChangeSetting("screen.theme", "chalk")
    with pytest.raises(Exception, match="is the key of 'start one trial"):
        session.order("edit_settings")


def test_the_list_of_rigs_is_there_at_once_and_told_of_later(session: Session, hands: Recorded) -> None:
    hands.answers = ["this machine"]
    session.order("choose_rig")
    assert [pick.text for pick in hands.asked[-1]._picks] == ["this machine", "ridge"]
    assert hands.orders == [o.ChooseRig("this machine"), o.BringRigs()]


def test_letters_narrow_a_list_by_its_texts_before_what_stands_beside() -> None:
    picks = [Pick("march 1h", "memory"), Pick("marmot"), Pick("solo 1h", "one core; a march of cores")]
    assert [pick.text for pick in narrowed(picks, "mar")] == ["march 1h", "marmot"]
    assert [pick.text for pick in narrowed(picks, "core")] == ["solo 1h"]
    assert narrowed(picks, "zzz") == tuple(picks)
