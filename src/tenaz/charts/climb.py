"""The Climb picture: trials in order against the knob's value, the closing bracket, and where the edge lies."""

from collections.abc import Sequence
from dataclasses import dataclass

from tenaz.core.bracket import Bracket, bracket_of
from tenaz.core.climbs import Advice, Proposal
from tenaz.core.edge import EdgeEstimate
from tenaz.core.knobs import Knob
from tenaz.core.outcomes import Outcome
from tenaz.core.setpoints import Auto, Value
from tenaz.core.trials import Trial


@dataclass(frozen=True, slots=True)
class Point:
    """One trial: its number in the rig's book, its value's strain, its outcome (None: under way)."""

    number: int
    strain: int
    outcome: Outcome | None
    bracket: Bracket
    elapsed_s: float = 0.0
    failed_after_s: float | None = None
    errors: int = 0
    note: str = ""


@dataclass(frozen=True, slots=True)
class ClimbPicture:
    """Everything that the canvas and the paper show of a climb."""

    rig: str
    knob: Knob
    stock: Value
    start: int
    limit: int
    guard_steps: int
    points: tuple[Point, ...]
    bracket: Bracket
    edge: EdgeEstimate | None
    ghost: int | None
    advice: Advice | None
    load: str

    @property
    def strains(self) -> range:
        """The stretch of strains worth drawing: all that was tried, where the edge may lie, and a step around."""
        knob = self.knob
        known = [knob.strain(self.start), *(point.strain for point in self.points)]
        if self.ghost is not None:
            known.append(knob.strain(self.ghost))
        if self.edge is not None:
            known += [int(self.edge.low) - 1, int(self.edge.high) + 1]
        ends = sorted((knob.strain(knob.grid.first), knob.strain(knob.grid.last)))
        low, high = max(ends[0], min(known) - 1), min(ends[1], max(known) + 1)
        while high - low < 7 and (low > ends[0] or high < ends[1]):
            low, high = max(ends[0], low - 1), min(ends[1], high + 1)
        return range(low, high + 1)

    @property
    def guard(self) -> range:
        """Strains inside the guard band: so many steps below the easiest failure; none before the bracket is closed."""
        if self.bracket.failed is None or not self.bracket.closed(self.knob):
            return range(0)
        top = self.knob.strain(self.bracket.failed)
        return range(top - self.guard_steps, top)

    def interval_text(self) -> str:
        """The interval of the edge in the knob's unit, like ``6050 to 6310 MT/s``."""
        if self.edge is None:
            return ""
        low, high = sorted(self.knob.between(strain) for strain in (self.edge.low, self.edge.high))
        return f"{low:.0f} to {high:.0f} {self.knob.unit}"


def climb_picture(
    rig: str,
    knob: Knob,
    stock: Value,
    start: int,
    limit: int,
    guard_steps: int,
    trials: Sequence[Trial],
    edge: EdgeEstimate | None,
    standing: Proposal | Advice | None,
    load: str,
) -> ClimbPicture:
    """Build the picture from a climb's trials, oldest first; those with the knob on auto are not on it."""
    points = []
    results: list[tuple[int, Trial]] = []
    for trial in trials:
        value = trial.setpoint[knob.name]
        if isinstance(value, Auto):
            continue
        results.append((value, trial))
        bracket = bracket_of(knob, [(tried, one.verdict) for tried, one in results])
        points.append(
            Point(
                trial.number,
                knob.strain(value),
                trial.outcome,
                bracket,
                trial.elapsed_s,
                trial.failed_after_s,
                trial.errors,
                trial.note,
            )
        )
    under_way = bool(trials) and trials[-1].open
    return ClimbPicture(
        rig=rig,
        knob=knob,
        stock=stock,
        start=start,
        limit=limit,
        guard_steps=guard_steps,
        points=tuple(points),
        bracket=points[-1].bracket if points else Bracket(None, None),
        edge=edge,
        ghost=standing.value if isinstance(standing, Proposal) and not under_way else None,
        advice=standing if isinstance(standing, Advice) else None,
        load=load,
    )
