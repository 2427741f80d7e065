"""A leg along one knob: its edge is searched as long as an hour gains enough; it stands where the purpose allows."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from itertools import pairwise

from tenaz.core.base.amounts import to_digits
from tenaz.core.base.outcomes import Outcome
from tenaz.core.knobs.knob import Grid, Harder, Knob
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.rigs.rig import Purpose
from tenaz.core.searches.search import Proposal, SearchGround, TrialFacts
from tenaz.margins.looking_ahead import Rise, rises
from tenaz.margins.priors import EdgePrior
from tenaz.search.believing import Belief
from tenaz.search.night.legs import WEIGHED_COSTS, Ended, proposed, spent_h
from tenaz.search.owing import lasting

HOURS = (10 / 60, 24 / 60, 1.0)
MOST_VALUES = 61
"""A knob of more values is gone along in coarser steps."""
SATURATED = 0.35
"""A load that got faster by less than this part of what the knob promised: something else holds it back."""
LEAST_RISE = 0.002
LEAST_LOOKS, HOPELESS = 2, 0.5


@dataclass(frozen=True, slots=True)
class EdgePlan:
    """What a leg along a knob goes by: the knob within the values that it may take, the setpoint at each, the usual
    load, the purpose with this leg's part of what is tolerated, hours, and the score's rise that an hour must bring.
    ``pays_by_rate``: the load's own rate tells whether a step paid.
    """

    knob: Knob
    base: Setpoint
    at: Callable[[int], Setpoint]
    load: LoadPlan
    purpose: Purpose
    family: Family
    budget_h: float
    least_per_h: float
    worth: Callable[[Setpoint, Setpoint], float]
    pays_by_rate: bool = False
    least_rate: float = 0.0
    """What the load reached before the leg; a value that is not faster is not worth it."""
    vouched: bool = True
    """Whether the value where it begins is known to be tolerated."""
    prior: EdgePrior | None = None
    stake: float = 0.0
    """What standing at the value where it begins is worth, where that is not vouched for."""


class EdgeLeg:
    """Along one knob."""

    def __init__(self, plan: EdgePlan) -> None:
        self._plan = plan
        knob, begin = plan.knob, plan.knob.ends[0]
        limit = knob.at_strain(knob.ends[1])
        ground = SearchGround(
            (knob,),
            (limit,),
            plan.base,
            plan.load,
            WEIGHED_COSTS,
            plan.purpose,
            begin if plan.vouched else None,
            plan.family,
        )
        self._belief, self._spent_h = Belief(ground, plan.prior), 0.0
        self._most = plan.knob.ends[1]
        """Harder values got too hot: they are not asked again."""
        self._trials, self._lost = 0, set[int]()
        """Strains that the rig makes something else of are lost."""
        self._setpoints: dict[int, Setpoint] = {}
        self._rates: dict[int, float] = {}

    @property
    def name(self) -> str:
        """The knob's label."""
        return self._plan.knob.label

    @property
    def base(self) -> Setpoint:
        """Where it begins."""
        return self._plan.base

    @property
    def begin_tolerated(self) -> bool:
        """Whether the value where it begins may be stood at."""
        return self._plan.vouched or self._belief.to_stand_at(self._belief.edge()) is not None

    @property
    def hopeless(self) -> bool:
        """Whether it is more likely than not that not even the value where it begins may be stood at: to be sure of
        either takes many trials, and what is a step easier asks for few.
        """
        if self._plan.vouched or self._trials < LEAST_LOOKS:
            return False
        return self._belief.edge().tolerated(self._plan.knob.ends[0]) < HOPELESS

    def belongs(self, one: TrialFacts) -> bool:
        """On its line, the values that go along with it among it."""
        value = one.setpoint[self._plan.knob.name]
        return isinstance(value, int) and value in self._plan.knob.grid and one.setpoint == self._at(value)

    def take(self, one: TrialFacts) -> None:
        """Learn of a trial on its line."""
        self._belief.take([one])
        self._spent_h += spent_h(one)
        self._trials += 1
        if one.outcome is Outcome.TOO_HOT:
            self._most = min(self._most, self._plan.knob.strain(one.setpoint.number(self._plan.knob.name)) - 1)
        fact = one.facts.of(self._plan.load.kind)
        if fact is not None and fact.rate > 0 and one.booted:
            strain = self._plan.knob.strain(one.setpoint.number(self._plan.knob.name))
            self._rates[strain] = max(fact.rate, self._rates.get(strain, 0.0))

    def not_taken(self, asked: Setpoint, got: Setpoint) -> None:  # noqa: ARG002 - as every leg is told
        """That value cannot be had."""
        self._lost.add(self._plan.knob.strain(asked.number(self._plan.knob.name)))

    def standing(self) -> Proposal | Ended:
        """Where an hour gains most; the end where that is too little, or the hours are over."""
        plan, belief, knob = self._plan, self._belief, self._plan.knob
        most = max(knob.ends[0], min(self._most, self._held_back()))
        strains = [one for one in belief.strains() if one <= most and one not in self._lost] or [knob.ends[0]]
        odd = belief.contradiction()
        if odd is not None and self._spent_h < plan.budget_h:
            value = knob.at_strain(int(odd.strain))
            reason = f"{knob.show(value)} failed, which had a chance of {odd.chance:.1%}: once more before it counts"
            return proposed(self._at(value), lasting(plan.load, HOURS[0]), reason)
        edge = belief.edge()
        advised = belief.to_stand_at(edge)
        stand = min(most, knob.ends[0] if advised is None else advised)
        while stand in self._lost and stand > knob.ends[0]:
            stand -= 1
        found = rises(belief.posterior, belief.kinds[0], plan.purpose.tolerance, strains, HOURS, WEIGHED_COSTS)
        best = max(found, key=lambda one: (to_digits(one.steps / one.cost_h, 5), -one.strain))
        gain = self._worth_of_steps(stand, min(best.steps, most - stand))
        if advised is None and not plan.vouched:
            short = max(1.0, float(knob.ends[0] - edge.hardest(plan.purpose.tolerance.confidence)))
            gain += plan.stake * min(1.0, best.steps / short)
        per_h = gain / best.cost_h
        if most <= stand:
            return self._ended(stand, "as far as it may go, or as anything is gained")
        if per_h < plan.least_per_h:
            gains = f"would gain {per_h:.2%}, less than {plan.least_per_h:.2%}" if gain > 0 else "gains nothing"
            return self._ended(stand, f"another hour {gains}")
        if self._spent_h + best.cost_h > plan.budget_h:
            over = "are over" if self._spent_h else f"are too short for the {best.cost_h:.1f} h that it would take"
            return self._ended(stand, f"its {plan.budget_h:.1f} h {over}")
        at, load = self._at(knob.at_strain(best.strain)), lasting(plan.load, best.hours)
        return proposed(at, load, self._reason(best, gain), best.cost_h)

    def _at(self, value: int) -> Setpoint:
        if value not in self._setpoints:
            self._setpoints[value] = self._plan.at(value)
        return self._setpoints[value]

    def _worth_of_steps(self, stand: int, steps: float) -> float:
        """What so many steps from where it could stand are worth; of a part of a step, that part. Where clocks fall out
        of step the first one may cost, and those behind it pay.
        """
        knob, whole = self._plan.knob, max(1, round(steps))
        to = min(stand + whole, knob.ends[1])
        if to <= stand:
            return 0.0
        return steps / (to - stand) * self._plan.worth(self._at(knob.at_strain(stand)), self._at(knob.at_strain(to)))

    def _held_back(self) -> int:
        """The hardest strain at which anything can still be gained, by the rates that the load itself reached."""
        knob, rates = self._plan.knob, sorted(self._rates.items())
        if not self._plan.pays_by_rate:
            return knob.ends[1]
        for (easier, slow), (harder, fast) in pairwise(rates):
            promised = knob.at_strain(harder) / knob.at_strain(easier)
            if fast / slow < 1 + SATURATED * (promised - 1):
                reached = knob.at_strain(easier) * max(1.0, fast / slow)
                return next(s for s in range(easier, harder + 1) if knob.at_strain(s) >= reached or s == harder)
        return knob.ends[1]

    def _ended(self, stand: int, why: str) -> Ended:
        """Where it stands: where most is gained up to there; back where it began when that is not faster than what was
        there before.
        """
        plan, knob = self._plan, self._plan.knob
        came = self._at(knob.at_strain(knob.ends[0]))
        tolerated = [one for one in range(stand, knob.ends[0] - 1, -1) if one not in self._lost] or [stand]
        stand = max(tolerated, key=lambda one: float(f"{plan.worth(came, self._at(knob.at_strain(one))):.6f}"))
        if self._plan.least_rate and self._rates:
            nearest = min(self._rates, key=lambda strain: abs(strain - stand))
            reached = self._rates[nearest] * knob.at_strain(stand) / knob.at_strain(nearest)
            if reached < self._plan.least_rate * (1 + LEAST_RISE):
                return Ended(self._plan.base, f"{knob.show(knob.at_strain(stand))} is not faster than it was before")
        return Ended(self._at(knob.at_strain(stand)), why)

    def _reason(self, best: Rise, gain: float) -> str:
        here = self._plan.knob.show(self._plan.knob.at_strain(best.strain))
        chances = f"starts {1 - best.no_start:.0%}, fails {best.fails:.0%}"
        return f"{here}: expected to gain {gain:.2%} of the score for {best.cost_h:.1f} h; {chances}"


def narrowed(knob: Knob, start: int, limit: int, by_parts: bool = False) -> Knob:
    """The knob from a value to its hardest one, in at most so many steps; ``by_parts``: each the same part longer."""
    begin, end = sorted((knob.grid.index(start), knob.grid.index(limit)))
    values = knob.grid.values()[begin : end + 1]
    if by_parts:
        ratio = (values[-1] / values[0]) ** (1 / (MOST_VALUES - 1))
        near = {knob.grid.nearest(start * (ratio if limit > start else 1 / ratio) ** k)[0] for k in range(MOST_VALUES)}
        return replace(knob, grid=Grid.of(sorted(near & set(values))))
    stride = -(-(len(values) - 1) // (MOST_VALUES - 1)) or 1
    kept = values[::stride] if knob.harder is Harder.UP else values[::-1][::stride]
    return replace(knob, grid=Grid.of(sorted(kept)))
