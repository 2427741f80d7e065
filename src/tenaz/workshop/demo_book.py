"""The demo book: ``ridge`` with a climb along its data rate half done."""

from pathlib import Path

from tenaz.core.loading import LoadKind, LoadPlan
from tenaz.demo.ridge import ridge
from tenaz.workshop.shop import Workshop

CLIMB_LOAD = LoadPlan(LoadKind.MARCH, duration_s=3600.0)
LEAP_MTS = 7000
"""A leap that the technician tried after the fifth trial: far beyond, and it shows."""

TRIALS_BEFORE_LEAP = 5
TRIALS_AFTER_LEAP = 1


def make_demo_book(place: Path) -> None:
    """Write the demo book: the climb really runs on the simulated rig, in no time."""
    workshop = Workshop()
    workshop.open(place)
    rig = ridge()
    plan = workshop.plan_climb("data_rate_mts", rig.stock, CLIMB_LOAD)
    for _ in range(TRIALS_BEFORE_LEAP):
        workshop.start_climb(plan, one_step=True)
        workshop.wait()
    workshop.start_trial(rig.stock.replacing("data_rate_mts", LEAP_MTS), CLIMB_LOAD)
    workshop.wait()
    workshop.note(workshop.trials()[-1], "a leap, to see how far off the end is; tCL probably too short up there")
    for _ in range(TRIALS_AFTER_LEAP):
        workshop.start_climb(plan, one_step=True)
        workshop.wait()
    workshop.close()
