"""The demo book: the workshop's three rigs, and on ``ridge`` a climb along its data rate half done."""

from pathlib import Path

from tenaz.core.carried import carried_setpoint
from tenaz.core.loading import LoadKind, LoadPlan
from tenaz.core.notes import NoteKind, ValueNote
from tenaz.demo.hut import hut
from tenaz.demo.ridge import ridge
from tenaz.demo.sled import sled
from tenaz.workshop.shop import Workshop

CLIMB_LOAD = LoadPlan(LoadKind.MARCH, duration_s=3600.0)
LEAP_MTS = 7000
"""A leap that the technician tried after the fifth trial: far beyond, and it shows."""

TRIALS_BEFORE_LEAP = 5
TRIALS_AFTER_LEAP = 1
GOAL_MTS = 6400
"""What the modules are sold for."""


def make_demo_book(place: Path) -> None:
    """Write the demo book: the climb really runs on the simulated rig, in no time."""
    workshop = Workshop()
    workshop.open(place)
    workshop.choose_rig("ridge")
    for rig in (hut(), sled()):
        workshop.store.put_rig(rig)
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
    workshop.save_setpoint("as it came", rig.stock)
    goal = carried_setpoint(rig, rig.stock, GOAL_MTS).setpoint.replacing("memory_vdd_mv", 1200)
    workshop.save_setpoint("carried to 6400", goal, "every time as at stock")
    workshop.note_value(ValueNote("t_faw_nck", rig.stock["t_faw_nck"], NoteKind.FLOOR, "four tRRD_S, no use below"))
    workshop.note_value(
        ValueNote("t_rfc1_nck", rig.stock["t_rfc1_nck"], NoteKind.LOOSE, "go down by 32 once 6000 holds")
    )
    workshop.close()
