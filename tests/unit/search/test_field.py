"""Two knobs: the boundary is found in few trials, whatever its shape; a trial by hand counts like any other."""

from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest

from tenaz import orders as o
from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.searches.search import Advice, Proposal, SearchGround, TrialFacts
from tenaz.core.trials.costs import costs_of
from tenaz.demo.ridge import ridge
from tenaz.orders.fields import read_field
from tenaz.pictures.field.cells import draw_field
from tenaz.search.boundaries import Boundary, Tried
from tenaz.search.extending import least_voltages, less_life, more_heat
from tenaz.search.positions import position
from tenaz.search.registry import strategy_of
from tenaz.study.many.fields import FieldKind, told_of
from tenaz.workshop.shop.shop import Workshop


@pytest.mark.parametrize(
    ("kind", "most", "least"),
    [
        (FieldKind(12, 0.15), 22, 38),
        (FieldKind(12, 0.15, 0.7), 23, 37),
        (FieldKind(12, 0.30), 23, 37),
        (FieldKind(24, 0.15), 45, 38),
    ],
)
def test_a_field_is_told_in_few_trials(kind: FieldKind, most: int, least: int) -> None:
    found = [told_of(kind, seed) for seed in range(40)]
    assert sum(one.trials for one in found) / 40 <= most
    assert sum(one.right >= 0.95 for one in found) >= least


def test_a_window_fails_on_both_sides() -> None:
    low, high = [1, 1, 2, 3, 4, 4], [9, 9, 8, 8, 7, 6]
    belief, trials = Boundary(6, 10, window=True), 0
    while belief.sure() < 0.98 or not trials:
        column, row = divmod(int(belief.information().argmax()), 10)
        belief.take(Tried(column, row, not low[column] <= row < high[column], 0.2))
        trials += 1
        assert trials < 45
    true = np.array([[low[c] <= r < high[c] for r in range(10)] for c in range(6)])
    assert ((belief.holds >= 0.5) == true).mean() >= 0.95


def test_the_least_voltage_rises_faster_than_linearly_and_is_taken_one_step_further() -> None:
    rates, voltages = tuple(range(4800, 6400, 200)), tuple(range(1400, 990, -10))
    luck = np.random.Generator(np.random.PCG64(3))
    true = {rate: 1040 + 120 * ((rate - 4800) / 1400) ** 2 for rate in (*rates, 6400)}
    held = np.zeros((120, len(rates), len(voltages)), bool)
    for sample in held:
        for column, rate in enumerate(rates):
            sample[column] = np.array(voltages) >= true[rate] + luck.normal(0, 6)
    found = least_voltages(held, rates, voltages, 6400)
    assert [one.extended for one in found] == [False] * len(rates) + [True]
    for one in found:
        assert one.low - 10 <= true[one.at] <= one.high + 10
    *_, last, beyond = found
    assert beyond.high - beyond.low > last.high - last.low
    assert beyond.middle > last.middle
    assert more_heat(1000, 1100, 100, 100) == pytest.approx(0.21)
    assert less_life(1000, 1000) == 0.0
    assert less_life(1000, 1100) == pytest.approx(0.393, abs=1e-3)
    assert least_voltages(held[:, :2], rates[:2], voltages, 6400) == found[:2]


RIG = ridge()
OVER = "data_rate_mts=4800..6400 t_cl_nck=40..28"
HOUR = LoadPlan(LoadKind.MARCH, duration_s=3600.0)
GROUND = SearchGround(
    (RIG.knob("data_rate_mts"), RIG.knob("t_cl_nck")), (8000, 28), RIG.stock, HOUR, costs_of(()), RIG.purpose
)  # fmt: skip


def stands(*trials: TrialFacts, over: str = OVER) -> Proposal | Advice:
    return position(strategy_of("field").begin(GROUND, {"over": over}), trials)


