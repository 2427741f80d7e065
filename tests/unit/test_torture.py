"""A bounded part of the attack that ``make torture`` runs at length; another seed each time would not be repeatable."""

from collections.abc import Callable

import pytest

from tests.torture.flips import flips, merges
from tests.torture.hostile import hostile
from tests.torture.kills import kills
from tests.torture.tally import Tally
from tests.torture.workers import blinded, workers


@pytest.mark.parametrize(
    ("attack", "count"), [(hostile, 1500), (flips, 40), (kills, 6), (merges, 20), (workers, 2), (blinded, 3)]
)
def test_nothing_breaks(attack: Callable[[int, int], Tally], count: int) -> None:
    tally = attack(count, 7)
    assert tally.failures == [], tally.show()
    assert tally.attempts >= count
