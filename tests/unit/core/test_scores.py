"""Scores, and gains told from noise."""

import math
import random
from datetime import UTC, datetime, timedelta

import pytest

from tenaz.core.base.errors import Refused
from tenaz.core.base.student import student
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.scores.gains import Worth, compared
from tenaz.core.scores.own_figures import found_in, parse_own
from tenaz.core.scores.score import Figure, Measure, Score, peak_gb_s

READ = Figure("read", "GB/s", leads=True)
LATENCY = Figure("latency", "ns", False, leads=True)
BEGAN = datetime(2026, 3, 2, tzinfo=UTC)


def measure(number: int, *scores: Score) -> Measure:
    at = BEGAN + timedelta(minutes=number)
    return Measure(number, "ridge", BenchKind.SIM, Setpoint.of({}), at, scores=scores)


def noisy(luck: random.Random, figure: Figure, true: float, start: float = 0.002, within: float = 0.004) -> Score:
    true *= math.exp(luck.gauss(0.0, start))
    return Score(figure, tuple(true * math.exp(luck.gauss(0.0, within)) for _ in range(9)))


@pytest.mark.parametrize(
    ("freedom", "confidence", "table"),
    [(1, 0.95, 12.706), (2, 0.95, 4.303), (3, 0.95, 3.182), (5, 0.95, 2.571), (10, 0.99, 3.169), (30, 0.95, 2.042)],
)
def test_student_as_in_the_tables(freedom: float, confidence: float, table: float) -> None:
    assert student(freedom, confidence) == pytest.approx(table, rel=0.003)


@pytest.mark.parametrize("count", [5, 9, 20])
def test_an_interval_holds_the_true_median_as_often_as_it_says(count: int) -> None:
    luck, held = random.Random(count), 0
    for _ in range(2000):
        score = Score(READ, tuple(100 * math.exp(luck.gauss(0.0, 0.01)) for _ in range(count)))
        assert score.half_width is not None
        held += abs(score.middle / 100 - 1) <= score.half_width
    assert 0.93 <= held / 2000 <= 0.98


@pytest.mark.parametrize("drift", [0.0, 0.01])
def test_measured_in_turn_a_drift_is_no_gain_and_a_gain_is_found(drift: float) -> None:
    luck, held, paid, false = random.Random(3), 0, 0, 0
    for _ in range(400):
        for gain in (0.0, 0.03):
            measures = [
                measure(k, noisy(luck, READ, 50 * math.exp(drift * k + gain * (k in (0, 3))))) for k in range(4)
            ]
            (found,) = compared([measures[1], measures[2]], [measures[0], measures[3]]).gains
            assert found.in_turn
            held += found.low <= math.expm1(gain) <= found.high
            paid += found.worth is Worth.PAYS and gain > 0
            false += found.worth is Worth.PAYS and gain == 0
    assert held / 800 >= 0.94
    assert paid / 400 >= 0.95
    assert false / 400 <= 0.03


def test_what_is_not_in_turn_is_less_sure_and_better_may_be_lower() -> None:
    luck = random.Random(5)
    before = [measure(k, noisy(luck, LATENCY, 80.0)) for k in (1, 2)]
    after = [measure(k, noisy(luck, LATENCY, 76.0)) for k in (3, 4)]
    found = compared(before, after).gains[0]
    assert not found.in_turn
    assert found.gain == pytest.approx(80 / 76 - 1, abs=0.01)
    assert found.before > found.after


def test_too_noisy_says_how_many_more_would_tell_and_they_do() -> None:
    luck, told = random.Random(11), 0
    for _ in range(60):
        measures = [measure(k, noisy(luck, READ, 50 * (1.012 if k % 4 in (0, 3) else 1.0), 0.004)) for k in range(4)]
        sides = [[m for m in measures if (m.number % 4 in (0, 3)) is after] for after in (False, True)]
        found = compared(*sides)
        if found.worth is not Worth.TOO_NOISY or found.more is None:
            continue
        assert found.more % 4 == 0
        assert f"{found.more} more repeats" in found.verdict
        more = [
            measure(k, noisy(luck, READ, 50 * (1.012 if k % 4 in (0, 3) else 1.0), 0.004))
            for k in range(4, 4 + found.more)
        ]
        again = [[m for m in (*measures, *more) if (m.number % 4 in (0, 3)) is after] for after in (False, True)]
        told += 1 if compared(*again).worth is not Worth.TOO_NOISY else -1
    assert told > 0


def test_a_step_that_holds_and_gains_nothing_does_not_pay_and_one_that_loses_does_not_either() -> None:
    luck = random.Random(7)
    before = [measure(k, *(noisy(luck, f, 50.0, 0.0005, 0.001) for f in (READ, LATENCY))) for k in (1, 2)]
    after = [measure(k, *(noisy(luck, f, 50.0, 0.0005, 0.001) for f in (READ, LATENCY))) for k in (0, 3)]
    worse = [measure(k, noisy(luck, READ, 51.5), noisy(luck, LATENCY, 52.0)) for k in (0, 3)]
    assert compared(before, worse).worth is not Worth.PAYS
    assert "weigh" in compared(before, worse).verdict
    many = [measure(k + 10 * n, *m.scores) for n in range(6) for k, m in enumerate((*before, *after))]
    sides = [[m for k, m in enumerate(many) if (k % 4 > 1) is late] for late in (False, True)]
    assert compared(*sides).worth is Worth.DOES_NOT


def test_own_figures_go_before_tenazs() -> None:
    own = Figure("render", "s", False, own=True)
    before = [measure(1, Score(own, (41.0, 41.2, 41.1)), Score(READ, (50.0, 50.1, 50.0)))]
    after = [measure(2, Score(own, (38.0, 38.1, 38.2)), Score(READ, (40.0, 40.1, 40.0)))]
    found = compared(before, after)
    assert [one.figure.what for one in found.leading] == ["render"]
    assert found.worth is Worth.TOO_NOISY, "one after the other a drift looks the same"
    assert "4 more repeats, in turn, would tell" in found.verdict


def test_what_is_counted_otherwise_is_another_figure() -> None:
    before, after = measure(1, parse_own("render 41 s")), measure(2, parse_own("render 120 fps"))
    assert not compared([before], [after]).gains


def test_the_peak_of_a_bus() -> None:
    assert peak_gb_s(6400, 2) == pytest.approx(102.4)


@pytest.mark.parametrize(
    ("text", "name", "values", "unit", "higher"),
    [
        ("render 41.2 40,9 s", "render", (41.2, 40.9), "s", False),
        ("frames 144 fps", "frames", (144.0,), "fps", True),
        ("long name of it 3 points lower", "long name of it", (3.0,), "points", False),
    ],
)
def test_own_figures_as_they_are_typed(
    text: str, name: str, values: tuple[float, ...], unit: str, higher: bool
) -> None:
    score = parse_own(text)
    figure = score.figure
    assert (figure.name, score.values, figure.unit, figure.higher_is_better) == (name, values, unit, higher)


@pytest.mark.parametrize("text", ["", "render", "41 s", "render -3 s", "render 0 s", "render nan"])
def test_what_is_no_figure_is_refused(text: str) -> None:
    with pytest.raises(Refused):
        parse_own(text)


def test_a_figure_is_found_in_what_a_program_said() -> None:
    assert found_in("pass 1 took 3.5 s\npass 2 took 3,25 s\n", r"took ([0-9.,]+) s") == 3.25
    for pattern in ("[", "never", "(pass)"):
        with pytest.raises(Refused):
            found_in("pass 1 took 3.5 s", pattern)
