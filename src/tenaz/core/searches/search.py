"""A search: a strategy at work on some knobs of a rig, as a plan, as proposals, and as what comes out."""

from collections.abc import Generator, Mapping, Sequence
from dataclasses import dataclass, field, replace

from tenaz.core.base.loop import Move, Station
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.knobs.clock_tree import Platform
from tenaz.core.knobs.knob import Harder, Knob
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.rigs.rig import OWN, BenchKind, Purpose
from tenaz.core.trials.costs import Costs
from tenaz.core.trials.facts import NO_FACTS, LoadFacts
from tenaz.core.trials.trial import Trial


@dataclass(frozen=True, slots=True)
class Proposal:
    """What to try next: the whole setpoint and the load, why, and what it will cost, in hours; ``to_come_h`` is about
    what the search will still cost, this trial included.
    """

    setpoint: Setpoint
    plan: LoadPlan
    reason: str
    cost_h: float = 0.0
    to_come_h: float = 0.0


@dataclass(frozen=True, slots=True)
class Advice:
    """Where a finished search says to stand (None: nowhere it may go), and why."""

    setpoint: Setpoint | None
    reason: str


@dataclass(frozen=True, slots=True)
class TrialFacts:
    """A trial as a strategy sees it: what was in force, what it counts as, its times, its heat, its boots."""

    setpoint: Setpoint
    plan: LoadPlan
    verdict: Verdict
    elapsed_s: float = 0.0
    failed_after_s: float | None = None
    booted: bool = True
    boots: int = 1
    retrained: bool = False
    facts: LoadFacts = NO_FACTS
    outcome: Outcome | None = None
    beside: bool = False
    """Made before the search, or beside it: it tells as much, and costs the search nothing."""
    told: tuple[str, ...] = ()
    """Knobs whose values nothing read back: what stands there was only said."""

    @property
    def kinds(self) -> tuple[LoadKind, ...]:
        """The kinds of load that ran."""
        return self.plan.kinds

    @property
    def clean(self) -> bool:
        """Whether it ran without a failure, to its end or until it was ended."""
        ran = self.outcome.ran_clean if self.outcome is not None else self.verdict is Verdict.PASS
        return ran and self.elapsed_s > 0

    def clean_under(self, kind: LoadKind) -> bool:
        """The same for one kind of load; one that verified nothing has shown nothing."""
        return self.clean and kind in self.kinds and self.facts.shows(kind)


NIGHT, FIELD, UNPICK = "night", "field", "unpick"
"""Strategies that have orders of their own; what tells them from others are their traits."""
USUAL_STRATEGY = "adapt"
"""How a climb searches where nothing else was set or chosen."""


def facts_of(trial: Trial, search_id: int | None = None) -> TrialFacts:
    """A trial's facts for a strategy; for one search where that is named."""
    moves = [fact.move for fact in trial.stations if fact.station is Station.BOOT]
    return TrialFacts(
        trial.setpoint,
        trial.plan,
        trial.verdict,
        trial.elapsed_s,
        trial.failed_after_s,
        booted=trial.outcome is not Outcome.NO_BOOT,
        boots=max(1, len(moves)),
        retrained=Move.CAME_UP_RETRAINED in moves,
        facts=trial.facts,
        outcome=trial.outcome,
        beside=search_id is not None and trial.search_id != search_id,
        told=tuple(name for source, names in trial.sources if not source.is_read for name in names),
    )


Strategy = Generator[Proposal | Advice, Sequence[TrialFacts], None]
"""Yields a proposal, or advice when it is done, and receives the facts of one or of many trials, in order; it never
ends, since a later trial may overturn its advice. Keeps no clock and does nothing itself.
"""


@dataclass(frozen=True, slots=True)
class SearchPlan:
    """One search: a strategy by name with its parameters, the knobs that it moves, from ``base``, each trial under
    ``load`` where the strategy proposes no other. ``reason`` lets it pass advised ceilings.
    """

    id: int
    rig: str
    bench: BenchKind
    knobs: tuple[str, ...]
    base: Setpoint
    load: LoadPlan
    strategy: str = USUAL_STRATEGY
    parameters: Mapping[str, object] = field(default_factory=dict)
    reason: str = ""
    ended: bool = False
    ended_why: str = ""
    """What it came to, in words; empty as long as it goes on."""

    @property
    def knob(self) -> str:
        """The knob that it climbs along; the first where there are several."""
        return self.knobs[0]

    def on_rig_of(self, stock: Setpoint) -> "SearchPlan":
        """The same search on a rig of which more is known by now than when it began."""
        base = self.base.knowing(stock)
        return self if base is self.base else replace(self, base=base)

    def on_line(self, setpoint: Setpoint) -> bool:
        """Whether a setpoint differs from the base in nothing but what the search moves."""
        return all(change.knob in self.knobs for change in setpoint.changes_from(self.base))


@dataclass(frozen=True, slots=True)
class SearchGround:
    """What a strategy works on: its knobs in full with the hardest value each may be moved to, the base, the load, what
    trials cost there, and what the rig is for.
    """

    knobs: tuple[Knob, ...]
    limits: tuple[int, ...]
    base: Setpoint
    load: LoadPlan
    costs: Costs
    purpose: Purpose = OWN
    stock: int | None = None
    """The strain of the first knob that the rig came with; None where that is no number."""
    family: Family = Family.DDR5
    """The rig's generation of memory: which minima its timings have of each other."""
    platform: Platform | None = None
    """Its clocks, where they are known: which rates run in step."""
    leap: int | None = None
    """So many grid steps past what held a trial may be at most; None: as many as it likes."""
    experience: str = ""
    """What past rigs say of the first knob's edge, as it was learnt; empty: what is usual is believed."""

    @property
    def knob(self) -> Knob:
        """The first of its knobs."""
        return self.knobs[0]

    def at(self, strain: int) -> Setpoint:
        """The base with the first knob at a strain."""
        return self.base.replacing(self.knob.name, self.knob.at_strain(strain))


def search_limit(knob: Knob, reason: str) -> int:
    """How far a search may go by itself: the advised ceiling, with a typed reason the hard one, or the grid's end."""
    if knob.harder is Harder.DOWN:
        return knob.grid.first
    ceiling = knob.hard_ceiling if reason.strip() else knob.advised_ceiling
    return knob.grid.last if ceiling is None else max(v for v in knob.grid.values() if v <= ceiling)
