"""The other strategies: played against rigs that fail by chance, taken up in the middle, and with the price told."""

import re
from collections.abc import Mapping
from dataclasses import replace

import pytest

from tenaz.advice.leaps import leap_words
from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.base.tolerance import Tolerance
from tenaz.core.knobs.knob import Grid, Harder, Knob
from tenaz.core.loads.parsing import parse_load
from tenaz.core.loads.plan import LoadKind
from tenaz.core.rigs.felt import felt_by
from tenaz.core.rigs.rig import BenchKind, Purpose
from tenaz.core.searches.search import Advice, Proposal, SearchGround, TrialFacts
from tenaz.demo.ridge import ridge
from tenaz.margins.looking_ahead import Prospect
from tenaz.search.believing import MOST_TRIES
from tenaz.search.positions import position
from tenaz.search.registry import strategy_of
from tenaz.search.strategies.adapt import _no_dearer_than_steps
from tenaz.study.hidden import DrawnRig, try_there
from tenaz.study.playing import facts_of_try, ground_of
from tenaz.study.populations import HiddenPopulation, Range
from tests.make import indexed, trial

PURPOSE = Purpose("a test", 0, ((LoadKind.MARCH, 8.0),), tolerance=Tolerance(1, 1000, 0.95))
HONEST = HiddenPopulation(
    name="honest",
    steps=40,
    base=8,
    x_star=Range(low=12, high=18),
    slope=Range(low=0.05, high=0.06),
    wall=Range(low=1, high=2),
)
USUAL = HiddenPopulation(name="usual", steps=60, base=10, x_star=Range(low=20, high=30))


def played(
    population: HiddenPopulation,
    strategy: str,
    seed: int,
    parameters: Mapping[str, object] = {},
    base: int | None = None,
    leap: int | None = None,
) -> tuple[SearchGround, list[TrialFacts], list[Proposal], Advice, float]:
    """From the first proposal to the advice, one trial at a time."""
    rig = DrawnRig(population, seed)
    if base is not None:
        rig.base = rig.base.replacing(rig.knob.name, base)
    ground = replace(ground_of(rig, PURPOSE), leap=leap)
    running = strategy_of(strategy).begin(ground, parameters)
    stands, seen, proposals, hours = next(running), list[TrialFacts](), list[Proposal](), 0.0
    while isinstance(stands, Proposal):
        assert len(seen) < 100, "it does not end"
        proposals.append(stands)
        strain = rig.knob.strain(stands.setpoint.number(rig.knob.name))
        tried = try_there(rig, strain, (stands.plan.duration_s or 0) / 3600, hours)
        hours += tried.cost_h
        seen.append(facts_of_try(stands, tried))
        stands = running.send(seen[-1:])
    return ground, seen, proposals, stands, rig.edge(-6.9)


def test_where_hands_bring_it_up_again_adapt_goes_two_steps_past_what_held_at_most() -> None:
    ground, seen, _, advice, _ = played(USUAL, "adapt", 1, leap=2)
    held = ground.knob.strain(ground.base.number(ground.knob.name))
    for one in seen:
        strain = ground.knob.strain(one.setpoint.number(ground.knob.name))
        assert strain <= held + 2
        held = max(held, strain) if one.verdict is Verdict.PASS else held
    assert advice.setpoint is not None
    _, freely, *_ = played(USUAL, "adapt", 1)
    assert freely[0].setpoint != seen[0].setpoint, "elsewhere it leaps"


@pytest.mark.parametrize("strategy", ["adapt", "halve", "stride", "retreat"])
def test_where_hands_bring_it_up_again_no_strategy_leaps_and_a_start_has_its_price(strategy: str) -> None:
    ground, seen, proposals, *_ = played(HONEST, strategy, 1, leap=2)
    held = ground.knob.strain(ground.base.number(ground.knob.name))
    for one in seen:
        strain = ground.knob.strain(one.setpoint.number(ground.knob.name))
        assert strain <= held + 2
        held = max(held, strain) if one.verdict is Verdict.PASS else held
    assert strategy != "halve" or any("would be a leap" in one.reason for one in proposals)


