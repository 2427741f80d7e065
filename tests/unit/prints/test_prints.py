"""Prints: made from wrong values with a known cause, they point to that cause first."""

import random
from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tenaz.core.loads.plan import LoadKind, Mismatch, MismatchKind
from tenaz.finding.prints.features import print_of
from tenaz.finding.prints.suspicion import Circumstances, PrintCause, bursts_of, suspicions, weighed
from tenaz.pictures.prints.cells import draw_prints
from tenaz.pictures.prints.model import prints_picture
from tenaz.study.faulty.prints import AT_STOCK, bursts

STORED, MOVING, COMPUTED = MismatchKind.STORED, MismatchKind.ON_THE_WAY, MismatchKind.COMPUTED
BASE = 0x7F00_0000_0000
CALM = Circumstances(3600.0, (40.0, 52.0), 8)


def wrong(
    bits: int, kind: MismatchKind, address: int = BASE, core: int = 0, load: LoadKind = LoadKind.MARCH,
    at_s: float = 60.0, temperature_c: float = 46.0, expected: int = 0x5555_5555_5555_5555,
) -> Mismatch:  # fmt: skip
    read = expected ^ bits
    again = expected if kind is MOVING else read
    return Mismatch(0, at_s, 1, address, expected, read, again, kind, "", None, temperature_c, load, core)


def anywhere(luck: random.Random) -> int:
    return BASE + luck.randrange(1 << 30) * 8


def spread(made: list[Mismatch]) -> list[Mismatch]:
    """One a minute: bursts of their own."""
    return [replace(one, at_s=60.0 * number) for number, one in enumerate(made)]


CAUSES: dict[PrintCause, Callable[[random.Random], Mismatch]] = {
    PrintCause.CELL: lambda luck: wrong(1 << 13, STORED, BASE + 8 * luck.choice((5, 5, 5, 6)), core=luck.randrange(8)),
    PrintCause.LANE: lambda luck: wrong(1 << 41, MOVING, anywhere(luck)),
    PrintCause.CONTACT: lambda luck: wrong(luck.getrandbits(8) | 0b10101, MOVING, anywhere(luck)),
    PrintCause.CONTROLLER: lambda luck: wrong(luck.getrandbits(64), MOVING, anywhere(luck), core=luck.randrange(8)),
    PrintCause.NEIGHBOUR: lambda luck: wrong(
        1 << luck.randrange(64), STORED, BASE + 8 * luck.randrange(4000), load=LoadKind.DISTURB
    ),
    PrintCause.CORE: lambda luck: wrong(luck.getrandbits(20) | 1, COMPUTED, core=3, load=LoadKind.TRANSFORM),
    PrintCause.SUPPLY: lambda luck: wrong(
        luck.getrandbits(20) | 1, COMPUTED, core=luck.randrange(8), load=LoadKind.TRANSFORM
    ),
}


@pytest.mark.parametrize("cause", CAUSES)
def test_a_print_points_to_what_made_it_and_a_single_value_to_less(cause: PrintCause) -> None:
    luck = random.Random(cause.value)
    made = spread([CAUSES[cause](luck) for _ in range(10)])
    named = suspicions(made, CALM)
    assert named[0].suspect == cause, [one.show() for one in named]
    assert all(0 < one.sure < 1 and one.reason and one.try_next for one in named)
    single = weighed(made[:1], CALM)
    assert single[cause] <= weighed(made, CALM)[cause] + 1e-9


def test_the_same_values_point_to_a_timing_where_something_was_moved() -> None:
    luck = random.Random(2)
    together = [wrong(1 << luck.randrange(64), MOVING, anywhere(luck), core=luck.randrange(8)) for _ in range(2)]
    moved, at_stock = (weighed(together, replace(CALM, moved=one)) for one in (True, False))
    assert moved[PrintCause.TIMING] > at_stock[PrintCause.TIMING]
    assert suspicions(together, replace(CALM, moved=True))[0].suspect == PrintCause.TIMING


