"""The Climb picture: trials in order against the knob's value, the closing bracket, and where the edge lies."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from tenaz.core.base.amounts import show_sure
from tenaz.core.base.outcomes import Outcome
from tenaz.core.evidence.bracket import Bracket, Bracketing
from tenaz.core.evidence.edge import EdgeEstimate
from tenaz.core.knobs.knob import Harder, Knob
from tenaz.core.knobs.setpoint import Auto, Setpoint, Value
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.searches.search import Advice, Proposal
from tenaz.core.trials.trial import Trial
from tenaz.margins.judging import Judgement
from tenaz.margins.rates import RateEstimate

MOST_RATES = 80
HARDLY = 0.25
"""An edge that lies past the grid with a larger chance than this is said to."""


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
    load: str = ""
    apart: bool = False
    """Ran another load than the one that bracket and edge are about."""
    value: int | None = None
    """What was in force; None: the grid's value at the strain."""
    asked: str = ""
    """What was asked for, where something else was in force."""


@dataclass(frozen=True, slots=True)
class LoadSeries:
    """What one kind of load has shown along the same line: kinds feel an edge differently."""

    load: LoadKind
    bracket: Bracket
    edge: EdgeEstimate | None


@dataclass(frozen=True)
class ClimbPicture:
    """Everything that the page and the paper show of a climb."""

    rig: str
    knob: Knob
    stock: Value
    start: int
    limit: int
    points: tuple[Point, ...]
    bracket: Bracket
    judged: Judgement | None
    ghost: int | None
    advice: Advice | None
    load: str
    kind: LoadKind | None = None
    base: Setpoint | None = None
    """What all other knobs stood at."""
    series: tuple[LoadSeries, ...] = ()
    """Of the other loads; bracket and edge of the picture are those of its ``kind``."""
    spent_h: float = 0.0
    """What all its trials took at the bench."""
    stood: str = ""
    """What stands otherwise now than while it was climbed, as it stood then."""
    elsewhere: int = 0
    """Trials along the same knob while other values stood."""
    elsewhere_at: tuple[tuple[int, Outcome], ...] = ()
    """The newest of them: at which strain, and how they ended."""
    around: str = ""
    """What all other knobs stood at, in words: stock, or what differs from it."""
    to_come_h: float | None = None
    """About what the search will still cost; None where none is under way."""

    def moved_since(self, now: Setpoint) -> tuple[str, ...]:
        """Knobs that stand otherwise now than while it was climbed; its own is not among them."""
        changes = self.base.changes_from(now) if self.base is not None else ()
        return tuple(one.knob for one in changes if one.knob != self.knob.name)

    @property
    def edge(self) -> EdgeEstimate | None:
        """Where the edge of the purpose lies under the picture's load."""
        return self.judged.edge if self.judged else None

    @property
    def stand(self) -> int | None:
        """The value that can be advised, in the knob's unit; None while nothing is known, or where none can."""
        strain = self.judged.stand if self.judged else None
        return None if strain is None else self.knob.at_strain(strain)

    @cached_property
    def rates(self) -> tuple[RateEstimate, ...]:
        """Failures an hour along the stretch worth drawing; at most so many places, evenly."""
        strains = self.strains
        return self.judged.rates(strains[:: max(1, len(strains) // MOST_RATES)]) if self.judged else ()

    @property
    def strains(self) -> range:
        """The stretch of strains worth drawing: all that was tried, where the edge may lie, and a step around."""
        knob = self.knob
        known = [knob.strain(self.start), *(point.strain for point in self.points)]
        if self.ghost is not None:
            known.append(knob.strain(self.ghost))
        if self.edge is not None:
            known += [int(self.edge.low) - 1, int(self.edge.high) + 1]
        if self.judged is not None and self.judged.stand is not None:
            known.append(self.judged.stand)
        ends = knob.ends
        low, high = max(ends[0], min(known) - 1), min(ends[1], max(known) + 1)
        while high - low < 7 and (low > ends[0] or high < ends[1]):
            low, high = max(ends[0], low - 1), min(ends[1], high + 1)
        return range(low, high + 1)

    @property
    def guard(self) -> range:
        """Strains inside the guard band: past the value that can be advised, below the easiest failure; none before
        the bracket is closed.
        """
        stand = self.judged.stand if self.judged else None
        if self.bracket.failed is None or stand is None or not self.bracket.closed(self.knob):
            return range(0)
        return range(stand + 1, self.knob.strain(self.bracket.failed))

    @property
    def limit_word(self) -> str:
        """What ends the climb there."""
        knob = self.knob
        for word, ceiling in (("advised ceiling", knob.advised_ceiling), ("hard ceiling", knob.hard_ceiling)):
            if knob.harder is Harder.UP and ceiling is not None and self.limit <= ceiling:
                return word
        return "end of the grid"

    @property
    def stand_words(self) -> str:
        """Where to stand, and how sure that is."""
        if self.judged is None:
            return ""
        edge, stand = self.judged.edge, self.judged.stand
        if stand is None:
            return f"no value is {edge.tolerance.confidence:.0%} sure of at most {edge.tolerance.in_use()}"
        here = self.knob.show(self.knob.at_strain(stand))
        return f"back off to {here}: {self.sure_words(stand)}"

    def sure_words(self, strain: int) -> str:
        """How sure a strain is by this line, under which load, and which loads that are asked for say nothing of it."""
        if self.judged is None:
            return ""
        sure, kind = self.judged.least_sure(strain)
        rest = f"; {', '.join(self.judged.not_tried)} not tried beyond it" if self.judged.not_tried else ""
        return f"{show_sure(sure)} sure of at most {self.judged.edge.tolerance.in_use()} under {kind}{rest}"

    def rests_words(self, index: int) -> str:
        """What one trial adds: where the edge would lie without it."""
        without = self.judged.without(index) if self.judged and self.points[index].outcome else None
        trial = f"trial {self.points[index].number}"
        if without is None:
            return f"{trial} says nothing of this edge"
        stand = without.hardest(without.tolerance.confidence)
        ends = self.knob.ends
        at = self.knob.show(self.knob.at_strain(max(ends[0], min(ends[1], stand))))
        return f"without {trial} the edge would lie at {_stretch_words(self.knob, without)}, and {at} be advised"

    @property
    def cost_words(self) -> str:
        """What it has cost so far, and about what it will."""
        come = "" if self.to_come_h is None else f", about {self.to_come_h:.1f} h to come"
        return f"{self.spent_h:.1f} h spent{come}" if self.points or come else ""

    def interval_text(self) -> str:
        """The interval of the edge in the knob's unit, like ``6050 to 6310 MT/s``."""
        return "" if self.edge is None else _stretch_words(self.knob, self.edge)

    def strand_texts(self) -> tuple[str, ...]:
        """Of each other load: its name, bracket and edge."""
        return tuple(
            f"{one.load}: {one.bracket.show(self.knob)}"
            + (f" · edge {_stretch_words(self.knob, one.edge)} ({one.edge.confidence:.0%})" if one.edge else "")
            + self._seen_alone(one)
            for one in self.series
        )

    def _seen_alone(self, other: LoadSeries) -> str:
        """Whether one of the two kinds sees an edge that the other does not."""
        if self.edge is None or other.edge is None:
            return ""
        if other.edge.high < self.edge.low:
            return f": {other.load} alone sees it"
        return f": {self.kind} alone sees the nearer one" if self.edge.high < other.edge.low else ""


def _stretch_words(knob: Knob, edge: EdgeEstimate) -> str:
    """Where an edge lies, and whether it may be where nothing can be tried."""
    return knob.show_stretch(edge.low, edge.high) + (" or beyond" if edge.beyond > HARDLY else "")


def _points(knob: Knob, trials: Sequence[Trial], kind: LoadKind | None) -> list[Point]:
    """Trials in order, each with the bracket as it stood then."""
    points: list[Point] = []
    bracketing = Bracketing(knob)
    for trial in trials:
        value = trial.setpoint[knob.name]
        if isinstance(value, Auto):
            continue
        apart = kind is not None and kind not in trial.plan.kinds
        counts = not apart or trial.outcome is Outcome.NO_BOOT
        bracket = bracketing.take(value, trial.verdict) if counts else bracketing.now
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
                " ".join(trial.plan.kinds),
                apart,
                value,
                next((knob.show(one.before) for one in trial.otherwise if one.knob == knob.name), ""),
            )
        )
    return points


def climb_picture(
    rig: str,
    knob: Knob,
    stock: Value,
    start: int,
    limit: int,
    trials: Sequence[Trial],
    judged: Judgement | None,
    standing: Proposal | Advice | None,
    load: str,
    kind: LoadKind | None = None,
    series: Sequence[LoadSeries] = (),
    base: Setpoint | None = None,
    spent_h: float = 0.0,
) -> ClimbPicture:
    """Build the picture from a climb's trials, oldest first; those with the knob on auto are not on it.

    Bracket and edge are about one ``kind`` of load (None: any); trials under others are shown, and tell of boots only.
    """
    points = _points(knob, trials, kind)
    under_way = bool(trials) and trials[-1].open
    return ClimbPicture(
        rig=rig,
        knob=knob,
        stock=stock,
        start=start,
        limit=limit,
        points=tuple(points),
        bracket=points[-1].bracket if points else Bracket(None, None),
        judged=judged,
        ghost=standing.setpoint.number(knob.name) if isinstance(standing, Proposal) and not under_way else None,
        advice=standing if isinstance(standing, Advice) else None,
        load=load,
        kind=kind,
        base=base,
        series=tuple(series),
        spent_h=spent_h,
        to_come_h=standing.to_come_h if isinstance(standing, Proposal) else None,
    )
