"""Searches played against an honest rig, and what a strategy takes for shown."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Verdict
from tenaz.core.knobs.knob import Grid, Harder, Knob
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadKind, LoadPlan, MarchMode
from tenaz.core.searches.search import Advice, Proposal, SearchGround, TrialFacts
from tenaz.core.trials.costs import Costs
from tenaz.search.positions import position
from tenaz.search.registry import all_strategies, strategy_of

UP = Knob("up_mts", "up", "MT/s", "test", Grid(1000, 2000, 100), Harder.UP)
DOWN = Knob("down_nck", "down", "nCK", "test", Grid(10, 30, 2), Harder.DOWN)
HOUR = LoadPlan(LoadKind.MARCH, duration_s=3600.0)
STRIDE = strategy_of("stride")


def ground(knob: Knob, start: int, limit: int) -> SearchGround:
    return SearchGround((knob,), (limit,), Setpoint.of({knob.name: start}), HOUR, Costs())


def seen(knob: Knob, value: int, verdict: Verdict, plan: LoadPlan = HOUR, **fields: object) -> TrialFacts:
    facts = TrialFacts(Setpoint.of({knob.name: value}), plan, verdict, elapsed_s=3600.0)
    return replace(facts, **fields)  # type: ignore[arg-type]


def stands(knob: Knob, start: int, limit: int, *trials: TrialFacts) -> Proposal | Advice:
    return position(STRIDE.begin(ground(knob, start, limit), {}), trials)


def play(knob: Knob, start: int, limit: int, last_holding: int) -> tuple[list[int], Advice]:
    """Climb against a rig that holds up to a strain and fails beyond."""
    trials: list[TrialFacts] = []
    while isinstance(now := stands(knob, start, limit, *trials), Proposal):
        assert len(trials) < 60, "the climb does not end"
        assert now.reason
        assert now.cost_h == pytest.approx(1 + 120 / 3600)
        holds = knob.strain(now.setpoint.number(knob.name)) <= last_holding
        trials.append(seen(knob, now.setpoint.number(knob.name), Verdict.PASS if holds else Verdict.FAIL))
    return [trial.setpoint.number(knob.name) for trial in trials], now


@given(
    knob=st.sampled_from([UP, DOWN]),
    start=st.integers(0, 10),
    room=st.integers(0, 10),
    last_holding=st.integers(-1, 11),
)
def test_a_climb_finds_the_edge_of_an_honest_rig(knob: Knob, start: int, room: int, last_holding: int) -> None:
    strains = sorted(knob.strain(value) for value in knob.grid.values())
    first, limit = strains[start], strains[min(10, start + room)]
    edge = strains[0] + last_holding
    tried, advice = play(knob, knob.at_strain(first), knob.at_strain(limit), edge)
    assert all(value in knob.grid and knob.strain(value) <= limit for value in tried)
    if edge < strains[0]:
        assert advice.setpoint is None
        return
    best = knob.at_strain(min(edge, limit))
    assert advice.setpoint is not None
    assert advice.setpoint[knob.name] == best
    if edge < limit and first <= edge:
        assert tried.count(best) == 2
        assert tried.count(knob.at_strain(edge + 1)) == 1
    assert str(best) in advice.reason


def value_of(standing: Proposal | Advice) -> object:
    return standing.setpoint[UP.name] if isinstance(standing, Proposal) else None


def test_void_trials_are_tried_again_other_values_count_and_later_ones_overturn_advice() -> None:
    held, lost = seen(UP, 1000, Verdict.PASS), seen(UP, 1100, Verdict.VOID)
    first = stands(UP, 1000, 2000)
    assert (value_of(first), first.reason) == (1000, "a climb stands on ground that held: show where it starts")
    assert stands(UP, 1000, 2000, held, lost) == stands(UP, 1000, 2000, held)
    leap = [held, seen(UP, 1300, Verdict.FAIL), seen(UP, 1100, Verdict.PASS), seen(UP, 1200, Verdict.PASS)]
    assert value_of(stands(UP, 1000, 2000, *leap)) == 1200
    done = [*leap, seen(UP, 1200, Verdict.PASS)]
    assert isinstance(stands(UP, 1000, 2000, *done), Advice)
    assert value_of(stands(UP, 1000, 2000, *done, seen(UP, 1200, Verdict.FAIL))) == 1100


SHORT, OTHER = replace(HOUR, duration_s=60.0), LoadPlan(LoadKind.TRANSFORM, duration_s=3600.0)


@pytest.mark.parametrize(
    ("trial", "counts"),
    [
        (seen(UP, 1000, Verdict.PASS), True),
        (seen(UP, 1000, Verdict.PASS, replace(HOUR, share=0.9, mode=MarchMode.BLOCKS)), True),
        (seen(UP, 1000, Verdict.PASS, replace(HOUR, share=0.02)), False),
        (seen(UP, 1000, Verdict.PASS, SHORT, elapsed_s=60.0), False),
        (seen(UP, 1000, Verdict.PASS, OTHER), False),
        (seen(UP, 1000, Verdict.FAIL, OTHER), False),
        (seen(UP, 1000, Verdict.FAIL, OTHER, booted=False), True),
        (seen(UP, 1000, Verdict.FAIL, SHORT), True),
    ],
)
def test_what_was_shown_with_less_than_the_climb_asks_shows_nothing_for_it(trial: TrialFacts, counts: bool) -> None:
    assert (stands(UP, 1000, 2000, trial) != stands(UP, 1000, 2000)) == counts


def test_parameters_are_typed_and_a_strategy_is_found_by_its_file() -> None:
    assert all_strategies()["stride"] is STRIDE
    once = STRIDE.begin(ground(UP, 1000, 2000), {"holds_to_show": 1})
    assert isinstance(position(once, [seen(UP, 1000, Verdict.PASS), seen(UP, 1100, Verdict.FAIL)]), Advice)
    for given_, told in (
        ({"holds": 1}, "has no parameter 'holds'; it has: holds_to_show"),
        ({"holds_to_show": "two"}, "is like 2, not 'two'"),
        ({"holds_to_show": 0}, "1 to 100 times"),
    ):
        with pytest.raises(Refused, match=told):
            STRIDE.typed(given_)
    with pytest.raises(
        Refused, match="no strategy here; there are: adapt, field, halve, hold, night, retreat, stride, unpick"
    ):
        strategy_of("luck")
    with pytest.raises(Refused, match="moves 1 to 1 knobs"):
        STRIDE.check_knobs(2)
