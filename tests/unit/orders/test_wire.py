"""Orders, answers and events travel as JSON and come out the same; each order is carried out by somebody."""

import json
from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tenaz import orders as o
from tenaz.aboard.standing import StandingOrder
from tenaz.core.base.errors import Refused
from tenaz.core.base.loop import Move, Station
from tenaz.core.base.outcomes import Outcome
from tenaz.core.knobs.setpoint import UNKNOWN
from tenaz.core.loads.plan import LoadKind, LoadPlan, LoadProgress, Mismatch, MismatchKind, WorkerProgress
from tenaz.core.ports import events as e
from tenaz.core.ports.asking import Reply
from tenaz.core.ports.bench import Choice, HowLong, Question, Ran
from tenaz.core.rigs.notes import NoteKind, ValueNote
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.scores.measure import MeasureProgress
from tenaz.core.scores.score import Figure, Score
from tenaz.core.searches.plans import Planned, StopRule
from tenaz.core.searches.search import SearchPlan
from tenaz.core.sensors.alarms import Alarm
from tenaz.core.sensors.guard import Said
from tenaz.core.sensors.telemetry import Sample, Sensor, SensorKind
from tenaz.core.trials.past_trials import PastTrial
from tenaz.core.trials.record_text import SeenRecord
from tenaz.demo.ridge import ridge
from tenaz.orders.order import answer_of
from tenaz.orders.wire import event_forms, order_forms, read_answer, read_event, read_order, write_answer, write_event
from tenaz.orders.wire import write_order as written
from tenaz.workshop.bench.doing import handlers_of
from tenaz.workshop.shop.shop import Workshop
from tests.make import trial

RIG = ridge()
STOCK = RIG.stock
MARCH = LoadPlan(LoadKind.MARCH, duration_s=3600.0, beside=(LoadPlan(LoadKind.SOLO, cores=(1, 2)),))
QUESTION = Question(
    Station.JUDGE, "What did you see?", (Choice("f", "froze", Outcome.FROZE), Choice("a", "up", Move.CAME_UP))
)
ORDERS: tuple[o.Order[Any], ...] = (
    o.StartTrial(STOCK, MARCH, "why"),
    o.StartRoutine(STOCK.replacing("t_cl_nck", UNKNOWN), (MARCH, MARCH)),
    o.BeginSearch(
        ("data_rate_mts",), STOCK, MARCH, parameters={"over": "a=1..2", "window": True}, steps=o.Steps(one=True)
    ),
    o.GoOn(),
    o.EndSearch(),
    o.TakeUp(7),
    o.RunPlan(StopRule(2, 3600.0)),
    *(o.GiveAnswer(one, QUESTION) for one in (Move.STOP, Outcome.STOPPED, Reply.STOP, Reply.A_SLIP)),
    o.GiveAnswer(Ran(12.5, 3), HowLong("how long?", 60.0)),
    o.GiveAnswer(Move.ENTERED),
    o.Stop(),
    o.SetPace(None),
    o.SetKeyboard("de"),
    o.StandBy(StandingOrder()),
    o.FollowStanding(),
    o.LeaveMachine(restart=True),
    o.ClimbLadder(),
    o.Explain(7, Outcome.FROZE, 12.0, None),
    o.Undo(),
    o.Redo(),
    o.Correct(7, SeenRecord(Outcome.ERRED, 60.0), {"t_cl_nck": 38}),
    o.EnterPast((PastTrial(STOCK, MARCH, SeenRecord(Outcome.HELD, 3600.0), bench=BenchKind.HAND),), "ridge"),
    o.SaveRoutine("mine", "march 1h"),
    o.DropRoutine("mine"),
    o.NoteTrial(7, "fan header · loose"),
    o.NoteValues((ValueNote("t_cl_nck", 38, NoteKind.FLOOR, "x"),)),
    o.SettleNote(3, dropped=True),
    o.SaveSetpoint("winter", STOCK),
    o.AddPlanned((Planned(0, STOCK, MARCH, ""),)),
    o.MovePlanned(1, -1),
    o.SkipPlanned(1),
    o.Measure(watts=118.0),
    o.MeasureInTurn("stock"),
    o.KeepOwn(Score(Figure("render", "s", False), (41.2, 40.9))),
    o.ChooseRig("ridge"),
    o.ChooseBench(BenchKind.HERE),
    o.TakeIn(),
    o.KeepRig(RIG),
    o.Know("data_rate_mts", 5600),
    o.CorrectGrid("t_cl_nck", (37, 39)),
    o.KeepGoldens({"made with": {"transform": "ab"}}),
    o.WorkOnParts("pull A2"),
    o.LabelPart("module 41 bad"),
    o.TickSymptom("crash"),
    o.FollowFound("pull A2", ("memory",), MARCH, "find"),
    o.SetFaults(("bad-lane B2",)),
    o.NewSimulated("sled", seed=7),
    o.Reveal("the module"),
)
EVENTS = (
    e.TrialMoved(trial(Outcome.HELD), "came up"),
    e.LoadProgressed(
        7, LoadProgress(MARCH, 1.0, None, 2.0, 0.5, 3.25, 0, (WorkerProgress(0, 1, kind=LoadKind.MARCH),))
    ),
    e.Sampled(7, (Sensor("a/b", "core", SensorKind.TEMPERATURE),), Sample(1.0, (None, 61.5))),
    e.Happened(7, Said(1.0, Alarm.WARNING, "hot")),
    e.Mismatched(7, Mismatch(0, 1.0, 1, 2**40, 2**63, 2**64 - 1, 0, MismatchKind.STORED)),
    e.MeasureProgressed(MeasureProgress(0.5, 10.0, "read")),
    e.MeasureEnded(3),
    e.Logged("loop", "trial 7 begins"),
    e.BookHeard("the server is away", only_goes_on=True),
    e.Asked(QUESTION),
    e.Asked(HowLong("how long?", 60.0)),
    e.Asked(None),
    e.RunEnded(advice="stand at 6000"),
    e.StandingPaused("all starts are done"),
)


