"""The Margins picture: of each knob the way from the value in use to the edge of the purpose, in both numbers."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from math import log

from tenaz.core.base.tolerance import Tolerance
from tenaz.core.evidence.bracket import Bracket
from tenaz.core.evidence.old_edges import MovesWith, OldEdge
from tenaz.core.evidence.shown import KindEvidence
from tenaz.core.knobs.knob import Knob
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.rigs.rig import Rig
from tenaz.margins.judging import Judgement
from tenaz.margins.rates import RateEstimate
from tenaz.margins.safety import AlongKnob, Safety
from tenaz.margins.worth import LIKELIER_NOT, Hour, advice, next_hour

MOST_RESERVE_K = 60.0
"""No machine gets warmer by more than that and still runs."""


@dataclass(frozen=True)
class MarginRow:
    """One knob at the value in use, on its ``line``, judged under the kind of load that holds it back. Steps count
    towards the harder values; negative: the edge lies on the easier side of what is in use.
    """

    line: AlongKnob
    bracket: Bracket
    by_kind: Mapping[LoadKind, KindEvidence]
    """The evidence at what is in use."""

    @property
    def knob(self) -> Knob:
        """The knob."""
        return self.line.knob

    @property
    def in_use(self) -> int:
        """Its value."""
        return self.line.value

    @property
    def judged(self) -> Judgement:
        """What is judged of its line."""
        return self.line.judged

    @property
    def kind(self) -> LoadKind:
        """The kind of load."""
        return self.judged.kind

    @property
    def evidence(self) -> KindEvidence | None:
        """Under the kind of load that it is judged under."""
        return self.by_kind.get(self.kind)

    @property
    def strain(self) -> int:
        """Of the value in use."""
        return self.knob.strain(self.in_use)

    @property
    def steps(self) -> tuple[float, float, float]:
        """From the value in use to the edge: the least of its interval, the median, the most."""
        edge = self.judged.edge
        return edge.low - self.strain, edge.median - self.strain, edge.high - self.strain

    @property
    def in_units(self) -> float:
        """To the edge's median in the knob's unit, on its grid."""
        return abs(self.knob.between(self.judged.edge.median) - self.in_use) * (1 if self.steps[1] >= 0 else -1)

    @property
    def percent(self) -> float | None:
        """The same in percent of the value in use."""
        return 100.0 * self.in_units / abs(self.in_use) if self.in_use else None

    @property
    def guard_steps(self) -> int | None:
        """Steps from the value in use to the easiest failure, less one; None where nothing failed."""
        return None if self.bracket.failed is None else self.knob.strain(self.bracket.failed) - self.strain - 1

    @property
    def stand(self) -> int | None:
        """The hardest value that can be advised."""
        return None if self.judged.stand is None else self.knob.at_strain(self.judged.stand)

    @property
    def sure(self) -> float | None:
        """How sure it is, by this line alone, that the rate of the value in use is tolerated; None: never tried."""
        return self.line.sure if self.line.known else None

    @cached_property
    def rate(self) -> RateEstimate:
        """What the model extends the evidence to: failures an hour at the value in use."""
        return self.judged.rate(self.strain)

    @property
    def shown_h(self) -> float:
        """What the evidence shows directly: at least so many hours between failures, 95 % sure; 0: nothing ran here."""
        return 0.0 if self.evidence is None else self.evidence.shown_h()

    @cached_property
    def _per_k(self) -> float | None:
        """E-folds by which failures grow with a kelvin; None where warmth was not measured over a span that tells."""
        weights, parameter_grid = self.judged.posterior.weights(self.kind), self.judged.posterior.parameter_grid
        if len(set(parameter_grid.warmth_per_k.tolist())) < 2:
            return None
        per_k = float(weights.sum(axis=(0, 1)) @ parameter_grid.warmth_per_k)
        return per_k if per_k > 0 else None

    @property
    def nearer_by_10_k(self) -> float | None:
        """By how many grid steps the edge comes nearer where the part gets ten kelvin warmer."""
        if self._per_k is None:
            return None
        weights, parameter_grid = self.judged.posterior.weights(self.kind), self.judged.posterior.parameter_grid
        slope = float(weights.sum(axis=(0, 2)) @ parameter_grid.slope) * parameter_grid.width
        return 10.0 * self._per_k * slope

    @cached_property
    def reserve_k(self) -> float | None:
        """By how many kelvin it may get warmer before the tolerated rate is passed; None where warmth was not measured
        over a span that would tell.
        """
        per_k = self._per_k
        if per_k is None:
            return None
        reserve = (log(self.judged.edge.tolerance.rate_per_h) - log(self.rate.median)) / per_k
        return max(-MOST_RESERVE_K, min(MOST_RESERVE_K, reserve))

    @cached_property
    def hours(self) -> tuple[Hour, ...]:
        """What the next hour here would buy, under each kind of load that ran on the line or is asked for."""
        # Of a load that never ran as far as this nothing is known: its hours cannot be weighed.
        kinds = dict.fromkeys((self.kind, *self.line.under))
        posterior, tolerance = self.judged.posterior, self.judged.edge.tolerance
        return tuple(next_hour(posterior, kind, self.strain, tolerance, self.by_kind.get(kind)) for kind in kinds)


@dataclass(frozen=True)
class MarginsPicture:
    """All knobs that were moved on the lines through what is in use, and the verdict on it, ``safety``; ``still``
    are the knobs that were not, by name. ``old`` are edges that were found while other values stood, ``moves`` what was
    seen to move with what.
    """

    rig: Rig
    tolerance: Tolerance
    rows: tuple[MarginRow, ...]
    safety: Safety
    still: tuple[str, ...] = ()
    old: tuple[OldEdge, ...] = ()
    moves: tuple[MovesWith, ...] = ()

    @property
    def worth(self) -> str:
        """What the next hour is worth, where it is worth most."""
        held_back = self.safety.held_back
        row = next((row for row in self.rows if row.line is held_back), next(iter(self.rows), None))
        if row is None:
            return ""
        unknown = ", ".join(self.safety.unknown)
        if unknown and (row.sure or 0.0) >= LIKELIER_NOT:
            return f"{unknown} is asked for and never ran as far as this: an hour of it tells most"
        return advice(row.hours)


def show_hours_between(rate: RateEstimate) -> str:
    """Like ``5,600 h (900 to 40,000)``."""
    return f"{figure(1 / rate.median)} h ({figure(1 / rate.high)} to {figure(1 / rate.low)})"


def figure_h(hours: float) -> str:
    """Like ``0.33 h``; less than a hundredth of one in seconds."""
    return f"{figure(hours)} h" if hours >= 0.01 else f"{3600 * hours:.2g} s"


def figure(value: float) -> str:
    """Two figures, without a power of ten; past a million only that."""
    if value >= 1e6:
        return "over 1M"
    if value >= 100:
        digits = len(str(int(value))) - 2
        return f"{round(value, -digits):,.0f}"
    return f"{value:.2g}" if value < 10 else f"{value:.0f}"
