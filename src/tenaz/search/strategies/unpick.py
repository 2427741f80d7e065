"""``unpick``: many values were moved together and it failed; which one is it, or which two?"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from tenaz.core.base.amounts import show_chance
from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Verdict
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.knobs.timings.minima import check_timings
from tenaz.core.searches.search import UNPICK, Advice, Proposal, SearchGround, Strategy, TrialFacts
from tenaz.search.culprits import Culprits, Story
from tenaz.search.strategy_kinds import StrategyKind

MOST_KNOBS = 24
LEAST_OF_LOAD = 0.5
"""A pass that was shorter than this part of the load says nothing: failure is a matter of time."""
MOST_NAMED = 4
USUAL_TRIALS = 8
LEAST_TOLD = 0.02
"""A trial that tells less is not worth its hour."""
STILL_SUSPECT = 0.1
MOST_MENDS = 3

Held = tuple[bool, ...]
"""Of each value whether it stands where it was moved to."""


@dataclass(frozen=True, slots=True)
class Parameters:
    """``to`` is what the knobs were moved to, like ``t_rp_nck=30 t_rcd_nck=32``. ``false_pass`` is how often a trial
    passes although a culprit is in it; it ends at a culprit that is as ``sure``.
    """

    to: str = ""
    false_pass: float = 0.1
    sure: float = 0.97

    def __post_init__(self) -> None:
        targets(self.to)
        if not 0.0 < self.false_pass < 0.5 or not 0.5 <= self.sure < 1.0:
            raise Refused(
                f"a false pass in {self.false_pass:.0%} of trials, and {self.sure:.0%} sure: give more than none and "
                f"less than half, and 50 % to below 100 %."
            )


def targets(text: str) -> dict[str, int]:
    """What the knobs were moved to.

    Raises:
        Refused: a part that is no name with a whole number.
    """
    found = {}
    for part in text.split():
        read = re.fullmatch(r"(\w+)=(-?\d+)", part)
        if read is None:
            raise Refused(f"find the culprit: {part[:40]!r} is no value; name them like t_rp_nck=30.")
        found[read[1]] = int(read[2])
    return found


def spelled(values: Mapping[str, int]) -> str:
    """The opposite of :func:`targets`."""
    return " ".join(f"{name}={value}" for name, value in values.items())


def unpick(ground: SearchGround, parameters: Parameters) -> Strategy:
    """Propose the sub-group that tells most, until one story is sure enough."""
    group = _Group(ground, targets(parameters.to))
    belief = Culprits(len(group.names), parameters.false_pass)
    base_failed, whole = False, _Whole()
    while True:
        seen = yield _standing(group, belief, parameters, base_failed, whole)
        for one in seen:
            if not group.tells(one):
                continue
            held = group.of(one.setpoint)
            failed = one.verdict is Verdict.FAIL
            if held is not None and any(held):
                belief.take(held, failed)
                whole.take(all(held), failed)
            base_failed = base_failed or (held is not None and not any(held) and failed)


@dataclass(slots=True)
class _Whole:
    """Whether all of it together was seen to fail, or to hold."""

    failed: bool = False
    held: bool = False

    def take(self, whole: bool, failed: bool) -> None:
        self.failed = self.failed or (whole and failed)
        self.held = self.held or (whole and not failed)


class _Group:
    """The values that were moved, from the base to where it failed."""

    def __init__(self, ground: SearchGround, to: Mapping[str, int]) -> None:
        missing = [knob.name for knob in ground.knobs if knob.name not in to]
        if missing or len(ground.knobs) < 2:
            raise Refused(
                f"finding the culprit needs what each of two knobs or more was moved to; nothing is said of "
                f"{', '.join(missing)}."
                if missing
                else "finding the culprit needs two knobs or more that were moved together."
            )
        self.ground = ground
        self.names = tuple(knob.name for knob in ground.knobs)
        self._to = dict(to)
        self._allowed: dict[Held, bool] = {}
        self._usual = self._remarks(ground.base) | self._remarks(self.at((True,) * len(self.names)))

    def at(self, held: Held) -> Setpoint:
        """The base with some of the values moved."""
        found = self.ground.base
        for name, moved in zip(self.names, held, strict=True):
            if moved:
                found = found.replacing(name, self._to[name])
        return found

    def of(self, setpoint: Setpoint) -> Held | None:
        """Which values are moved at a setpoint; None where one stands elsewhere."""
        found = []
        for name in self.names:
            value = setpoint[name]
            if value not in (self._to[name], self.ground.base[name]):
                return None
            found.append(value == self._to[name])
        return tuple(found)

    def tells(self, one: TrialFacts) -> bool:
        """Whether a trial says something: under this kind of load, and long enough where it passed."""
        if one.verdict is Verdict.VOID:
            return False
        if one.verdict is Verdict.FAIL:
            return True
        asked = self.ground.load.duration_s
        return self.ground.load.kind in one.kinds and (asked is None or one.elapsed_s >= LEAST_OF_LOAD * asked)

    def allowed(self, held: Held) -> bool:
        """Whether a sub-group respects the minima that timings have of each other, as far as base and group do."""
        if held not in self._allowed:
            self._allowed[held] = self._remarks(self.at(held)) <= self._usual
        return self._allowed[held]

    def mended(self, held: Held) -> Held | None:
        """The sub-group, or one with some values more or less in it that may be set; None where there is none near."""
        tried = [held]
        for _ in range(MOST_MENDS):
            found = next((one for one in tried if self.allowed(one)), None)
            if found is not None:
                return found if 0 < sum(found) < len(found) else None
            # The timing that is too low goes back, or what its minimum is made of comes along.
            tried = [
                tuple(not one if k == place else one for k, one in enumerate(before))
                for before in tried[:2]
                for place in range(len(before))
            ]
        return None

    def _remarks(self, setpoint: Setpoint) -> set[str]:
        return {remark.name for remark in check_timings(setpoint.numbers(), self.ground.family)}

    def named(self, places: Sequence[int]) -> str:
        """Values by their knobs, at their new value."""
        knobs = {knob.name: knob for knob in self.ground.knobs}
        words = [f"{knobs[self.names[k]].label} {knobs[self.names[k]].show(self._to[self.names[k]])}" for k in places]
        more = len(words) - MOST_NAMED
        return ", ".join(words[:MOST_NAMED]) + (f" and {more} more" if more > 0 else "")


def _standing(
    group: _Group, belief: Culprits, parameters: Parameters, base_failed: bool, whole: _Whole
) -> Proposal | Advice:
    if not whole.failed:
        return _whole_first(group, whole)
    if base_failed:
        return Advice(None, "it fails without any of them as well: look elsewhere, or begin from an easier setpoint")
    story, sure = belief.likeliest
    return _found(group, story, sure) if sure >= parameters.sure else _next(group, belief)


def _whole_first(group: _Group, whole: _Whole) -> Proposal | Advice:
    """Before anything is unpicked it must have failed."""
    everything, ground = group.at((True,) * len(group.names)), group.ground
    if whole.held:
        return Advice(everything, "all of it together held: there is no culprit")
    cost_h = ground.costs.trial_h(ground.load)
    return Proposal(everything, ground.load, "all of it first: does it fail?", cost_h, USUAL_TRIALS * cost_h)


def _found(group: _Group, story: Story, sure: float) -> Advice:
    if not story.places:
        told = "no part of it fails by itself: it was a stray failure, or one that comes rarely; try all for longer"
        return Advice(group.at((True,) * len(group.names)), f"{show_chance(sure)} sure: {told}")
    rest = group.at(tuple(place not in story.places for place in range(len(group.names))))
    return Advice(rest, f"{show_chance(sure)} sure: {_told(group, story)}; all others may stay")


def _next(group: _Group, belief: Culprits) -> Proposal | Advice:
    """The sub-group that tells most and may be set; where none tells anything more, who is left."""
    bits, (story, sure) = belief.bits(), belief.likeliest
    held, told = _best(group, belief)
    if told < LEAST_TOLD:
        return _tied(group, belief)
    moved = f"{sum(held)} of {len(held)} moved takes away {min(1.0, told / bits):.0%} of the doubt"
    reason = f"{moved}; likeliest {show_chance(sure)}: {_told(group, story)}"
    cost_h: float = group.ground.costs.trial_h(group.ground.load)
    return Proposal(group.at(held), group.ground.load, reason, cost_h, cost_h * max(1.0, bits / told))


def _best(group: _Group, belief: Culprits) -> tuple[Held, float]:
    """Of what tells most and what is near it, each put right so that it keeps the minima, the one that tells most."""
    found = {mended for held, _ in belief.next_groups() if (mended := group.mended(held)) is not None}
    for _ in range(2):
        told = dict(zip(found, belief.told_by(list(found)), strict=True)) if found else {}
        best = max(told, key=lambda held: (told[held], held), default=None)
        if best is None:
            return (False,) * len(group.names), 0.0
        near = (tuple(one != (k == place) for k, one in enumerate(best)) for place in range(len(best)))
        found |= {mended for held in near if (mended := group.mended(held)) is not None}
    told = dict(zip(found, belief.told_by(list(found)), strict=True))
    best = max(told, key=lambda held: (told[held], held))
    return best, told[best]


def _tied(group: _Group, belief: Culprits) -> Advice:
    suspicion = belief.suspicion()
    left = [place for place in range(len(group.names)) if suspicion[place] >= STILL_SUSPECT]
    left = left or [int(suspicion.argmax())]
    rest = tuple(place not in left for place in range(len(group.names)))
    kept = group.at(rest) if group.allowed(rest) else group.ground.base
    named, why = group.named(left), "the minima of timings tie them, and no trial can tell them apart"
    which = f"one of {named}" if len(left) > 1 else f"{named}, alone or with what its own minimum needs"
    return Advice(kept, f"{which}: {why}; all others may stay")


def _told(group: _Group, story: Story) -> str:
    names = [group.named([place]) for place in story.places]
    if not names:
        return "none of them"
    if len(names) == 1:
        return f"{names[0]} alone"
    return f"{names[0]} together with {names[1]}" if story.together else f"{names[0]}, and {names[1]} too"


STRATEGY = StrategyKind(
    UNPICK, "of many values moved together, which one fails", Parameters, unpick, MOST_KNOBS, climbs=False
)
