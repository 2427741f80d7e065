"""``field``: two knobs at once: which pairs of values hold, with as few trials as will tell."""

import re
from dataclasses import dataclass
from functools import cached_property

from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.setpoint import Auto, Setpoint
from tenaz.core.searches.search import FIELD, Advice, Proposal, SearchGround, Strategy, TrialFacts
from tenaz.search.boundaries import Boundary, Tried
from tenaz.search.strategy_kinds import StrategyKind

MOST_CELLS = 24
LEAST_CELLS = 3
LEAST_OF_LOAD = 0.5
"""A pass that was shorter than this part of the load says nothing."""
LEAST_TOLD = 0.02


@dataclass(frozen=True, slots=True)
class Parameters:
    """``over`` is the stretch of each knob, like ``data_rate_mts=4800..6400 t_cl_nck=40..30`` (empty: from the base on,
    as far as it may go). ``window``: the second knob fails on both sides, as voltages do. It ends when 95 % of the
    cells are right as surely as ``sure``.
    """

    over: str = ""
    window: bool = False
    sure: float = 0.98

    def __post_init__(self) -> None:
        stretches(self.over)
        if not 0.5 <= self.sure < 1.0:
            raise Refused(f"a field cannot be {self.sure:.0%} sure: give 50 % to below 100 %.")


def stretches(text: str) -> dict[str, tuple[int, int]]:
    """The stretch of each knob that is named.

    Raises:
        Refused: a part that is no name with two numbers.
    """
    found = {}
    for part in text.split():
        read = re.fullmatch(r"([\w-]+)=(-?\d+)\.\.(-?\d+)", part)
        if read is None:
            raise Refused(f"field: {part[:40]!r} is no stretch; name it like t_cl_nck=40..30.")
        found[read[1]] = int(read[2]), int(read[3])
    return found


@dataclass(frozen=True)
class FieldPlan:
    """The cells of a field: two knobs with the strains that are looked at, from easy to hard."""

    base: Setpoint
    knobs: tuple[Knob, Knob]
    strains: tuple[tuple[int, ...], tuple[int, ...]]

    @property
    def shape(self) -> tuple[int, int]:
        """Columns and rows."""
        return len(self.strains[0]), len(self.strains[1])

    @cached_property
    def values(self) -> tuple[tuple[int, ...], tuple[int, ...]]:
        """The values of columns and rows."""
        first, second = (
            tuple(knob.at_strain(s) for s in strains) for knob, strains in zip(self.knobs, self.strains, strict=True)
        )
        return first, second

    def at(self, column: int, row: int) -> Setpoint:
        """The setpoint of a cell."""
        values = self.values[0][column], self.values[1][row]
        return self.base.replacing(self.knobs[0].name, values[0]).replacing(self.knobs[1].name, values[1])

    def cell(self, setpoint: Setpoint) -> tuple[int, int] | None:
        """Where a setpoint lies; None: in no cell that is looked at."""
        places = []
        for knob, values in zip(self.knobs, self.values, strict=True):
            value = setpoint[knob.name]
            if isinstance(value, Auto) or value not in values:
                return None
            places.append(values.index(value))
        return places[0], places[1]


