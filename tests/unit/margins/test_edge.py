import tracemalloc

import numpy as np
import pytest

from tenaz.margins.edge import Sighting, estimate_edge


def climb_sightings(rng: np.random.Generator, edge: float, sharpness: float, wall: float) -> list[Sighting]:
    """What an hour a step brings on a rig of the model, up to the first failure."""
    seen = []
    for strain in range(16):
        if strain >= edge + wall:
            seen.append(Sighting(strain, 0.0, failed=True, booted=False))
            break
        fails_after_h = rng.exponential(1.0 / np.exp((strain - edge) / sharpness))
        seen.append(Sighting(strain, min(1.0, fails_after_h), failed=fails_after_h < 1.0))
        if fails_after_h < 1.0:
            break
    return seen


def test_nine_in_ten_intervals_cover_the_edge_of_rigs_from_the_model() -> None:
    rng = np.random.default_rng(7)
    covered = 0
    for _ in range(100):
        edge = rng.uniform(4, 12)
        seen = climb_sightings(rng, edge, np.exp(rng.uniform(np.log(0.15), np.log(1.5))), rng.uniform(0.5, 8))
        estimate = estimate_edge(seen, 0, 15)
        assert estimate is not None
        covered += estimate.low <= edge <= estimate.high
    assert covered >= 84, "90 % intervals; 84 of 100 is two standard deviations below"


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
