"""Whether an edge has moved: found when it has, not when it has not, and the weather taken out."""

import math
import random

import pytest

from tenaz.core.base.tolerance import Tolerance
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.rigs.rig import Purpose
from tenaz.demo.ridge import ridge
from tenaz.margins.drift import Moved, moved_between
from tenaz.margins.posterior import Posterior, posterior_of
from tenaz.margins.priors import prior_for
from tenaz.margins.sightings import EdgeSighting, failed_at
from tenaz.study.hidden import DrawnRig
from tenaz.study.populations import read_population
from tenaz.study.visits import visit

KNOB = ridge().knob("t_cl_nck")
PRIOR, PURPOSE, MARCH = prior_for(KNOB), Tolerance(1, 1000, 0.95), LoadKind.MARCH
SLOPE, LOG_TOLERATED = 0.25, math.log(1 / 1000)


def climbed(luck: random.Random, edge: float, warm_c: float | None = None, per_k: float = 0.0) -> Posterior:
    """Two hours at each strain from well below the edge on, up to three failures."""
    first, seen, failures = math.floor(edge) - 3, list[EdgeSighting](), 0
    for strain in range(first, first + 12):
        rate = math.exp(min(40.0, LOG_TOLERATED + (strain - edge) / SLOPE + per_k * ((warm_c or 50.0) - 50.0)))
        for _ in range(2):
            failed_h = luck.expovariate(rate)
            failures += failed_h < 2.0
            seen.append(
                failed_at(strain, failed_h, warm_c) if failed_h < 2.0 else EdgeSighting(strain, 2.0, warm_c=warm_c)
            )
        if failures >= 3:
            break
    return posterior_of(PRIOR, KNOB, {MARCH: seen})


def moved(then: Posterior, now: Posterior) -> Moved:
    return moved_between(then, now, MARCH, PRIOR)


@pytest.mark.parametrize("by", [0, -3, 3])
def test_an_edge_that_moved_is_found_and_one_that_did_not_is_left(by: int) -> None:
    luck, sure, wrong, held, could = random.Random(by + 10), 0, 0, 0, list[float | None]()
    low, high = KNOB.ends
    for _ in range(40):
        edge = luck.uniform(low + 8, min(high - 6, low + 20))
        found = moved(climbed(luck, edge), climbed(luck, edge + by))
        right = found.lower if by < 0 else found.higher if by > 0 else 1 - found.differs
        sure += right >= 0.9
        wrong += (found.higher if by < 0 else found.lower if by > 0 else found.differs) >= 0.95
        held += found.low <= by <= found.high
        could.append(found.could_tell)
    assert wrong <= 2
    assert held >= 36
    assert by == 0 or sure >= 24
    # What it says that it could have told is about what it tells: half of the shifts of that size, or more.
    told = [steps for steps in could if steps is not None]
    assert len(told) > 30
    assert 1 <= sorted(told)[len(told) // 2] <= 4


def test_a_visit_of_two_hours_tells_of_three_steps_and_leaves_alone_what_did_not_move() -> None:
    purpose, rigs = Purpose("a study", 0, ((MARCH, 8.0),), tolerance=PURPOSE), read_population("p")
    moved, still = ([visit(DrawnRig(rigs, 900 + k), purpose, by) for k in range(3)] for by in (-3.0, 0.0))
    assert sum(one.nearer >= 0.9 for one in moved) >= 2
    assert all(max(one.nearer, one.farther) < 0.9 for one in still)
    assert max(one.hours for one in (*moved, *still)) <= 2.2


def test_a_warmer_day_is_weather_not_drift() -> None:
    luck, edge = random.Random(4), KNOB.ends[0] + 12.0
    cool = climbed(luck, edge, 45.0)
    # Fifteen kelvin warmer at the usual e-folds a kelvin: the same machine.
    usual = moved(cool, climbed(luck, edge, 60.0)).weather_steps
    assert usual < 0
    warm = climbed(luck, edge + usual, 60.0)
    same = moved(cool, warm)
    assert same.warmer_k == pytest.approx(15.0, abs=1.0)
    assert same.differs < 0.9
    assert abs(same.steps) < 1.0
    unknown = moved(climbed(luck, edge), climbed(luck, edge))
    assert unknown.warmer_k is None
    assert unknown.weather_steps == 0.0
