"""The demo book: the workshop's four rigs, and on ``ridge`` a climb along its data rate half done."""

from pathlib import Path
from typing import Any

from tenaz import orders as o
from tenaz.core.knobs.names import DATA_RATE, MEMORY_VDD, T_FAW, T_RFC1
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.rigs.notes import NoteKind, ValueNote
from tenaz.core.rigs.rescaled import rescaled_setpoint
from tenaz.demo.hut import hut
from tenaz.demo.press import press
from tenaz.demo.ridge import ridge
from tenaz.demo.sled import sled
from tenaz.workshop.shop.shop import Workshop

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
    for rig in (hut(), sled(), press()):
        workshop.do(o.KeepRig(rig))
    workshop.do(o.ChooseRig("ridge"))
    rig = ridge()
    workshop.do(o.BeginSearch((DATA_RATE,), rig.stock, CLIMB_LOAD, strategy="stride"))
    for _ in range(TRIALS_BEFORE_LEAP):
        _do_and_wait(workshop, o.GoOn(o.Steps(one=True)))
    _do_and_wait(workshop, o.StartTrial(rig.stock.replacing(DATA_RATE, LEAP_MTS), CLIMB_LOAD))
    leap = "a leap, to see how far off the end is; tCL probably too short up there"
    workshop.do(o.NoteTrial(workshop.trials()[-1].id, leap))
    for _ in range(TRIALS_AFTER_LEAP):
        _do_and_wait(workshop, o.GoOn(o.Steps(one=True)))
    workshop.do(o.SaveSetpoint("as it came", rig.stock))
    goal = rescaled_setpoint(rig, rig.stock, GOAL_MTS).setpoint.replacing(MEMORY_VDD, 1200)
    workshop.do(o.SaveSetpoint("carried to 6400", goal, "every time as at stock"))
    floor = ValueNote(T_FAW, rig.stock[T_FAW], NoteKind.FLOOR, "four tRRD_S, no use below")
    loose = ValueNote(T_RFC1, rig.stock[T_RFC1], NoteKind.LOOSE, "go down by 32 once 6000 holds")
    workshop.do(o.NoteValues((floor, loose)))
    workshop.close()


def _do_and_wait(workshop: Workshop, order: o.Order[Any]) -> None:
    workshop.do(order)
    workshop.running.wait()
