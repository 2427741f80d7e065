"""A trial: one turn of the loop at one setpoint, and the records of how it ended."""

from dataclasses import dataclass
from datetime import datetime

from tenaz.core.load_kinds import LoadKind
from tenaz.core.loading import Covered, LoadPlan
from tenaz.core.loop import Station
from tenaz.core.outcomes import Outcome, Verdict
from tenaz.core.rigs import BenchKind
from tenaz.core.setpoints import Setpoint


@dataclass(frozen=True, slots=True)
class Heartbeat:
    """The last durable sign of life under load: seconds of load, on which boot of the operating system."""

    elapsed_s: float
    boot_id: str
    at_utc: datetime


@dataclass(frozen=True, slots=True)
class Trial:
    """One turn of the loop.

    ``number`` counts within the rig from 1. ``outcome`` is None while the trial is open and has no record.
    ``entered`` says that its values were brought into the rig. ``elapsed_s`` is time under load; ``failed_after_s``
    is the time to failure, None when it did not fail there. ``covered`` is what its loads went over at least once.
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
    climb_id: int | None = None
    outcome: Outcome | None = None
    elapsed_s: float = 0.0
    failed_after_s: float | None = None
    errors: int = 0
    heartbeat: Heartbeat | None = None
    note: str = ""
    reason: str = ""
    seen_by: str = ""
    entered: bool = False
    covered: Covered = ()

    @property
    def verdict(self) -> Verdict:
        """What it counts as; an open trial counts as void."""
        return Verdict.VOID if self.outcome is None else self.outcome.verdict

    def covered_by(self, kind: LoadKind) -> float:
        """The part, 0 to 1, that a kind of load of it went over at least once; whole where that is not known."""
        return dict(self.covered).get(kind, 1.0)

    @property
    def open(self) -> bool:
        """Whether it has not been judged."""
        return self.station is not Station.CLOSED
