"""What is believed of an edge: calibrated where the model is right, honest where it ends, the same in any order."""

import itertools
import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tenaz.core.base.tolerance import Tolerance
from tenaz.core.knobs.knob import Grid, Harder, Knob
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.rigs.rig import OWN
from tenaz.margins.bounds import share_bounds
from tenaz.margins.doubts import doubts_of, misfits
from tenaz.margins.edge import edge_of
from tenaz.margins.hazard import folds_below, log_rate
from tenaz.margins.judging import to_stand_at
from tenaz.margins.posterior import Posterior, posterior_of
from tenaz.margins.priors import prior_at, prior_for, shipped_priors, usual_prior
from tenaz.margins.rates import rates_along
from tenaz.margins.sightings import EdgeSighting, failed_at, no_start
from tenaz.margins.worth import advice, next_hour

KNOB = Knob("steps", "steps", "", "test", Grid(0, 39, 1), Harder.UP)
MARCH, COPY = LoadKind.MARCH, LoadKind.COPY
TOLERANCE = Tolerance(1, 1000, 0.95)


def after(*seen: EdgeSighting, knob: Knob = KNOB) -> Posterior:
    return posterior_of(usual_prior(), knob, {MARCH: seen})


def held(strain: float, hours: float) -> EdgeSighting:
    return EdgeSighting(strain, hours)


SOME = [held(15, 1.0), held(18, 0.4), failed_at(21, 0.3), failed_at(22, 0.05), no_start(25), failed_at(23, 0.02)]


@given(order=st.permutations(SOME), split=st.integers(0, len(SOME)))
@settings(max_examples=20)
def test_the_order_of_trials_makes_no_difference_nor_whether_they_came_at_once(
    order: list[EdgeSighting], split: int
) -> None:
    whole = edge_of(after(*SOME), (MARCH,), TOLERANCE)
    found = posterior_of(usual_prior(), KNOB, {MARCH: order[:split]})
    for one in order[split:]:
        found = found.update(MARCH, one)
    edge = edge_of(found, (MARCH,), TOLERANCE)
    assert (edge.low, edge.median, edge.high) == pytest.approx((whole.low, whole.median, whole.high), abs=1e-6)
    assert edge.chance == pytest.approx(whole.chance, abs=1e-9)


def typical(x_star: float, slope: float, times: int) -> list[EdgeSighting]:
    """What a rig shows that is as it is believed: at each value failures after their mean times."""
    seen = []
    for strain in range(int(x_star - 2 * slope), int(x_star + 3 * slope) + 1):
        seen += [failed_at(strain, math.exp(-(strain - x_star) / slope))] * times
    return [*seen, *[no_start(math.ceil(x_star + 3 * slope) + 1)] * times]


@pytest.mark.parametrize(("x_star", "slope"), [(20.3, 0.7), (22.0, 1.2), (30.0, 2.0)])
def test_more_evidence_of_one_truth_narrows_the_edge_around_it(x_star: float, slope: float) -> None:
    widths = []
    for times in (1, 2, 4, 8):
        edge = edge_of(after(*typical(x_star, slope, times)), (MARCH,), TOLERANCE)
        assert edge.low <= x_star - 6.9 * slope <= edge.high
        assert sum(edge.chance) == pytest.approx(1.0)
        widths.append(edge.high - edge.low)
    assert all(later < earlier for earlier, later in itertools.pairwise(widths))


def test_a_time_tells_more_than_a_failure_and_a_clean_hour_at_a_harder_value_raises_the_edge() -> None:
    hourly = Tolerance(1, 1)
    early, late = (edge_of(after(held(10, 1), failed_at(15, t)), (MARCH,), hourly) for t in (0.001, 0.9))
    assert early.median < late.median
    hand = edge_of(after(held(10, 1), EdgeSighting(15, 0.45, failed_by_h=0.9)), (MARCH,), hourly)
    assert early.median < hand.median
    longer = edge_of(after(held(10, 1), held(14, 8), failed_at(15, 0.9)), (MARCH,), hourly)
    assert longer.hardest(0.95) > late.hardest(0.95)


def test_the_edge_is_of_the_purpose_a_value_that_failed_is_never_inside_and_its_end_is_told() -> None:
    seen = typical(20.0, 1.0, 2)
    edges = [edge_of(after(*seen), (MARCH,), Tolerance(1, hours)) for hours in (1, 100, 10_000)]
    assert [round(one.median) for one in edges] == pytest.approx([18, 15, 11], abs=1), "18 failed"
    twice = edge_of(after(*seen, failed_at(9, 0.5), failed_at(9, 0.5)), (MARCH,), TOLERANCE)
    assert twice.high <= 9
    assert sum(chance for start, _, chance in twice.cells(9, 60)) == 0
    assert edge_of(after(*(held(k, 50) for k in range(20, 40))), (MARCH,), TOLERANCE).beyond > 0.3
    assert edges[2].beyond < 0.01
    whole = edges[1]
    for strain in range(5, 25):
        assert (whole.tolerated(strain) >= 0.9) == (strain <= whole.hardest(0.9))