@pytest.mark.parametrize(
    ("holds_at_4", "holds_at_5", "kept"),
    [(0.95, 0.9, [4, 5]), (0.6, 0.3, [4]), (0.9, 0.02, [4]), (0.5, 0.5, [4, 5])],
)
def test_a_leap_must_not_cost_more_than_the_way_in_steps(holds_at_4: float, holds_at_5: float, kept: list[int]) -> None:
    step, leap = Prospect(4, 1.0, 1.0, 1.2, 1 - holds_at_4, 0.0), Prospect(5, 1.0, 3.0, 1.2, 1 - holds_at_5, 0.0)
    assert [one.strain for one in _no_dearer_than_steps([leap, step], 3)] == kept


@pytest.mark.parametrize(
    ("bench", "value", "told"),
    [
        (BenchKind.HAND, 6000, r"data rate 6000 MT/s is 6 steps past what held\. .* costs about 18m here"),
        (BenchKind.HAND, 5200, ""),
        (BenchKind.HAND, 5800, ""),
        (BenchKind.SIM, 6000, ""),
    ],
)
def test_a_leap_is_asked_about_with_its_price(bench: BenchKind, value: int, told: str) -> None:
    rig = ridge()
    held = [trial(Outcome.HELD, rig.stock.replacing("data_rate_mts", 5600))] if value == 5800 else []
    words = leap_words(rig, bench, rig.stock, rig.stock.replacing("data_rate_mts", value), indexed(held))
    assert bool(words) == bool(told)
    assert re.search(told, words)


@pytest.mark.parametrize(
    ("knob", "load", "kind"),
    [
        ("core_offset_mv", "march 1h", LoadKind.TRANSFORM),
        ("core_offset_mv", "solve 1h", LoadKind.SOLVE),
        ("t_cl_nck", "march 1h", LoadKind.MARCH),
        ("t_cl_nck", "transform 1h", LoadKind.MARCH),
        ("memory_vdd_mv", "transform 1h", LoadKind.TRANSFORM),
    ],
)
def test_a_knob_is_climbed_under_what_it_feels(knob: str, load: str, kind: LoadKind) -> None:
    rig = ridge()
    found = felt_by(rig.knob(knob), parse_load(load), rig.purpose)
    assert (found.kind, found.duration_s) == (kind, 3600)


@pytest.mark.parametrize("strategy", ["stride", "halve"])
@pytest.mark.parametrize("seed", range(5))
def test_an_honest_rig_is_found_to_the_step(strategy: str, seed: int) -> None:
    ground, seen, proposals, advice, edge = played(HONEST, strategy, seed)
    assert advice.setpoint is not None
    assert ground.knob.strain(advice.setpoint.number(ground.knob.name)) in (int(edge), int(edge) + 1)
    assert all(one.to_come_h >= one.cost_h > 0 for one in proposals)
    assert all(any(letter.isdigit() for letter in one.reason) for one in proposals[1:])
    assert strategy == "stride" or len(seen) <= 9


@pytest.mark.parametrize("seed", range(3))
def test_a_rig_that_fails_is_cut_back_in_one_go_and_crept_up_again(seed: int) -> None:
    ground, seen, proposals, advice, edge = played(HONEST, "retreat", seed, base=32)
    assert "down in one go" in proposals[0].reason
    tried = [one.setpoint.number(ground.knob.name) for one in seen]
    assert tried[0] == 28
    assert advice.setpoint is not None
    assert ground.knob.strain(advice.setpoint.number(ground.knob.name)) in (int(edge), int(edge) + 1)


def test_hold_repeats_then_runs_what_is_owed_and_ends_with_a_failure() -> None:
    _, seen, proposals, advice, _ = played(HONEST, "hold", 1, {"repeats": 2})
    assert [(one.plan.duration_s or 0) / 3600 for one in seen] == [1, 1, pytest.approx(6)]
    assert [round(one.to_come_h) for one in proposals] == [8, 7, 6]
    assert "all that the purpose asks for was shown" in advice.reason
    _, _, _, failed, _ = played(HONEST, "hold", 1, base=32)
    assert failed.setpoint is None