def field_plan(ground: SearchGround, over: str, window: bool) -> FieldPlan:
    """The cells of a field.

    Raises:
        Refused: not two knobs, or a stretch of too few values.
    """
    if len(ground.knobs) != 2:
        raise Refused(f"a field has two knobs; {len(ground.knobs)} were named.")
    asked = stretches(over)
    strains = []
    for place, (knob, limit) in enumerate(zip(ground.knobs, ground.limits, strict=True)):
        easy, hard = sorted(knob.strain(value) for value in _ends(ground, knob, limit, asked, window and place == 1))
        step = -(-(hard - easy + 1) // MOST_CELLS)
        found = tuple(range(easy, hard + 1, step))
        if len(found) < LEAST_CELLS:
            raise Refused(
                f"{knob.label}: {len(found)} values are too few for a field; name a longer stretch, like "
                f"{knob.name}={knob.grid.first}..{knob.grid.last}."
            )
        strains.append(found)
    return FieldPlan(ground.base, (ground.knobs[0], ground.knobs[1]), (strains[0], strains[1]))


def _ends(
    ground: SearchGround, knob: Knob, limit: int, asked: dict[str, tuple[int, int]], whole: bool
) -> tuple[int, int]:
    if knob.name not in asked:
        start = ground.base.number(knob.name)
        return (knob.at_strain(knob.ends[0]), knob.at_strain(knob.ends[1])) if whole else (start, limit)
    for value in asked[knob.name]:
        if value not in knob.grid:
            near = " and ".join(str(one) for one in knob.grid.nearest(value))
            raise Refused(f"{knob.label} {knob.show(value)} is not on its grid; nearest: {near}.")
        if knob.strain(value) > knob.strain(limit):
            raise Refused(f"{knob.label} may go to {knob.show(limit)}, not to {knob.show(value)}, without a reason.")
    return asked[knob.name]


def tried_in(plan: FieldPlan, ground: SearchGround, seen: TrialFacts) -> Tried | None:
    """A trial as the boundary sees it; None where it says nothing of the field."""
    cell = plan.cell(seen.setpoint)
    if cell is None or seen.verdict is Verdict.VOID:
        return None
    asked_s = ground.load.duration_s or seen.elapsed_s or 1.0
    if seen.verdict is Verdict.FAIL:
        after = 0.0 if seen.outcome is Outcome.NO_BOOT else (seen.failed_after_s or seen.elapsed_s) / asked_s
        return Tried(*cell, True, after)
    if ground.load.kind not in seen.kinds or seen.elapsed_s < LEAST_OF_LOAD * asked_s:
        return None
    return Tried(*cell, False, min(1.0, seen.elapsed_s / asked_s))


def search_field(ground: SearchGround, parameters: Parameters) -> Strategy:
    """Try the cell that tells most of the boundary, until most cells are surely right."""
    plan = field_plan(ground, parameters.over, parameters.window)
    belief = Boundary(*plan.shape, window=parameters.window)
    trials = 0
    while True:
        seen = yield _standing(plan, ground, belief, parameters, trials)
        for one in seen:
            tried = tried_in(plan, ground, one)
            if tried is not None:
                belief.take(tried)
                trials += 1


def _standing(
    plan: FieldPlan, ground: SearchGround, belief: Boundary, parameters: Parameters, trials: int
) -> Proposal | Advice:
    sure = belief.sure() if trials else 0.0
    holds = belief.holds
    told = belief.information()
    column, row = divmod(int(told.argmax()), plan.shape[1])
    most = float(told[column, row])
    if sure >= parameters.sure or most < LEAST_TOLD:
        cells = int((holds >= parameters.sure).sum())
        words = f"{trials} trials tell {plan.shape[0]} × {plan.shape[1]} cells; {cells} of them hold for sure"
        return Advice(
            None, f"{words}; {sure:.0%} sure that 95 % are right; a failing cell passes {belief.false_pass:.0%}"
        )
    cost_h = ground.costs.trial_h(ground.load)
    names = ", ".join(
        f"{knob.label} {knob.show(values[at])}"
        for knob, values, at in zip(plan.knobs, plan.values, (column, row), strict=True)
    )
    reason = (
        f"{names}: {holds[column, row]:.0%} holds; of all pairs it tells most of the boundary; {sure:.0%} sure so far"
    )
    return Proposal(plan.at(column, row), ground.load, reason, cost_h, cost_h * max(1.0, USUAL_TRIALS - trials))


USUAL_TRIALS = 22

STRATEGY = StrategyKind(
    FIELD, "two knobs: which pairs of values hold", Parameters, search_field, 2, climbs=False, maps=True
)
