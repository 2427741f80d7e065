"""Orders about what runs."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import ClassVar

from tenaz.aboard.standing import StandingOrder
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.ports.asking import Answer
from tenaz.core.ports.bench import HowLong, Question
from tenaz.core.searches.plans import StopRule
from tenaz.core.searches.search import USUAL_STRATEGY, SearchPlan
from tenaz.orders.order import Begins, Order


@dataclass(frozen=True, slots=True)
class StartTrial(Begins[None]):
    """One trial at a setpoint."""

    setpoint: Setpoint
    load: LoadPlan
    reason: str = ""


@dataclass(frozen=True, slots=True)
class StartRoutine(Begins[None]):
    """Trials at one setpoint with one load after the other, until one of them does not hold."""

    setpoint: Setpoint
    loads: tuple[LoadPlan, ...]
    reason: str = ""


@dataclass(frozen=True, slots=True)
class Steps:
    """How far a search is gone on with: one trial, or all; ``measured``: what a night has proven is then measured
    against where it began, in turn, where anything can.
    """

    one: bool = False
    measured: bool = False


ALL_STEPS = Steps()


@dataclass(frozen=True, slots=True)
class BeginSearch(Begins[SearchPlan]):
    """A search along knobs from a base: begun in the book; with ``steps`` it is also gone on with, one trial at a time
    or all that it takes.
    """

    knobs: tuple[str, ...]
    base: Setpoint
    load: LoadPlan
    reason: str = ""
    strategy: str = USUAL_STRATEGY
    parameters: Mapping[str, object] = field(default_factory=dict)
    steps: Steps | None = None


@dataclass(frozen=True, slots=True)
class GoOn(Begins[None]):
    """Go on with the search under way."""

    steps: Steps = ALL_STEPS


@dataclass(frozen=True, slots=True)
class TakeUp(Begins[None]):
    """Go on with an unfinished trial where it stands."""

    trial_id: int


@dataclass(frozen=True, slots=True)
class RunPlan(Begins[None]):
    """Make what is planned, one trial after the other, until the plan or the rule ends it."""

    rule: StopRule


@dataclass(frozen=True, slots=True)
class EndSearch(Order[str]):
    """End the search under way where it stands; its trials stay."""


@dataclass(frozen=True, slots=True)
class GiveAnswer(Order[None]):
    """Answer the question that the run has asked; ``to`` is that question, so that no other one is answered."""

    answer: Answer
    to: Question | HowLong | None = None


@dataclass(frozen=True, slots=True)
class Stop(Order[None]):
    """Stop what runs; it is recorded as stopped by hand."""


@dataclass(frozen=True, slots=True)
class SetPace(Order[None]):
    """Simulated seconds in one real second; None: as fast as can be."""

    shows: ClassVar[bool] = False
    pace: float | None


@dataclass(frozen=True, slots=True)
class StandBy(Order[str]):
    """Another standing order for the stick; it begins anew."""

    standing: StandingOrder


@dataclass(frozen=True, slots=True)
class FollowStanding(Begins[None]):
    """Do what the stick's standing order says comes next."""


@dataclass(frozen=True, slots=True)
class LeaveMachine(Order[str]):
    """Have the machine that was started from the stick restarted, or switched off, once Tenaz has ended."""

    restart: bool


@dataclass(frozen=True, slots=True)
class SetKeyboard(Order[str]):
    """Aboard the stick: another layout of the keyboard, now and at every start."""

    layout: str


@dataclass(frozen=True, slots=True)
class ClimbLadder(Begins[None]):
    """Aboard the stick: try modules one after the other; every start tries what is fitted then."""