def test_intervals_are_calibrated_on_rigs_as_believed() -> None:
    rng, covered, safe = np.random.default_rng(5), 0, 0
    for _ in range(120):
        slope, x_star = float(np.exp(rng.uniform(np.log(0.5), np.log(3)))), float(rng.uniform(20, 30))
        wall, seen = x_star + rng.uniform(2, 8), []
        for strain in (*range(10, 39, 4), *rng.integers(int(x_star) - 3, int(x_star) + 5, 8)):
            hours = float(rng.exponential() * np.exp(-(strain - x_star) / slope))
            started = strain < wall
            seen.append(no_start(strain) if not started else failed_at(strain, hours) if hours < 1 else held(strain, 1))
        edge = edge_of(after(*seen), (MARCH,), TOLERANCE)
        covered += edge.low <= x_star - 6.9078 * slope <= edge.high
        safe += edge.hardest(0.95) <= x_star - 6.9078 * slope
    low, high = share_bounds(covered, 120)
    assert low <= 0.95 <= high
    assert safe >= 0.95 * 120, "flatter tails are allowed for: on these rigs advice is safer than it says"


def test_an_edge_that_one_kind_of_load_alone_sees_is_its_own_and_the_wall_is_shared() -> None:
    copied = [held(15, 2.0), held(18, 2.0), held(20, 2.0)]
    both = posterior_of(
        usual_prior(), KNOB, {MARCH: SOME, COPY: [*copied, *(replace(s, clean_h=0, failed_by_h=None) for s in SOME)]}
    )
    march, copy = (edge_of(both, (kind,), TOLERANCE) for kind in (MARCH, COPY))
    assert march.median < copy.median
    assert copy.high <= 25, "it did not start there, whatever was to be run"
    together = edge_of(both, (MARCH, COPY), TOLERANCE)
    assert together.hardest(0.95) <= min(march.hardest(0.95), copy.hardest(0.95))


def test_a_second_training_says_that_the_wall_is_near_and_what_it_came_with_is_left_alone_unless_it_failed() -> None:
    plain, near = (after(held(15, 1.0), replace(held(22, 0.1), retrained=again)) for again in (False, True))
    walls = [float(np.exp(one.log_wall - one.log_wall.max()) @ one.parameter_grid.wall) for one in (plain, near)]
    spread = [float((np.exp(one.log_wall - one.log_wall.max()) > 0.1).sum()) for one in (plain, near)]
    assert spread[1] < spread[0], walls
    known, purpose = after(*typical(20.0, 1.0, 2)), replace(OWN, tolerance=TOLERANCE)
    edge = edge_of(known, (MARCH,), TOLERANCE)
    sure = to_stand_at(known, edge, purpose)
    assert sure is not None
    assert to_stand_at(known, edge, purpose, stock=sure + 3) == sure + 3
    assert to_stand_at(known, edge, purpose, stock=30) == 17, "18 failed"


def test_warmth_is_learnt_where_it_was_measured() -> None:
    def seen(warm_c: float | None, hot_c: float | None) -> list[EdgeSighting]:
        return [
            *[replace(held(18, 4.0), warm_c=warm_c)] * 2,
            *[replace(failed_at(18, 0.2), warm_c=hot_c)] * 2,
            *[replace(failed_at(20, 0.1), warm_c=hot_c)] * 2,
        ]

    blind, told = after(*seen(None, None)), after(*seen(45.0, 75.0))
    assert len(blind.parameter_grid.tails) < len(told.parameter_grid.tails)
    warmth = told.weights(MARCH).sum(axis=(0, 1)) @ told.parameter_grid.warmth_per_k
    before = np.exp(told.parameter_grid.log_prior).sum(axis=(0, 1)) @ told.parameter_grid.warmth_per_k
    assert warmth > before, "it failed where it was hot, and held where it was not"


