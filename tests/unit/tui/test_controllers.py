"""What keys do, without a screen: orders given, questions put, panels that are brought up to date."""

from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import pytest

from tenaz import orders as o
from tenaz.core.base.errors import Refused
from tenaz.core.base.loop import Move, Station
from tenaz.core.base.outcomes import Outcome
from tenaz.core.knobs.readings import reading_of
from tenaz.core.knobs.setpoint import UNKNOWN
from tenaz.core.loads.plan import LoadKind
from tenaz.core.ports.asking import Reply
from tenaz.core.ports.bench import Choice, HowLong, Question, Ran
from tenaz.core.ports.events import Asked, RunEnded, TrialMoved
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.searches.search import SearchPlan
from tenaz.tui.base.commands import BY_ACTION, COMMANDS, WITHOUT_KEY
from tenaz.tui.base.keys_page import keys_text
from tenaz.tui.base.menus import MENUS, NO_MENU, PAGE
from tenaz.tui.pages.sheet import SheetPage
from tenaz.tui.pages.strip import PAGES
from tenaz.tui.pages.tune import TunePage
from tenaz.tui.prompts.find_anything import fitting, the_one, things_of
from tenaz.tui.session.session import Session
from tenaz.tui.session.workspace import PACES, Workspace
from tenaz.tui.widgets.keys import keys_now
from tenaz.workshop.looking.view import View
from tenaz.workshop.shop.shop import Workshop
from tests.make import HOUR, Recorded, changed, trial


@pytest.fixture(scope="module")
def view(tmp_path_factory: pytest.TempPathFactory) -> Iterator[View]:
    """The demo's rig, on which nothing was tried yet."""
    workshop = Workshop()
    workshop.open(tmp_path_factory.mktemp("book") / "book.db")
    workshop.do(o.ChooseRig("ridge"))
    yield workshop.view()
    workshop.close()


@pytest.fixture
def hands() -> Recorded:
    return Recorded()


@pytest.fixture
def work(view: View) -> Workspace:
    """Where one dials; it opens on the day."""
    work = Workspace.on(view)
    assert work.pages.shown.name == "day"
    work.pages.show(TunePage)
    return work


@pytest.fixture
def session(work: Workspace, hands: Recorded) -> Session:
    hands.work = work
    return Session(work, hands)


def test_every_command_has_a_controller_and_every_key_is_there_once(session: Session) -> None:
    ours = {name for name, command in BY_ACTION.items() if not command.of_app}
    assert ours == set(session._actions) - set(WITHOUT_KEY)
    for page in PAGES:
        here = [one.key for one in COMMANDS if one.key and (not one.pages or page in one.pages)]
        assert len(here) == len(set(here)), page
        assert not {menu.letter for menu in MENUS} & set(here)
    direct = [one.shown for one in COMMANDS if one.key and not one.pages]
    assert len(direct) <= 15, "a dozen can be learnt in an hour"
    assert not [one for one in direct if len(one) == 1 and one.isupper()]


def test_every_command_stands_in_one_menu_under_a_letter_of_its_own(session: Session, hands: Recorded) -> None:
    found = [action for menu in MENUS for _, action in menu.commands if not action.startswith(PAGE)]
    commands = {command.action for command in COMMANDS if command.by_name}
    assert sorted(found) == sorted(commands - set(NO_MENU))
    pages = [action.removeprefix(PAGE) for menu in MENUS for _, action in menu.commands if action.startswith(PAGE)]
    assert set(pages) == set(PAGES)
    for letters in ([menu.letter for menu in MENUS], *([one for one, _ in menu.commands] for menu in MENUS)):
        assert len(letters) == len(set(letters))
    page = Path(__file__).parents[3] / "docs/guide/keys.md"
    assert page.read_text("utf-8") == keys_text(), "write it anew: tenaz.tui.base.keys_page"
    for letters in ("ps", "et", "al"):
        menu = next(menu for menu in MENUS if menu.letter == letters[0])
        hands.answers = [next(entry for entry in menu.entries() if entry.letter == letters[1])]
        session.order("show_menu")
    assert session.page.name == "sheet"
    assert "act" in hands.done
    assert hands.asked[-1]._title.startswith("load, now")


