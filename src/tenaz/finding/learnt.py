"""What was learnt of each kind of cause from simulated faults: how fast it fails under what, how that ends, what it
leaves. A file that the command ``tenaz study faults --learn`` writes anew.
"""

from functools import cache
from importlib.resources import files

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict

from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.kinds import LoadKind
from tenaz.finding.causes import CauseKind, of_memory
from tenaz.finding.symptoms import Symptom

WEIGHED = tuple(kind for kind in LoadKind if not kind.declared.on_cards)
"""Loads that tell of the parts that are looked for: a graphics card's own tell of none."""
TIMES_MIN = (1.0, 2.0, 5.0, 10.0, 20.0, 40.0, 80.0, 160.0)
"""Ends of the stretches at which the course of failures is known."""
SEVERITIES = 8
"""Of each kind so many ways that it is severe are told apart."""
ENDS = (Outcome.ERRED, Outcome.FROZE, Outcome.RESTARTED)
RELIEFS = ("reseat", "fan", "alone", "memory", "cores")
SOFTENED = 0.5
"""Counts that every look of a failure gets, seen or not: what was never seen is not impossible."""


class KindTable(BaseModel):
    """Of one kind of cause. ``log_rates`` are natural logarithms of failures an hour, warmed through, by load (nine
    tenths of memory) and severity (of which each has its chance). ``effective`` is, for
    memory loads and for others, how many of ``TIMES_MIN`` count. ``reliefs`` are folds that its rate falls by, again by
    severity.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)
    prior: float
    log_rates: dict[LoadKind, tuple[float, ...]]
    chances: tuple[float, ...]
    effective: dict[str, tuple[float, ...]]
    reliefs: dict[str, tuple[float, ...]]
    ends: dict[str, tuple[float, float, float]]
    unseen: float
    prints: dict[str, float]
    heat: dict[str, float]
    sag: dict[str, float]
    symptoms: dict[Symptom, float]


class Learnt(BaseModel):
    """Of all kinds."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    about: str
    two_faults: float
    kinds: dict[CauseKind, KindTable]

    @property
    def prior(self) -> dict[CauseKind, float]:
        """How likely each kind is before anything is known."""
        return {kind: table.prior for kind, table in self.kinds.items()}

    def looks(self, table: str) -> tuple[str, ...]:
        """All keys that a table of some kind has."""
        return tuple(sorted({key for one in self.kinds.values() for key in getattr(one, table)}))


@cache
def learnt() -> Learnt:
    """What comes along."""
    text = files("tenaz.finding").joinpath("learnt.json").read_text(encoding="utf-8")
    return Learnt.model_validate_json(text)


def strain_of(kind: LoadKind) -> str:
    """Which of the two courses is a load's."""
    return "memory" if of_memory(kind) else "cores"


def rates(table: KindTable, kind: LoadKind) -> NDArray[np.float64]:
    """Logarithms of failures an hour by severity."""
    return np.array(table.log_rates[kind])


def effective_h(table: KindTable, kind: LoadKind, seconds: float) -> tuple[float, float]:
    """How many hours at the full rate a load of so many seconds counts as, and the part of the rate at its end."""
    known = table.effective[strain_of(kind)]
    minutes = seconds / 60.0
    at = float(np.interp(minutes, (0.0, *TIMES_MIN), (0.0, *known)))
    after = float(np.interp(minutes + 1.0, (0.0, *TIMES_MIN), (0.0, *known)))
    if minutes + 1.0 >= TIMES_MIN[-1]:
        return (known[-1] + max(0.0, minutes - TIMES_MIN[-1])) / 60.0, 1.0
    return at / 60.0, max(1e-4, after - at)


def chance(counts: dict[str, float], key: str, kinds: int) -> float:
    """Chance of a key by its counts, never none."""
    whole = sum(counts.values()) + SOFTENED * kinds
    return (counts.get(key, 0.0) + SOFTENED) / whole