def test_what_does_not_fit_is_told_and_a_repeat_settles_it() -> None:
    calm = [held(12, 4.0), held(14, 4.0), held(15, 4.0), failed_at(22, 0.01), failed_at(21, 0.02), no_start(24)]
    stray = [*calm, failed_at(8, 0.1)]
    (odd,) = misfits(after(*stray), MARCH, stray)
    assert (odd.strain, odd.failed) == (8, True)
    assert "8 failed" in doubts_of(after(*stray), usual_prior(), MARCH, stray)[0]
    repeated = [*stray, failed_at(8, 0.1)]
    assert not misfits(after(*repeated), MARCH, repeated)
    # One stray failure does not overrule what held for long above it: both stay possible until it was repeated.
    long = [held(k, 60.0) for k in (10, 12, 14, 15)] + [failed_at(22, 0.01), failed_at(21, 0.02)]
    clear, odd_one = (edge_of(after(*long, *more), (MARCH,), TOLERANCE) for more in ((), (failed_at(8, 0.03),)))
    assert odd_one.low < clear.low
    assert odd_one.high > 14, "wider, not overruled"
    once, again = after(*long, failed_at(8, 0.03)), after(*long, failed_at(8, 0.03), held(8, 2.5))
    at = [to_stand_at(one, edge_of(one, (MARCH,), TOLERANCE), OWN) for one in (once, again)]
    assert at[0] is not None
    assert at[1] is not None
    assert at[0] < 8 < at[1]
    said = doubts_of(again, usual_prior(), MARCH, [*long, failed_at(8, 0.03), held(8, 2.5)])
    assert said == ("8 failed once and held 2.5 h besides: taken for a stray failure",)
    drifting = [failed_at(20, t) for t in (1.0, 0.8, 1.1, 0.9, 1.2, 0.02, 0.01, 0.02, 0.015, 0.02)]
    assert any("drifts" in one for one in doubts_of(after(*drifting), usual_prior(), MARCH, drifting))
    flat = typical(28.0, 13.0, 3)
    assert any("slower" in one for one in doubts_of(after(*flat), usual_prior(), MARCH, flat))
    assert not doubts_of(after(*SOME), usual_prior(), MARCH, SOME)


def test_rates_and_the_next_hour_carry_both_numbers() -> None:
    found = after(*typical(20.0, 1.0, 3))
    (easy, hard) = rates_along(found, MARCH, [12, 20])
    assert easy.low < easy.median < easy.high < hard.low
    assert hard.low < 1.0 < hard.high
    hour = next_hour(found, MARCH, 14, TOLERANCE, None)
    assert hour.shown_after_h == pytest.approx(1 / -math.log(0.05))
    assert hour.sure <= hour.sure_after
    far = next_hour(found, MARCH, 2, TOLERANCE, None)
    assert "buys nothing" in advice([far])
    assert "an easier value does" in advice([next_hour(found, MARCH, 17, TOLERANCE, None), far])
    little = after(held(15, 1.0), failed_at(21, 0.3))
    likely = edge_of(little, (MARCH,), TOLERANCE).hardest(0.6)
    assert "march buys most" in advice([next_hour(little, MARCH, likely, TOLERANCE, None)])


@pytest.mark.parametrize("curvature", [-0.3, 0.0, 0.15])
def test_where_a_rate_is_reached_is_the_rate_turned_round(curvature: float) -> None:
    for wanted in (-6.9, -2.0, 0.0, 1.5):
        folds = -folds_below(wanted, curvature)
        assert float(log_rate(np.array(folds), np.array(curvature))) == pytest.approx(wanted, abs=1e-6)


@pytest.mark.parametrize(
    ("k", "n", "low", "high"), [(0, 10, 0.0, 0.3085), (5, 10, 0.1871, 0.8129), (10, 10, 0.6915, 1.0)]
)
def test_shares_have_their_exact_bounds(k: int, n: int, low: float, high: float) -> None:
    assert share_bounds(k, n) == pytest.approx((low, high), abs=1e-4)


def test_every_shipped_prior_fits_its_knobs_and_long_grids_are_looked_at_in_coarser_cells() -> None:
    for name, prior in shipped_priors().items():
        assert prior.name == name
        for knob in (replace(KNOB, name=knob) for knob in prior.knobs):
            if not prior.families:
                assert prior_for(knob) == prior
            for family in prior.families:
                found = prior_at(knob, family, 6000)
                # In three clocks of a nanosecond each a timing's edge is three times as flat.
                assert found.slope.low == pytest.approx(prior.slope.low * (3.0 if prior.unit == "ns" else 1.0))
                assert found.unit == ("nCK" if prior.unit == "ns" else prior.unit)
    wide = replace(KNOB, name="t_refi_nck", unit="nCK", grid=Grid(2048, 65535, 1))
    found = posterior_of(prior_for(wide), wide, {MARCH: [held(20000, 1), held(30000, 1), failed_at(45000, 0.5)]})
    assert found.parameter_grid.width > 100
    edge = edge_of(found, (MARCH,), TOLERANCE)
    assert edge.low < edge.high < 45000
