"""Orders about how fast a rig is."""

from dataclasses import dataclass

from tenaz.core.measuring import QUICK, MeasurePlan
from tenaz.core.scores import Score


@dataclass(frozen=True, slots=True)
class Measure:
    """Measure the rig as it runs now; ``watts`` are read from a meter at the plug (None: by its sensors)."""

    plan: MeasurePlan = QUICK
    note: str = ""
    watts: float | None = None


@dataclass(frozen=True, slots=True)
class MeasureInTurn:
    """Measure what is in force and another setpoint in turn, so that a drift is not taken for a gain: as often as
    ``rounds`` says, each round now, before, before, now.
    """

    before: str
    plan: MeasurePlan = QUICK
    rounds: int = 1


@dataclass(frozen=True, slots=True)
class KeepOwn:
    """Keep a figure of the technician's own at what is in force."""

    score: Score
    note: str = ""


@dataclass(frozen=True, slots=True)
class BringScores:
    """Fetch what was measured at what is in force, against another setpoint: ``stock``, a saved one, or ``trial 7``."""

    before: str = "stock"


@dataclass(frozen=True, slots=True)
class MakeReport:
    """A report of the rig at work: a new one where anything changed since the newest, else that; or the one of a
    ``number``.
    """

    number: int | None = None