@pytest.mark.parametrize("seed", [0, 2, 5])
def test_adapt_ends_with_the_proof_where_it_advises_and_says_what_for(seed: int) -> None:
    ground, seen, proposals, advice, edge = played(USUAL, "adapt", seed)
    assert advice.setpoint is not None
    assert ground.knob.strain(advice.setpoint.number(ground.knob.name)) <= edge
    at = [one for one in seen if one.setpoint == advice.setpoint]
    assert sum(one.elapsed_s for one in at) >= 0.99 * 8 * 3600
    assert "sure under march of at most 1 failure in 1,000 h" in advice.reason
    assert "steps for" in proposals[0].reason
    assert "is still to run" in proposals[-1].reason
    assert proposals[0].to_come_h > 8


def test_taken_up_in_the_middle_of_any_history_it_proposes_what_it_would_have() -> None:
    ground, seen, proposals, advice, _ = played(USUAL, "adapt", 4)
    for made in range(len(seen) + 1):
        stands = position(strategy_of("adapt").begin(ground, {}), seen[:made])
        expected = proposals[made] if made < len(proposals) else advice
        assert (stands.setpoint, getattr(stands, "plan", None)) == (expected.setpoint, getattr(expected, "plan", None))
    turned = position(strategy_of("adapt").begin(ground, {}), seen[::-1])
    assert turned.setpoint == advice.setpoint, "the order of independent trials does not matter"


def test_no_value_is_tried_without_end() -> None:
    ground, seen, *_ = played(USUAL, "adapt", 4)
    hard = ground.at(ground.knob.strain(40))
    fails = TrialFacts(hard, seen[0].plan, Verdict.FAIL, elapsed_s=5.0, failed_after_s=5.0)
    facts, most = list[TrialFacts](), 0
    running = strategy_of("adapt").begin(ground, {})
    stands = next(running)
    while isinstance(stands, Proposal) and len(facts) < 60:
        facts.append(replace(fails, setpoint=stands.setpoint, plan=stands.plan))
        stands = running.send(facts[-1:])
        most = max(most, sum(one.setpoint == facts[-1].setpoint for one in facts))
    assert most <= MOST_TRIES + 1


def test_adapt_asks_for_a_repeat_where_one_failure_contradicts_all_the_rest() -> None:
    ground, seen, *_ = played(USUAL, "adapt", 4)
    easy = ground.at(ground.knob.strain(12))
    odd = TrialFacts(easy, seen[0].plan, seen[0].verdict.__class__.FAIL, elapsed_s=60.0, failed_after_s=60.0)
    stands = position(strategy_of("adapt").begin(ground, {}), [*seen, odd])
    assert isinstance(stands, Proposal)
    assert (stands.setpoint, "repeat it before it counts" in stands.reason) == (easy, True)


def test_knobs_with_thousands_of_values_and_harder_ones_below_are_searched_as_well() -> None:
    for knob in (
        Knob("t_refi_nck", "tREFI", "nCK", "t", Grid(2048, 65535, 1), Harder.UP),
        Knob("t_cl_nck", "tCL", "nCK", "t", Grid(22, 84, 2), Harder.DOWN),
    ):
        rig = DrawnRig(USUAL, 1)
        rig.knob = knob
        rig.base = rig.base.__class__.of({knob.name: knob.grid.values()[len(knob.grid) // 2]})
        stands = next(strategy_of("adapt").begin(ground_of(rig, PURPOSE), {}))
        assert isinstance(stands, Proposal)
        assert stands.setpoint[knob.name] in knob.grid


@pytest.mark.parametrize(
    ("strategy", "given", "told"),
    [
        ("adapt", {"worth": 0.0}, "0.01 to 100 steps"),
        ("adapt", {"prior": "nowhere.toml"}, "could not be read"),
        ("halve", {"holds_to_show": 0}, "1 to 100 times"),
        ("retreat", {"cut_steps": -1}, "up to 1000 steps"),
        ("hold", {"repeats": 2000}, "up to 1000 times"),
    ],
)
def test_parameters_that_make_no_sense_are_refused(strategy: str, given: dict[str, object], told: str) -> None:
    with pytest.raises(Refused, match=told):
        strategy_of(strategy).typed(given)