def test_keys_dial_and_give_orders_as_values(session: Session, hands: Recorded, work: Workspace) -> None:
    session.order("turn_knob", 2)
    assert work.dial.setpoint["data_rate_mts"] == 5200
    session.order("start_trial")
    dialled = work.view.rig.stock.replacing("data_rate_mts", 5200)
    assert hands.orders == [o.StartTrial(dialled, work.plan)]
    assert (work.busy, session.page.name) == (True, "load")
    session.order("start_trial")
    assert "A trial is under way" in hands.trouble
    assert len(hands.orders) == 1
    session.order("stop_run")
    assert hands.orders[-1] == o.Stop()
    session.running.hear(RunEnded(trouble="the disk is full"))
    assert (work.busy, hands.trouble, session.page.name) == (False, "the disk is full", "tune")


@pytest.mark.parametrize("goes_on", [False, True])
def test_a_key_that_follows_the_record_waits_for_the_end_of_the_run(
    session: Session, hands: Recorded, work: Workspace, goes_on: bool
) -> None:
    session.order("start_trial")
    session.hear(TrialMoved(trial(Outcome.FROZE)))
    session.order("start_trial")
    assert (len(hands.orders), hands.trouble) == (1, "")
    session.hear(TrialMoved(trial(None, station=Station.SET)) if goes_on else RunEnded())
    assert (len(hands.orders), "A trial is under way" in hands.trouble) == ((1, True) if goes_on else (2, False))


def test_what_is_above_a_ceiling_or_moves_much_is_explained_first(
    session: Session, hands: Recorded, work: Workspace
) -> None:
    work.dial.setpoint = work.view.rig.stock.replacing("memory_vdd_mv", 1400)
    hands.answers = ["one cold boot to see"]
    session.order("start_trial")
    assert hands.orders == [o.StartTrial(work.dial.setpoint, work.plan, "one cold boot to see")]


def test_a_climb_is_begun_gone_on_with_and_ended(session: Session, hands: Recorded, work: Workspace) -> None:
    session.order("climb")
    begun = hands.orders[-1]
    assert begun == o.BeginSearch(("data_rate_mts",), work.view.rig.stock, work.plan, strategy="adapt", steps=o.Steps())
    session.running.could_not(begun)
    assert not work.busy
    session.order("end_climb")
    assert "No climb is under way here" in hands.trouble
    going = SearchPlan(4, "ridge", BenchKind.SIM, ("data_rate_mts",), work.view.rig.stock, HOUR)
    work.view = changed(work.view, going=going)
    session.order("climb")
    assert hands.orders[-1] == o.GoOn(o.Steps())
    session.running.hear(RunEnded(advice="6000 MT/s held"))
    assert "tell" in hands.done
    hands.answers = [True]
    session.order("end_climb")
    assert hands.orders[-1] == o.EndSearch()


def test_a_question_of_the_run_is_shown_answered_and_a_slip_taken_back(session: Session, hands: Recorded) -> None:
    session.order("start_trial")
    question = Question(Station.BOOT, "Did it come up?", (Choice("y", "came up", Move.CAME_UP),))
    session.running.hear(Asked(question))
    assert hands.asked[-1] == question
    session.running.take_answer(Move.CAME_UP, question)
    asked = HowLong("how long?", 60.0)
    session.running.hear(Asked(asked))
    assert hands.orders[-2:] == [o.GiveAnswer(Move.CAME_UP, question), o.GiveAnswer(Reply.A_SLIP, asked)]