def over_the_wire(data: Any) -> Any:
    return json.loads(json.dumps(data))


def test_all_that_travels_is_tried() -> None:
    assert {type(one).__name__ for one in ORDERS} == set(order_forms())
    assert {type(one).__name__ for one in EVENTS} == set(event_forms())


@pytest.mark.parametrize("order", ORDERS, ids=lambda one: type(one).__name__)
def test_an_order_comes_out_as_it_went_in(order: o.Order[Any]) -> None:
    there = read_order(over_the_wire(written(order)))
    assert there == order
    assert type(there) is type(order)


@pytest.mark.parametrize("event", EVENTS, ids=lambda one: type(one).__name__)
def test_an_event_comes_out_as_it_went_in(event: object) -> None:
    there = read_event(over_the_wire(write_event(event)))
    assert there == event
    assert type(there) is type(event)


@pytest.mark.parametrize(
    ("order", "came"),
    [
        (ORDERS[0], None),
        (o.Undo(), "taken back"),
        (o.Explain(7, Outcome.LOST), trial(Outcome.LOST)),
        (ORDERS[2], SearchPlan(4, "ridge", BenchKind.SIM, ("data_rate_mts",), STOCK, MARCH)),
    ],
)
def test_an_answer_is_what_the_order_declares(order: o.Order[Any], came: Any) -> None:
    assert read_answer(order, over_the_wire(write_answer(order, came))) == came


@given(
    st.dictionaries(
        st.text(max_size=8), st.none() | st.integers() | st.text(max_size=8) | st.lists(st.integers(), max_size=3)
    )
)
def test_what_is_no_order_is_refused(data: dict[str, Any]) -> None:
    with pytest.raises(Refused):
        read_order(data)
    with pytest.raises(Refused):
        read_order({"order": "StartTrial", "with": data})


def test_every_order_is_carried_out_by_one_part_and_says_what_it_answers() -> None:
    workshop = Workshop()
    known = {**workshop._handlers, **handlers_of(workshop.aboard)}
    every = {one for name in o.__all__ if isinstance(one := getattr(o, name), type) and issubclass(one, o.Order)}
    orders = every - {o.Order, o.Begins, o.Brings, o.Looks}
    assert set(known) == orders
    for order in orders:
        answer_of(order)
    assert replace(ORDERS[0], reason="other") != ORDERS[0]