def test_heat_is_told_beside_when_values_came_hot_and_late() -> None:
    luck = random.Random(5)
    made = [wrong(1 << 13, STORED, anywhere(luck), at_s=3000.0 + n, temperature_c=51.5) for n in range(3)]
    assert "a fan on it tells heat" in suspicions(made, CALM)[0].reason
    early = [replace(one, at_s=5.0) for one in made]
    assert "fan" not in suspicions(early, CALM)[0].reason


def test_seventy_percent_is_right_in_seventy_of_a_hundred() -> None:
    """On machines that nothing was learnt of; causes come as often as they are believed to."""
    luck = np.random.default_rng(3)
    said, true = list[float](), list[bool]()
    for seed in range(60):
        for cause, burst in bursts(9_000_000 + seed, 14):
            if luck.random() < AT_STOCK[cause] / max(AT_STOCK.values()):
                chances = weighed(burst, Circumstances(3600.0, None, 8))
                said += list(chances.values())
                true += [one is cause for one in chances]
    sure, right = np.array(said), np.array(true)
    for low in (0.0, 0.2, 0.4, 0.6, 0.8):
        here = (sure >= low) & (sure < low + 0.2 + (low == 0.8))
        if here.sum() >= 150:
            assert right[here].mean() == pytest.approx(sure[here].mean(), abs=0.06), low


def test_wrong_values_that_come_together_are_one_burst() -> None:
    made = [wrong(1, STORED, at_s=at) for at in (60.0, 60.2, 60.9, 75.0)]
    assert [len(one) for one in bursts_of(made)] == [3, 1]


def test_the_print_counts_lanes_directions_and_repetitions() -> None:
    made = [wrong(0b11, STORED), wrong(0b1, STORED), wrong(1 << 63, MOVING, BASE + 4096)]
    found = print_of(made)
    assert found is not None
    assert (found.lanes[0], found.lanes[1], found.lanes[63]) == (2, 1, 1)
    assert (found.rising, found.falling) == (2, 2), "of 0101… lane 0 was 1 and fell, lanes 1 and 63 were 0 and rose"
    assert (found.words, found.pages, found.repeated) == (2, 2, 1)
    assert found.busiest_lanes(1) == (0,)
    assert print_of([]) is None


bits = st.integers(1, 2**64 - 1)
mismatches = st.builds(
    wrong, bits, st.sampled_from(MismatchKind), st.integers(0, 2**47).map(lambda at: at * 8), st.integers(0, 63),
    st.sampled_from(LoadKind), st.floats(0, 1e5), st.floats(0, 120),
)  # fmt: skip


@given(st.lists(mismatches, max_size=30), st.integers(0, 140), st.integers(0, 50))
def test_any_print_can_be_drawn_and_nothing_is_surer_than_sure(found: list[Mismatch], width: int, height: int) -> None:
    picture = prints_picture("trial 1", found, Circumstances(1e5, (20.0, 90.0), 64))
    cells = draw_prints(picture, width, height)
    assert len(cells.rows()) == height
    assert all(sum(len(run.text) for run in row) == width for row in cells.rows())
    assert all(0 <= one.sure <= 1 for one in picture.suspicions)
    if found:
        assert picture.found is not None
        assert sum(sum(region.lanes) for region in picture.regions) == sum(
            len(one.wrong_bits) for one in found if one.address
        )


def test_the_drawing_says_lanes_regions_and_what_to_try() -> None:
    luck = random.Random(1)
    lane = [CAUSES[PrintCause.LANE](luck) for _ in range(40)]
    text = draw_prints(prints_picture("trial 3: march", lane, CALM), 90, 40).text()
    assert "probably a data lane" in text
    assert "seat the module anew" in text
    assert "40 wrong: " in text
    assert "busiest lanes: 41" in text
    assert "there is no error pattern" in draw_prints(prints_picture("trial 4", [], CALM), 90, 10).text()