def test_an_unfinished_trial_is_explained_or_taken_up(session: Session, hands: Recorded, work: Workspace) -> None:
    unfinished = trial(None, id=7, station=Station.JUDGE)
    work.view = changed(work.view, unfinished=unfinished)
    session.running.take_answer(Outcome.LOST)
    hands.answers = ["8h"]
    session.running.take_answer(Outcome.HELD)
    session.running.take_answer(Move.ENTERED)
    assert hands.orders == [
        o.Explain(7, Outcome.LOST),
        o.Explain(7, Outcome.HELD, 8 * 3600.0, Ran(8 * 3600.0)),
        o.TakeUp(7),
    ]


def test_what_nobody_could_read_is_asked_for_once(session: Session, hands: Recorded, work: Workspace) -> None:
    rig = replace(work.view.rig, stock=work.view.rig.stock.replacing("data_rate_mts", UNKNOWN))
    work.take(changed(work.view, rig=replace(rig, name="another"), in_force=rig.stock))
    hands.answers = ["5600"]
    session.order("start_trial")
    assert hands.orders[0] == o.Know("data_rate_mts", 5600)
    started = hands.orders[1]
    assert isinstance(started, o.StartTrial)
    assert started.setpoint["data_rate_mts"] == 5600


def test_a_value_that_was_rounded_is_taken_off_its_grid_by_one_key(
    session: Session, hands: Recorded, work: Workspace
) -> None:
    session.order("correct_grid")
    assert "no grid needs correcting" in hands.trouble
    knob, asked = work.view.rig.knob("fabric_mv"), work.view.rig.stock.replacing("fabric_mv", 890)
    rounded = trial(
        Outcome.STOPPED,
        asked.replacing("fabric_mv", 880),
        otherwise=asked.replacing("fabric_mv", 880).changes_from(asked),
    )
    work.view = changed(work.view, trials=(rounded,), differing=(reading_of(knob, 890, 880),))
    session.order("correct_grid")
    assert hands.orders == [o.CorrectGrid("fabric_mv", (890,))]


@pytest.mark.parametrize(
    ("action", "words"),
    [
        ("point_at", "no trial to point at"),
        ("compare_next", "No setpoint is saved"),
        ("tick_line", "Nothing is being typed in"),
        ("settle_note", "no open note on data rate 4800"),
        ("stop_run", "Nothing runs"),
    ],
)
def test_a_key_that_makes_no_sense_says_why_and_gives_no_order(
    session: Session, hands: Recorded, action: str, words: str
) -> None:
    session.order(action)
    assert words in hands.trouble
    assert words in session.why_not(action)
    assert hands.orders == []


def test_who_may_only_look_can_dial_and_nothing_else(session: Session, hands: Recorded, work: Workspace) -> None:
    work.view = changed(work.view, read_only="another Tenaz has it open.")
    session.order("turn_knob", 1)
    session.order("undo")
    assert work.dial.setpoint == work.view.rig.stock
    for action in ("start_trial", "climb", "undo", "save_setpoint", "note_value", "correct_grid", "new_rig"):
        session.order(action)
        assert hands.trouble == "Read-only: another Tenaz has it open.", action
    assert hands.orders == []


def test_the_book_and_its_rigs_are_worked_on_by_orders(
    session: Session, hands: Recorded, work: Workspace, tmp_path: Path
) -> None:
    work.view = changed(work.view, trials=(trial(Outcome.HELD, id=3),))
    hands.answers = ["fan header loose", "winter", "floor: four tRRD_S", str(tmp_path / "sheet.csv")]
    session.order("note_trial")
    session.order("save_setpoint")
    session.order("note_value")
    work.pages.show(SheetPage)
    session.order("export_page")
    for action in ("undo", "next_bench", "choose_rig", "take_in"):
        session.order(action)
    note, save, value, write, *rest = hands.orders
    assert (note, save) == (o.NoteTrial(3, "fan header loose"), o.SaveSetpoint("winter", work.dial.setpoint))
    assert isinstance(value, o.NoteValues)
    assert isinstance(write, o.WritePaper)
    write.paper.write(write.path)
    assert "data_rate_mts,4800,MT/s" in (tmp_path / "sheet.csv").read_text()
    assert rest == [o.Undo(), o.ChooseBench(), o.BringRigs(), o.TakeIn()]
    hash(save)


