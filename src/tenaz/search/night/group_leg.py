"""A leg of many timings together: each some tenths of its time shorter, and who fails is found and left behind.

Most of them hold; so one trial shows many. A group that fails is unpicked among those that moved last; whoever it was
stays where it held. In the end each stands a good tenth of its time easier than what was shown: failures of such
timings die out within that.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from tenaz.core.base.outcomes import Verdict
from tenaz.core.knobs.knob import Harder, Knob
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.knobs.timings.minima import mended
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.searches.search import Proposal, TrialFacts
from tenaz.search.culprits import Culprits
from tenaz.search.night.legs import USUAL_COSTS, Ended, proposed, spent_h

A_LEVEL = 0.1
"""Part of the time that is taken off at a time."""
A_GUARD = 0.15
"""Part of the time with which it began that is kept as a guard in the end: of such timings failures grow e-fold over
one to two hundredths, so that it is 8 to 15 e-folds.
"""
FIRST_LEVEL, MOST_LEVELS = 3, 5
"""Three tenths nearly every timing of every rig has to give; and half of it nobody has."""
FALSE_PASS = 0.1
SURE = 0.9
MOST_UNPICKED = 12
"""Trials in which a level is unpicked; where so many do not tell, too many fail at once, and all of them stay."""
UNPICKED = 10
"""About so many trials a level costs in which some fail."""
LEAST_OF_LOAD = 0.5
LEAST_TOLD = 0.05


@dataclass(frozen=True, slots=True)
class GroupPlan:
    """The timings, from where, under which load, and what an hour must bring."""

    name: str
    knobs: tuple[Knob, ...]
    base: Setpoint
    load: LoadPlan
    family: Family
    budget_h: float
    least_per_h: float
    worth: Callable[[Setpoint, Setpoint], float]


class GroupLeg:
    """All of them, level by level."""

    def __init__(self, plan: GroupPlan) -> None:
        self._plan, self.name, self.base = plan, plan.name, plan.base
        self._knobs = {knob.name: knob for knob in plan.knobs}
        self._held = dict.fromkeys(self._knobs, 0)
        """The hardest level of each at which it held."""
        self._left: dict[str, str] = {}
        """Who goes no further, and why."""
        self._level = FIRST_LEVEL
        self._belief: Culprits | None = None
        self._spent_h = 0.0
        self._moving: tuple[str, ...] = ()
        self._unpicked = 0
        self._begin_level()

    # -- levels ----------------------------------------

    def _value(self, name: str, level: int) -> int:
        """A timing with so many tenths taken off, on its grid and not below its least."""
        base, knob = self.base.number(name), self._knobs[name]
        wanted = base * (1 - A_LEVEL * level)
        return min(base, next((v for v in knob.grid.values() if v >= wanted - 1e-9), base))

    def _at(self, levels: Mapping[str, int]) -> Setpoint:
        return self._set({name: self._value(name, level) for name, level in levels.items()})

    def _set(self, values: Mapping[str, int]) -> Setpoint:
        """The base with these timings, each at least what the standard and the others ask of it."""
        numbers = mended({**self.base.numbers(), **values}, self._plan.family)
        found = self.base
        for name, knob in self._knobs.items():
            value = numbers[name]
            if value != self.base[name]:
                fits = value if value in knob.grid else knob.grid.nearest(value)[-1]
                found = found.replacing(name, min(fits, self.base.number(name)))
        return found

    def _begin_level(self) -> None:
        """Who moves at this level; who cannot goes no further."""
        while self._level <= MOST_LEVELS:
            before, after = self._at(self._held), self._at(self._whole())
            moving = tuple(name for name in self._knobs if name not in self._left and before[name] != after[name])
            if moving:
                self._moving, self._belief, self._unpicked = moving, None, 0
                return
            for name in self._knobs:
                if name not in self._left:
                    self._held[name] = self._level
            self._level += 1
        self._moving = ()

    def _whole(self) -> dict[str, int]:
        return {name: self._held[name] if name in self._left else self._level for name in self._knobs}

    def _part(self, held: tuple[bool, ...]) -> Setpoint:
        """The level with some of those that move at it."""
        levels = dict(self._held)
        levels.update({name: self._level for name, moved in zip(self._moving, held, strict=True) if moved})
        return self._at(levels)

    # -- learning ----------------------------------------

    def belongs(self, one: TrialFacts) -> bool:
        """Whether only these timings differ from where it began."""
        return all(change.knob in self._knobs for change in one.setpoint.changes_from(self.base))

    def take(self, one: TrialFacts) -> None:
        """Learn of the whole level, or of a part of it."""
        self._spent_h += spent_h(one)
        if not self._moving or not self._tells(one):
            return
        failed = one.verdict is Verdict.FAIL
        if one.setpoint == self._at(self._whole()) and not failed:
            self._next_level()
            return
        place = self._place(one.setpoint)
        if place is None:
            return
        if self._belief is None:
            self._belief = Culprits(len(self._moving), FALSE_PASS)
        self._belief.take(place, failed)
        self._unpicked += 1
        self._leave(self._who_fails(self._belief, failed))

    def _who_fails(self, belief: Culprits, failed: bool) -> tuple[str, ...]:
        """Who is as good as sure to fail; all of them where that cannot be told, none where it can be tried."""
        story, sure = belief.likeliest
        if (len(self._moving) == 1 and failed) or self._unpicked >= MOST_UNPICKED:
            return self._moving
        if sure >= SURE and story.places:
            return tuple(self._moving[at] for at in story.places)
        if self._next_part(belief) is None:
            suspects = tuple(name for at, name in enumerate(self._moving) if belief.suspicion()[at] >= 1 - SURE)
            return suspects or self._moving
        return ()

    def _leave(self, names: Sequence[str]) -> None:
        """These go no further. The others must still be shown together: there may be more than two who fail."""
        if not names:
            return
        self._left.update(dict.fromkeys(names, "fails"))
        self._moving = tuple(name for name in self._moving if name not in self._left)
        self._belief = None
        if not self._moving:
            self._next_level()

    def _tells(self, one: TrialFacts) -> bool:
        if one.verdict is Verdict.VOID:
            return False
        asked_s = self._plan.load.duration_s or 0.0
        return one.verdict is Verdict.FAIL or (
            self._plan.load.kind in one.kinds and one.elapsed_s >= LEAST_OF_LOAD * asked_s
        )

    def _place(self, setpoint: Setpoint) -> tuple[bool, ...] | None:
        """Which of those that move stand at the level; None where it is no part of it. The minima of others may have
        raised some of them, so that a part is known by what was asked for.
        """
        whole = (True,) * len(self._moving)
        if setpoint == self._part(whole):
            return whole
        held = tuple(setpoint[name] == self._value(name, self._level) for name in self._moving)
        return held if any(held) and self._part(held) == setpoint else None

    def _next_level(self) -> None:
        """The level is over: who was not left behind holds at it."""
        for name in self._knobs:
            if name not in self._left:
                self._held[name] = self._level
        self._level += 1
        self._begin_level()

    def not_taken(self, asked: Setpoint, got: Setpoint) -> None:
        """Whoever stands elsewhere goes no further."""
        for change in got.changes_from(asked):
            if change.knob in self._knobs:
                self._left[change.knob] = "is not taken"
        self._begin_level()

    # -- going on ----------------------------------------

    def standing(self) -> Proposal | Ended:
        """The level as a whole, or the part of it that tells most of who fails."""
        plan = self._plan
        cost_h = USUAL_COSTS.trial_h(plan.load)
        if not self._moving:
            return self._ended("none of them can go further")
        if self._spent_h + cost_h > plan.budget_h:
            return self._ended(f"its {plan.budget_h:.1f} h are over")
        if self._belief is None:
            whole = self._at(self._whole())
            # Beyond the first level some of them are likely to fail, and to be unpicked.
            gain = plan.worth(self._stand(self._held), self._stand(self._whole()))
            per_h = gain / (cost_h * (UNPICKED if self._level > FIRST_LEVEL else 1))
            if per_h < plan.least_per_h:
                return self._ended(f"another hour would gain {per_h:.2%}, less than {plan.least_per_h:.2%}")
            reason = f"{len(self._moving)} timings shorter by {self._level} tenths together: most of them will hold"
            return proposed(whole, plan.load, reason)
        held = self._next_part(self._belief) or (True,) * len(self._moving)
        suspect = self._moving[int(self._belief.suspicion().argmax())]
        reason = f"{sum(held)} of {len(held)} that moved: which one fails? Most of all {self._knobs[suspect].label}"
        return proposed(self._part(held), plan.load, reason)

    def _next_part(self, belief: Culprits) -> tuple[bool, ...] | None:
        for held, told in belief.next_groups():
            if told < LEAST_TOLD:
                break
            at = self._part(held)
            if self._place(at) == held:
                return held
        return None

    def _stand(self, levels: Mapping[str, int]) -> Setpoint:
        """Each by the guard easier than what was shown, or would be, at these levels."""
        values, held = {}, self._at(levels)
        for name in self._knobs:
            shown, base = held.number(name), self.base.number(name)
            eased = next((v for v in self._knobs[name].grid.values() if v >= shown + A_GUARD * base - 1e-9), base)
            values[name] = min(base, eased)
        return self._set(values)

    def _ended(self, why: str) -> Ended:
        left = [f"{self._knobs[name].label} {how}" for name, how in self._left.items()]
        stayed = f"; {', '.join(left)}" if left else ""
        return Ended(self._stand(self._held), why + stayed)


def in_group(knob: Knob, base: Setpoint) -> bool:
    """Whether a timing can go with the others: a number of clocks, that is harder when it is shorter."""
    return (
        knob.unit == "nCK" and knob.harder is Harder.DOWN and not knob.locked and isinstance(base[knob.name], int)
        and base[knob.name] in knob.grid
    )  # fmt: skip
