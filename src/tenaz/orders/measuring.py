"""Orders about how fast a rig is."""

from dataclasses import dataclass

from tenaz.core.scores.measure import QUICK, MeasurePlan
from tenaz.core.scores.score import Score
from tenaz.orders.order import Begins, Brings, Order
from tenaz.papers.reports.report import Report
from tenaz.pictures.scores.model import ScoresPicture


@dataclass(frozen=True, slots=True)
class Measure(Begins[None]):
    """Measure the rig as it runs now; ``watts`` are read from a meter at the plug (None: by its sensors)."""

    plan: MeasurePlan = QUICK
    note: str = ""
    watts: float | None = None


@dataclass(frozen=True, slots=True)
class MeasureInTurn(Begins[None]):
    """Measure what is in force and another setpoint in turn, so that a drift is not taken for a gain: as often as
    ``rounds`` says, each round now, before, before, now.
    """

    before: str
    plan: MeasurePlan = QUICK
    rounds: int = 1


@dataclass(frozen=True, slots=True)
class KeepOwn(Order[str]):
    """Keep a figure of the technician's own at what is in force."""

    score: Score
    note: str = ""


@dataclass(frozen=True, slots=True)
class BringScores(Brings[ScoresPicture]):
    """Fetch what was measured at what is in force, against another setpoint: ``stock``, a saved one, or ``trial 7``."""

    before: str = "stock"


@dataclass(frozen=True, slots=True)
class MakeReport(Brings[Report]):
    """A report of the rig at work: a new one where anything changed since the newest, else that; or the one of a
    ``number``.
    """

    number: int | None = None
