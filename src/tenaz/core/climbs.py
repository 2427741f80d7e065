"""A climb: a search along one knob, as a plan, as proposals, and as what comes out."""

from collections.abc import Generator
from dataclasses import dataclass

from tenaz.core.loading import LoadPlan
from tenaz.core.outcomes import Verdict
from tenaz.core.rigs import BenchKind
from tenaz.core.setpoints import Setpoint


@dataclass(frozen=True, slots=True)
class Proposal:
    """The value to try next, in the knob's unit, and why."""

    value: int
    reason: str


@dataclass(frozen=True, slots=True)
class Result:
    """What a trial on the climb came to: its value, what it counts as, and time under load.

    ``failed_after_s`` is None when it passed, 0 when it did not boot.
    """

    value: int
    verdict: Verdict
    elapsed_s: float = 0.0
    failed_after_s: float | None = None
    booted: bool = True


@dataclass(frozen=True, slots=True)
class Advice:
    """Where a finished climb says to stand (None: nowhere it tried), and why."""

    value: int | None
    reason: str


Strategy = Generator[Proposal, Result, Advice]
"""Yields proposals, receives results, returns advice. Keeps no clock and does nothing itself."""


@dataclass(frozen=True, slots=True)
class ClimbPlan:
    """One climb: along ``knob`` from ``base``, each trial under ``load``. ``reason`` lets it pass advised ceilings."""

    id: int
    rig: str
    bench: BenchKind
    knob: str
    base: Setpoint
    load: LoadPlan
    strategy: str = "stride"
    reason: str = ""
    ended: bool = False
