"""Kinds of things that books tell each other, in the order in which one needs the other."""

from dataclasses import dataclass

from sqlalchemy import Table

from tenaz.journal.base import tables as t


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind: its name in the feed, its table, and what must be one of its kind there: a number within a rig, a name
    within a rig (or the book), a count of the rig's trials by then.
    """

    name: str
    table: Table
    words: str
    numbered: bool = False
    named: bool = False
    counts: str = ""

    @property
    def of_a_rig(self) -> bool:
        """Whether each belongs to a rig."""
        return "rig_id" in self.table.c


RIG = Kind("rig", t.rigs, "the rig", named=True)
TRIAL = Kind("trial", t.trials, "trial", numbered=True)
GOLDENS = Kind("goldens", t.goldens, "goldens")
MACHINE = Kind("machine", t.machines, "the simulated machine")
CONFLICT = Kind("conflict", t.conflicts, "what was kept beside")

KINDS = (
    RIG,
    Kind("search", t.searches, "a search"),
    TRIAL,
    Kind("setpoint", t.setpoints, "the setpoint", named=True),
    Kind("note", t.value_notes, "a note on a value"),
    Kind("work", t.works, "work on parts", counts="after_number"),
    Kind("label", t.part_labels, "a label"),
    Kind("measure", t.measures, "a measure", numbered=True, counts="after_number"),
    Kind("report", t.reports, "a report", numbered=True),
    Kind("routine", t.routines, "the routine", named=True),
    Kind("planned", t.planned, "a planned trial"),
    Kind("run", t.plan_runs, "a run of the plan", counts="from_number"),
    GOLDENS,
    MACHINE,
    CONFLICT,
)

KIND_OF = {kind.table: kind for kind in KINDS if kind not in (GOLDENS, MACHINE)}
"""Whose row one is."""

LINES = (t.moves, t.readings, t.mismatches, t.traces, t.log)
"""Tables that only grow: what is new in them is known by where they ended."""

ATTACHED = (t.heartbeats, t.laid, t.last_seconds, t.snapshots)
"""Tables that hold one row of a trial, or none."""
