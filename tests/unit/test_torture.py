"""A bounded part of the attack that ``make torture`` runs at length; another seed each time would not be repeatable."""

from collections.abc import Callable

import pytest

from tests.torture.flips import flips, merges
from tests.torture.hostile import hostile
from tests.torture.kills import kills
from tests.torture.tally import Tally
from tests.torture.workers import blinded, workers


@pytest.mark.parametrize(
    ("attack", "count"), [(hostile, 800), (flips, 15), (kills, 3), (merges, 8), (workers, 1), (blinded, 1)]
)
def test_nothing_breaks(attack: Callable[[int, int], Tally], count: int) -> None:
    tally = attack(count, 7)
    assert tally.failures == [], tally.show()
    assert tally.attempts >= count
