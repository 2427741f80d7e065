"""What is dear on a real rig says so and takes Enter; on a simulated one nothing is asked."""

from dataclasses import replace

import pytest
from textual.events import Key

from tenaz import orders as o
from tenaz.core.base.loop import Station
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.composing import Draft
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.searches.search import SearchPlan
from tenaz.tui.screens.price import PriceScreen
from tenaz.tui.session.session import Session
from tenaz.tui.session.workspace import Workspace
from tests.make import HOUR, Recorded, changed, trial
from tests.unit.tui.test_controllers import hands, session, view, work

__all__ = ["hands", "session", "view", "work"]


@pytest.mark.parametrize("bench", [BenchKind.HAND, BenchKind.HERE, BenchKind.SIM])
@pytest.mark.parametrize(
    ("action", "order", "says"),
    [
        ("start_trial", o.StartTrial, "data rate 4800 → 5000 MT/s: march for 1h"),
        ("run_routine", o.StartRoutine, "march for 1h"),
        ("climb", o.BeginSearch, "march for 1h"),
        ("stop_run", o.Stop, "stop trial 3"),
        ("end_climb", o.EndSearch, "end the climb of data rate"),
    ],
)
def test_whatever_starts_stops_or_ends_tells_its_price_on_a_real_rig(
    session: Session, hands: Recorded, work: Workspace, bench: BenchKind, action: str, order: type, says: str
) -> None:
    going = SearchPlan(4, "ridge", bench, ("data_rate_mts",), work.view.rig.stock, HOUR)
    under_way = trial(Outcome.HELD, number=3, search_id=4)
    if action == "stop_run":
        under_way = replace(under_way, outcome=None, station=Station.LOAD)
    work.view = changed(
        work.view, bench=bench, trials=(under_way,), going=going if action in ("end_climb", "stop_run") else None
    )
    session.order("turn_knob", 1)
    work.busy = action == "stop_run"
    composed = [Draft((HOUR,))] if action == "run_routine" else []
    agreed = [*composed, False, *composed, True]
    for _ in range(2 if bench.real else 1):
        hands.answers = agreed[: len(composed) + 1] if bench.real else composed
        del agreed[: len(composed) + 1]
        session.order(action)
    asked = [one._price for one in hands.asked if isinstance(one, PriceScreen)]
    assert [type(one) for one in hands.orders].count(order) == 1
    assert len(asked) == (2 if bench.real else 0)
    for price in asked:
        assert says in price.what
        assert price.costs
        assert price.does


def test_enter_that_was_typed_ahead_agrees_to_nothing(session: Session, hands: Recorded, work: Workspace) -> None:
    work.view = changed(work.view, bench=BenchKind.HAND)
    session.order("start_trial")
    screen = hands.asked[-1]
    left: list[object] = []
    screen.leave = left.append
    for key in ("enter", "y", "t"):
        assert screen.takes(Key(key, None if key == "enter" else key))
    assert left == [], "it stood nowhere yet"
    assert screen.takes(Key("escape", None))
    assert left == [False]
