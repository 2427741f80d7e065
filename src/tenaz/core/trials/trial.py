"""A trial: one turn of the loop, what it was to run at and what was in force, and the record of how it ended."""

from dataclasses import dataclass, replace
from datetime import datetime

from tenaz.core.base.loop import Station
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.knobs.readings import Source, Sources
from tenaz.core.knobs.setpoint import Change, Setpoint
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.loads.plan import LoadPlan, Strains
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.trials.facts import NO_FACTS, LoadFacts, StationFact


@dataclass(frozen=True, slots=True)
class Heartbeat:
    """The last durable sign of life under load: seconds of load, on which boot of the machine under load."""

    elapsed_s: float
    boot_id: str
    at_utc: datetime


@dataclass(frozen=True, slots=True)
class Trial:
    """One turn of the loop.

    ``number`` counts within the rig from 1. ``setpoint`` is what was in force, as far as that is known: edges and
    evidence stand on it. ``otherwise`` says where that differs from what was asked (before: asked, after: in force),
    ``sources`` how each value is known. ``outcome`` is None while the trial is open and has no record. ``entered`` says
    that its values were brought into the rig. ``elapsed_s`` is time under load; ``failed_after_s`` is the time to
    failure, None when it did not fail there. ``fitted`` names the parts and the firmware that it ran on, ``uid`` is the
    same in every book that has it.
    """

    id: int
    number: int
    rig: str
    bench: BenchKind
    setpoint: Setpoint
    plan: LoadPlan
    station: Station
    begun_utc: datetime
    boot_id: str
    search_id: int | None = None
    outcome: Outcome | None = None
    elapsed_s: float = 0.0
    failed_after_s: float | None = None
    errors: int = 0
    heartbeat: Heartbeat | None = None
    note: str = ""
    reason: str = ""
    seen_by: str = ""
    entered: bool = False
    otherwise: tuple[Change, ...] = ()
    sources: Sources = ()
    facts: LoadFacts = NO_FACTS
    stations: tuple[StationFact, ...] = ()
    fitted: str = ""
    uid: str = ""

    @property
    def memory_was_wrong(self) -> bool:
        """Whether it ended because memory gave back something else than was written."""
        return self.outcome is Outcome.ERRED and self.plan.kind.strains is Strains.MEMORY

    def on_rig_of(self, stock: Setpoint) -> "Trial":
        """The same trial on a rig of which more is known by now than when it was made: knobs that nobody named then
        stood where stock has them.
        """
        at = self.setpoint
        if len(at.items_by_name) >= len(stock.items_by_name) and not at.unknown() and not stock.stood:
            return self
        known = at.knowing(stock)
        return self if known is at else replace(self, setpoint=known)

    @property
    def asked(self) -> Setpoint:
        """What was asked for: what is entered into the rig."""
        if not self.otherwise:
            return self.setpoint
        asked = {change.knob: change.before for change in self.otherwise}
        return Setpoint(tuple((name, asked.get(name, value)) for name, value in self.setpoint.items_by_name))

    def source_of(self, knob: str) -> Source:
        """How a value in force is known."""
        return next((source for source, names in self.sources if knob in names), Source.ASSUMED)

    @property
    def verdict(self) -> Verdict:
        """What it counts as; an open trial counts as void."""
        return Verdict.VOID if self.outcome is None else self.outcome.verdict

    def covered_by(self, kind: LoadKind) -> float:
        """The part, 0 to 1, that a kind of load of it went over at least once; whole where that is not known."""
        return self.facts.covered_by(kind)

    @property
    def clean_s(self) -> float:
        """Time under load without a failure, up to the failure where there was one."""
        return self.elapsed_s if self.failed_after_s is None else self.failed_after_s

    @property
    def open(self) -> bool:
        """Whether it has not been judged."""
        return self.station is not Station.CLOSED
