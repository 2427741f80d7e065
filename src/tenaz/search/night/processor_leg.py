"""The leg of the cores: how fast they may run is found by how much less voltage they would hold there.

A ratio's own edge is hard to learn: it is a few coarse steps away, and limits of power hide it. Voltage comes in fine
steps, and how steeply failures come with it is known. So the highest ratio at which the load still gets faster is
taken, the offset's edge searched there, and the ratio lowered by one as long as not even the offset that it began at is
tolerated.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace

from tenaz.core.base.outcomes import Verdict
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.names import CORE_OFFSET
from tenaz.core.knobs.setpoint import AUTO, Setpoint, Value
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.searches.search import Proposal, TrialFacts
from tenaz.search.night.edge_leg import HOURS, LEAST_RISE, EdgeLeg
from tenaz.search.night.legs import Ended, proposed, spent_h
from tenaz.search.owing import lasting

AFTER_A_FAILURE = 2
"""So many ratios lower is looked next."""
LEAST_H = 0.4
"""With less left no further ratio is looked at."""


@dataclass(frozen=True, slots=True)
class ProcessorPlan:
    """The ratio with its values from where it begins to where it may go; ``offset_leg`` searches the offset's edge at a
    setpoint, whose beginning may be ``vouched`` for, in so many hours; ``came_rate`` is what the load reached before.
    """

    ratio: Knob
    base: Setpoint
    load: LoadPlan
    offset_leg: Callable[[Setpoint, bool, float], EdgeLeg | None]
    came_rate: float
    budget_h: float


class ProcessorLeg:
    """Ratio and offset together."""

    name = "cores"

    def __init__(self, plan: ProcessorPlan) -> None:
        self._plan, self.base = plan, plan.base
        values = plan.ratio.grid.values()
        self._start, self._top = values[0], values[-1]
        self._held: dict[int, float] = {}
        self._failed: set[int] = set()
        self._seen: list[TrialFacts] = []
        self._ratio: Value | None = None
        """At which the offset is searched; None: not yet known."""
        self._inner: EdgeLeg | None = None

    def _at(self, ratio: Value) -> Setpoint:
        return self.base.replacing(self._plan.ratio.name, ratio)

    def belongs(self, one: TrialFacts) -> bool:
        """Whether only ratio and offset differ from where it began."""
        mine = {self._plan.ratio.name, CORE_OFFSET}
        return all(change.knob in mine for change in one.setpoint.changes_from(self.base))

    def take(self, one: TrialFacts) -> None:
        """Learn how fast it runs, and whether it holds."""
        self._seen.append(one)
        if self._inner is not None and self._inner.belongs(one):
            self._inner.take(one)
        ratio = one.setpoint[self._plan.ratio.name]
        if not isinstance(ratio, int) or one.setpoint != self._at(ratio) or one.verdict is Verdict.VOID:
            return
        if one.verdict is Verdict.FAIL:
            self._failed.add(ratio)
            self._top = min(self._top, max(self._start, ratio - AFTER_A_FAILURE))
            return
        fact = one.facts.of(self._plan.load.kind)
        if fact is not None and fact.rate > 0:
            self._held[ratio] = max(fact.rate, self._held.get(ratio, 0.0))

    def not_taken(self, asked: Setpoint, got: Setpoint) -> None:
        """A ratio that the processor does not take, or an offset."""
        if self._inner is not None:
            self._inner.not_taken(asked, got)
        else:
            self._ratio = self.base[self._plan.ratio.name]
            self._inner = self._plan.offset_leg(self.base, True, self._plan.budget_h)

    def standing(self) -> Proposal | Ended:
        """How fast it runs slowly and fast first; then the offset."""
        if self._ratio is None:
            for ratio in (self._start, self._top):
                if ratio not in self._held and ratio not in self._failed and not self._unknown:
                    what = "what the load reaches there tells what a step is worth, and what limits the cores"
                    return proposed(self._at(ratio), lasting(self._plan.load, HOURS[0]), f"{ratio} ×: {what}")
            self._search_at(self._fastest())
        while True:
            if self._inner is None:
                return Ended(self._at(self._ratio if self._ratio is not None else AUTO), "there is no offset to be had")
            if not isinstance(self._ratio, int) or self._ratio == self.base[self._plan.ratio.name]:
                return self._inner.standing()
            if not self._inner.hopeless:
                stands = self._inner.standing()
                if isinstance(stands, Proposal):
                    return stands
                if self._inner.begin_tolerated:
                    return replace(stands, faster=self._faster(self._ratio))
            self._search_at(self._ratio - 1)

    @property
    def _unknown(self) -> bool:
        """Whether nobody can say what the load reaches."""
        tried = [one for one in self._seen if isinstance(one.setpoint[self._plan.ratio.name], int)]
        return any(one.verdict is Verdict.PASS for one in tried) and not self._held

    def _fastest(self) -> int:
        """The lowest ratio that is about as fast as the highest that holds."""
        if not self._held:
            return self._start
        slow, top = self._held.get(self._start, 0.0), max(self._held)
        if not slow or top == self._start:
            return top
        reached = self._start * self._held[top] / slow
        return min(top, next((v for v in self._plan.ratio.grid.values() if v >= reached - 0.5), top))

    def _faster(self, ratio: int) -> float:
        """By which part the load was seen to run faster at a ratio than as it came."""
        slow = self._held.get(self._start, 0.0)
        if not slow or not self._plan.came_rate or isinstance(self.base[self._plan.ratio.name], int):
            return 0.0
        return min(slow * ratio / self._start, max(self._held.values())) / self._plan.came_rate - 1

    def _search_at(self, ratio: int) -> None:
        """Search the offset at a ratio, or as it came where that is not faster."""
        slow = self._held.get(self._start, 0.0)
        faster = slow * ratio / self._start > self._plan.came_rate * (1 + LEAST_RISE)
        came = self.base[self._plan.ratio.name]
        left_h = self._plan.budget_h - sum(spent_h(one) for one in self._seen)
        self._ratio = ratio if faster and ratio > self._start and left_h >= LEAST_H else came
        vouched = self._ratio == came
        self._inner = self._plan.offset_leg(self._at(self._ratio), vouched, left_h)
        for one in self._seen:
            if self._inner is not None and self._inner.belongs(one):
                self._inner.take(one)
