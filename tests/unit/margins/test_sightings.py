"""What the judgement sees of a trial."""

from dataclasses import replace

import pytest

from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.loads.reach import Reach
from tenaz.core.searches.search import TrialFacts
from tenaz.core.trials.facts import LoadFacts, planned_fact
from tenaz.margins.sightings import SOONEST_H, EdgeSighting, sighting_of
from tests.make import HOUR, RATE, RIG

AT = RIG.stock.replacing("data_rate_mts", 6000)
STRAIN = RATE.strain(6000)
HELD = TrialFacts(AT, HOUR, Verdict.PASS, elapsed_s=3600.0, outcome=Outcome.HELD)
FAILED = replace(HELD, verdict=Verdict.FAIL, failed_after_s=900.0, outcome=Outcome.ERRED)
LITTLE = LoadFacts((planned_fact(LoadPlan(LoadKind.MARCH, share=0.2), 3600.0),))
BY_HAND = LoadFacts((planned_fact(HOUR, 900.0, by_hand=True),))


@pytest.mark.parametrize(
    ("seen", "expected"),
    [
        (HELD, EdgeSighting(STRAIN, 1.0)),
        (FAILED, EdgeSighting(STRAIN, 0.25, 0.25)),
        (replace(FAILED, failed_after_s=0.0), EdgeSighting(STRAIN, 0.0, SOONEST_H)),
        (replace(FAILED, facts=BY_HAND), EdgeSighting(STRAIN, 0.125, 0.25)),
        (replace(HELD, facts=LITTLE), EdgeSighting(STRAIN, 0.5)),
        (replace(FAILED, outcome=Outcome.TOO_HOT), EdgeSighting(STRAIN, 0.25)),
        (replace(HELD, plan=LoadPlan(LoadKind.SOLVE, 60.0)), EdgeSighting(STRAIN)),
        (replace(FAILED, booted=False, boots=3), EdgeSighting(STRAIN, up=0, down=3)),
        (replace(HELD, boots=2), EdgeSighting(STRAIN, 1.0, down=1)),
        (replace(HELD, retrained=True), EdgeSighting(STRAIN, 1.0, retrained=True)),
        (replace(HELD, verdict=Verdict.VOID, outcome=Outcome.STOPPED), EdgeSighting(STRAIN, 1.0)),
        (replace(HELD, verdict=Verdict.VOID, outcome=Outcome.LOST), None),
    ],
)
def test_of_each_end_it_sees_what_that_shows(seen: TrialFacts, expected: EdgeSighting | None) -> None:
    assert sighting_of(RATE, seen, LoadKind.MARCH, Reach(share=0.4)) == expected