def test_it_is_played_from_the_book_and_stays_on_its_cells() -> None:
    trials: list[TrialFacts] = []
    while isinstance(now := stands(*trials), Proposal):
        rate, cl = now.setpoint.number("data_rate_mts"), now.setpoint.number("t_cl_nck")
        assert 4800 <= rate <= 6400
        assert 28 <= cl <= 40
        assert cl % 2 == 0
        failed = cl * 2000 / rate < 12.0
        trials.append(
            TrialFacts(now.setpoint, HOUR, Verdict.FAIL if failed else Verdict.PASS, 3600.0, 300.0 if failed else None)
        )
        assert len(trials) < 40
    assert "cells" in now.reason
    assert now.setpoint is None
    backwards, last = stands(*reversed(trials)), stands(*trials[:-1])
    assert isinstance(backwards, Advice)
    assert isinstance(last, Proposal)
    elsewhere = TrialFacts(RIG.stock.replacing("t_rp_nck", 30), HOUR, Verdict.FAIL, 60.0, 60.0)
    assert isinstance(stands(*trials, elsewhere), Advice)
    no_boot = TrialFacts(RIG.stock, HOUR, Verdict.FAIL, 0.0, None, booted=False, outcome=Outcome.NO_BOOT)
    assert isinstance(stands(no_boot), Proposal)


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("data_rate_mts=4800", "no stretch"),
        ("t_cl_nck=40..28", "two knobs"),
        ("nothing=1..2 t_cl_nck=40..28", "no knob"),
    ],
)
def test_what_is_no_field_is_refused(text: str, told: str) -> None:
    with pytest.raises(Refused, match=told):
        read_field(RIG, text)


@pytest.mark.parametrize(
    "over", ["data_rate_mts=4800..4900 t_cl_nck=40..28", "data_rate_mts=4800..5000 t_cl_nck=40..28"]
)
def test_a_stretch_must_lie_on_the_grid_and_hold_enough(over: str) -> None:
    with pytest.raises(Refused):
        stands(over=over)


def on_ridge(book: Path) -> Workshop:
    workshop = Workshop()
    workshop.open(book)
    workshop.store.rigs.put(ridge(7))
    workshop.do(o.ChooseRig("ridge"))
    return workshop


def test_on_a_simulated_rig_with_its_picture(book: Path) -> None:
    workshop = on_ridge(book)
    knobs, parameters = read_field(workshop.rig, "data-rate=4800..7000 tCL=40..30")
    workshop.do(o.BeginSearch(knobs, workshop.rig.stock, HOUR, "", "field", parameters, o.Steps()))
    workshop.running.wait()
    (search,) = workshop.store.searches.of("ridge")
    picture = workshop.do(o.BringField(search.id))
    trials = workshop.trials()
    workshop.close()
    told = draw_field(picture, 110, 30, dialled=(0, 0)).text()  # type: ignore[arg-type] # what BringField gives
    assert search.ended
    assert len(trials) < 40
    assert "sure" in told
    assert "[" in told
    assert "hardest that is sure: data rate" in told
    best = picture.fastest_safe  # type: ignore[attr-defined]
    assert best is None or picture.holds[best[0]][best[1]] >= 0.95  # type: ignore[attr-defined]
    assert "percent faster" not in told


def test_contours_of_the_score_are_fitted_where_it_was_measured(book: Path) -> None:
    workshop = on_ridge(book)
    knobs, parameters = read_field(workshop.rig, "data-rate=4800..6000 tCL=40..30")
    for rate, latency in ((4800, 40), (5600, 40), (4800, 36), (5200, 38)):
        at = workshop.rig.stock.replacing("data_rate_mts", rate).replacing("t_cl_nck", latency)
        workshop.do(o.StartTrial(at, LoadPlan(LoadKind.COPY, 20.0)))
        workshop.running.wait()
        workshop.do(o.Measure())
        workshop.running.wait()
    workshop.do(o.BeginSearch(knobs, workshop.rig.stock, HOUR, "", "field", parameters, o.Steps()))
    workshop.running.wait()
    picture = workshop.do(o.BringField(workshop.store.searches.of("ridge")[-1].id))
    workshop.close()
    faster = picture.faster  # type: ignore[attr-defined] # what BringField gives
    assert faster[0][0] == 0.0
    assert 0.05 < faster[-1][0] < 0.25
    assert all(below < above for below, above in pairwise(column[0] for column in faster))
    told = draw_field(picture, 110, 30).text()  # type: ignore[arg-type]
    assert "+4" in told
    assert "percent faster than at the easiest cell" in told
