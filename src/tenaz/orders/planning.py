"""Orders about what is planned."""

from dataclasses import dataclass

from tenaz.core.searches.plans import Planned
from tenaz.orders.order import Order


@dataclass(frozen=True, slots=True)
class AddPlanned(Order[str]):
    """Trials at the plan's end."""

    trials: tuple[Planned, ...]


@dataclass(frozen=True, slots=True)
class MovePlanned(Order[None]):
    """A planned trial earlier (−1) or later (1)."""

    planned_id: int
    step: int


@dataclass(frozen=True, slots=True)
class SkipPlanned(Order[str]):
    """A planned trial is not made after all."""

    planned_id: int
