"""Prints: made from wrong values with a known cause, they point to that cause first."""

import random
from collections.abc import Callable

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tenaz.charts.prints import prints_picture
from tenaz.charts.prints_cells import draw_prints
from tenaz.core.loading import LoadKind, Mismatch, MismatchKind
from tenaz.prints.features import print_of
from tenaz.prints.suspects import Circumstances, Suspect, suspicions

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


CAUSES: dict[Suspect, Callable[[random.Random], Mismatch]] = {
    Suspect.CELL: lambda luck: wrong(1 << 13, STORED, BASE + 8 * luck.choice((5, 5, 5, 6)), core=luck.randrange(8)),
    Suspect.LANE: lambda luck: wrong(1 << luck.choice((41, 41, 43)), luck.choice((STORED, MOVING)), anywhere(luck)),
    Suspect.TIMING: lambda luck: wrong(1 << luck.randrange(64), MOVING, anywhere(luck), core=luck.randrange(8)),
    Suspect.CONTROLLER: lambda luck: wrong(luck.getrandbits(64), MOVING, anywhere(luck), core=luck.randrange(8)),
    Suspect.LEAK: lambda luck: wrong(
        1 << luck.randrange(0, 64, 2), STORED, anywhere(luck), load=LoadKind.RETAIN, core=luck.randrange(8)
    ),
    Suspect.CORE: lambda luck: wrong(luck.getrandbits(20), COMPUTED, core=3, load=LoadKind.TRANSFORM),
    Suspect.SUPPLY: lambda luck: wrong(luck.getrandbits(20), COMPUTED, core=luck.randrange(8), load=LoadKind.TRANSFORM),
    Suspect.HEAT: lambda luck: wrong(
        1 << luck.randrange(64), STORED, anywhere(luck), at_s=3000.0 + luck.random(), temperature_c=51.5
    ),
}


@pytest.mark.parametrize("cause", CAUSES)
def test_a_print_points_to_what_made_it_and_a_single_value_to_nothing_for_sure(cause: Suspect) -> None:
    luck = random.Random(cause.value)
    made = [CAUSES[cause](luck) for _ in range(30)]
    found = print_of(made)
    assert found is not None
    named = suspicions(found, CALM)
    first = named[:2] if cause in (Suspect.CONTROLLER, Suspect.TIMING) else named[:1]
    assert cause in [one.suspect for one in first], [one.show() for one in named]
    assert all(0 < one.sure < 1 and one.reason and one.try_next for one in named)
    single = print_of(made[:1])
    assert single is not None
    assert all(one.sure < 0.4 for one in suspicions(single, CALM)), "one wrong value proves little"


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
    lane = [CAUSES[Suspect.LANE](luck) for _ in range(40)]
    text = draw_prints(prints_picture("trial 3: march", lane, CALM), 90, 40).text()
    assert "probably a data lane" in text
    assert "seat the module anew" in text
    assert "40 wrong: " in text
    assert "busiest lanes: 41, 43" in text
    assert "there is no print" in draw_prints(prints_picture("trial 4", [], CALM), 90, 10).text()