def test_the_pace_goes_round_and_belongs_to_a_simulated_rig(session: Session, hands: Recorded, work: Workspace) -> None:
    for _ in PACES:
        session.order("next_pace")
    assert work.pace == 0
    work.view = changed(work.view, bench=BenchKind.HAND)
    session.order("next_pace")
    assert "only a simulated rig has a pace" in hands.trouble


def test_a_trial_that_moves_is_lit_on_the_rail_and_in_the_title(session: Session, hands: Recorded) -> None:
    session.order("start_trial")
    session.running.hear(TrialMoved(trial(None, station=Station.BOOT)))
    assert {"show_trial", "title", "look"} <= set(hands.done)


@pytest.mark.parametrize(
    ("typed", "found"),
    [
        ("multiplier", "core ratio"), ("core clock", "core ratio"), ("memory speed", "data rate"), ("trfc", "tRFC1"),
        ("cas latency", "tCL"), ("llc", "load-line step"), ("vcore", "core voltage"), ("benchmark", "measure"),
        ("row hammer", "load disturb"), ("fft", "load transform"), ("blue screen", "word stop code"),
        ("overnight", "night"), ("undervolt", "core offset"), ("diagnose", "find the fault"), ("sheet", "page sheet"),
        ("sled", "rig sled"), ("screenshot", "export"), ("4", "trial 4"),
    ],
)  # fmt: skip
def test_one_line_finds_anything(session: Session, work: Workspace, typed: str, found: str) -> None:
    work.view = replace(work.view, book=replace(work.view.book, rigs=("ridge", "sled")))
    things = things_of(work, session.why_not)
    names = [thing.name for thing in things]
    assert len(names) == len(set(names))
    likely = [one.name for one in fitting(things, typed)][:4]
    assert found in likely if typed != "4" else the_one(things, typed).do == ("open_trial", (4,))


def test_what_is_found_is_done_or_said_why_not(session: Session, hands: Recorded, work: Workspace) -> None:
    for name in ("load march", "tRCD", "page book"):
        hands.answers = [name]
        session.order("find_anything")
    assert (work.plan.kind, session.page.name, work.dial.knob.label) == (LoadKind.MARCH, "book", "tRCD")
    things = things_of(work, session.why_not)
    with pytest.raises(Refused, match="Nothing runs that could be stopped"):
        the_one(things, "stop")
    with pytest.raises(Refused, match="'multiplyer'; near it: core ratio"):
        the_one(things, "multiplyer")


def test_the_bar_offers_what_makes_sense_now(session: Session, work: Workspace) -> None:
    idle = [one.word for one in keys_now(busy=False, folded=False)]
    busy = [one.word for one in keys_now(busy=True, folded=True, each_menu=False)]
    assert busy == ["stop", "menus", "find", "page", "panel", "help", "quit"]
    assert idle[:3] == ["trial", "climb", "undo"]
    assert {menu.name for menu in MENUS} < set(idle)
    asked = [one.key for one in keys_now(True, False, (("y", "came up"), ("s", "slow")))]
    assert asked == ["y", "s", "⇥", "?", "q"], "its answers, and what never acts on them"


def test_a_line_is_asked_for_once_and_shown_where_it_is_still_wanted(work: Workspace) -> None:
    assert work.picture() is None
    wanted = work.line_wanted
    assert wanted == o.BringLine("data_rate_mts", work.view.rig.stock, work.plan.kind)
    work.line_wanted = None
    work.take_line(wanted, None)
    assert work.picture() is None
    assert work.line_wanted is None, "it came, and holds no trial"
    work.dial.select(2)
    assert work.picture() is None
    assert work.line_wanted == o.BringLine("t_cl_nck", work.view.rig.stock, work.plan.kind)
