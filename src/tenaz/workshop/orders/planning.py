"""Orders about what is planned."""

from dataclasses import dataclass

from tenaz.core.plans import Planned


@dataclass(frozen=True, slots=True)
class AddPlanned:
    """Trials at the plan's end."""

    trials: tuple[Planned, ...]


@dataclass(frozen=True, slots=True)
class MovePlanned:
    """A planned trial earlier (−1) or later (1)."""

    planned_id: int
    step: int


@dataclass(frozen=True, slots=True)
class SkipPlanned:
    """A planned trial is not made after all."""

    planned_id: int
