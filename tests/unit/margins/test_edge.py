import tracemalloc

import numpy as np
import pytest

from tenaz.core.rigs import Rig
from tenaz.demo.ridge import ridge
from tenaz.margins.edge import Sighting, estimate_edge
from tenaz.simulated.truth import Truth
from tests.doors.truth import truth_of


def climbed(machine: Truth, rig: Rig, rng: np.random.Generator) -> list[Sighting]:
    """What an hour a step brings on a simulated rig up to its first failure: many weaknesses at once, each with a slope
    of its own, and training that is a lottery. The estimator's model knows neither.
    """
    knob, seen = rig.knob("data_rate_mts"), []
    for value in knob.grid.values():
        at = rig.stock.replacing(knob.name, value)
        if knob.strain(value) < knob.strain(rig.stock.number(knob.name)):
            continue
        if rng.random() >= machine.boot_chance(at):
            seen.append(Sighting(knob.strain(value), 0.0, failed=True, booted=False))
            break
        fails_after_h = rng.exponential(1.0 / np.exp(machine.log_rate(at)))
        seen.append(Sighting(knob.strain(value), min(1.0, fails_after_h), failed=fails_after_h < 1.0))
        if fails_after_h < 1.0:
            break
    return seen


def test_nine_in_ten_intervals_hold_the_edge_that_rigs_hide() -> None:
    rng, rig = np.random.default_rng(7), ridge()
    knob = rig.knob("data_rate_mts")
    ends = knob.strain(knob.grid.first), knob.strain(knob.grid.last)
    covered, widths = 0, []
    for seed in range(100):
        machine = truth_of(ridge(seed))
        estimate = estimate_edge(climbed(machine, rig, rng), *ends)
        assert estimate is not None
        covered += estimate.low <= machine.edge(rig.stock, knob) <= estimate.high
        widths.append(estimate.high - estimate.low)
    assert covered >= 84, "90 % intervals; 84 of 100 is two standard deviations below"
    assert np.median(widths) < 6, "an interval that covers everything covers nothing"


def test_the_chances_add_up_and_more_evidence_narrows_them() -> None:
    few = [Sighting(5, 1.0, failed=False), Sighting(7, 0.1, failed=True)]
    more = [*few, *[Sighting(6, 8.0, failed=False)] * 3, *[Sighting(7, 0.02, failed=True)] * 3]
    wide, narrow = estimate_edge(few, 0, 10), estimate_edge(more, 0, 10)
    assert wide is not None
    assert narrow is not None
    assert sum(narrow.chance) == pytest.approx(1.0)
    assert narrow.low <= narrow.median <= narrow.high
    assert narrow.high - narrow.low < wide.high - wide.low
    assert narrow.chance_above(6) == max(narrow.chance)
    assert narrow.chance_above(-99) == 0.0


def test_the_time_to_failure_tells_more_than_that_it_failed() -> None:
    early = estimate_edge([Sighting(5, 0.001, failed=True)], 0, 10)
    late = estimate_edge([Sighting(5, 0.99, failed=True)], 0, 10)
    assert early is not None
    assert late is not None
    assert early.median < late.median


def test_a_crash_at_once_says_where_not_how_far_beyond() -> None:
    held = [Sighting(8, 1.0, failed=False)]
    at_once, soon = (estimate_edge([*held, Sighting(10, hours, failed=True)], 0, 20) for hours in (0.0, 0.004))
    assert at_once is not None
    assert at_once == soon, "a time of zero is no time that anybody measured"
    assert at_once.low > 5, "and does not drag the edge below what held"


def test_a_knob_with_very_many_values_is_looked_at_in_its_own_scale() -> None:
    tracemalloc.start()
    seen = [Sighting(9000, 1.0, failed=False), Sighting(40_000, 0.2, failed=True)]
    estimate = estimate_edge(seen, 0, 63_487)
    _, most_bytes = tracemalloc.get_traced_memory()
    tracemalloc.stop()
    assert estimate is not None
    assert most_bytes < 100e6
    assert 9000 < estimate.low < estimate.median < estimate.high < 42_000
    assert sum(chance for _, _, chance in estimate.cells(-10_000, 80_000)) == pytest.approx(1.0)
    assert sum(estimate.chance_above(k) for k in range(-5000, 70_000)) == pytest.approx(1.0)


def test_nothing_seen_nothing_known() -> None:
    assert estimate_edge([], 0, 10) is None
