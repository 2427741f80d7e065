from hypothesis import given
from hypothesis import strategies as st

from tenaz.core.climbs import Advice, Proposal, Result
from tenaz.core.knobs import Grid, Harder, Knob
from tenaz.core.outcomes import Verdict
from tenaz.search.positions import position
from tenaz.search.stride import HOLDS_TO_SHOW, stride

UP = Knob("up_mts", "up", "MT/s", "test", Grid(1000, 2000, 100), Harder.UP)
DOWN = Knob("down_nck", "down", "nCK", "test", Grid(10, 30, 2), Harder.DOWN)


def play(knob: Knob, start: int, limit: int, last_holding: int) -> tuple[list[int], Advice]:
    """Climb against a rig that holds up to a strain and fails beyond."""
    results: list[Result] = []
    while isinstance(now := position(stride(knob, start, limit), results), Proposal):
        assert len(results) < 60, "the climb does not end"
        assert now.reason
        holds = knob.strain(now.value) <= last_holding
        results.append(Result(now.value, Verdict.PASS if holds else Verdict.FAIL))
    return [result.value for result in results], now


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
        assert advice.value is None
        return
    best = min(edge, limit)
    assert advice.value == knob.at_strain(best)
    if edge < limit and first <= edge:
        assert tried.count(knob.at_strain(best)) == HOLDS_TO_SHOW
        assert tried.count(knob.at_strain(best + 1)) == 1
    assert str(advice.value) in advice.reason


def test_void_results_are_tried_again_and_other_values_count() -> None:
    def at(*results: Result) -> Proposal | Advice:
        return position(stride(UP, 1000, 2000), results)

    held, lost = Result(1000, Verdict.PASS), Result(1100, Verdict.VOID)
    assert at() == Proposal(1000, "a climb stands on ground that held: show where it starts")
    assert at(held, lost) == at(held) == Proposal(1100, "1000 MT/s held: one step further")
    leap = Result(1300, Verdict.FAIL)
    assert at(held, leap, Result(1100, Verdict.PASS), Result(1200, Verdict.PASS)) == Proposal(
        1200, "1300 MT/s failed: step back, and show that this holds more than once"
    )


def test_when_the_second_look_fails_it_steps_back_further() -> None:
    passes = [Result(value, Verdict.PASS) for value in (1000, 1100, 1200)]
    standing = position(stride(UP, 1000, 2000), [*passes, Result(1300, Verdict.FAIL), Result(1200, Verdict.FAIL)])
    assert isinstance(standing, Proposal)
    assert standing.value == 1100
