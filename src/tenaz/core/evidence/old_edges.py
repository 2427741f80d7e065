"""Edges found while other values stood, what they still say of now, and what is seen to move with what.

Everything rests on one ordering: whatever a step asks for less of the rig, no edge of another knob gets nearer by it.
"""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from itertools import combinations, islice

from tenaz.core.base.outcomes import Verdict
from tenaz.core.evidence.bracket import Bracket, bracket_of
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.setpoint import Auto, Change, Setpoint
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.rigs.rig import Rig
from tenaz.core.trials.index import TrialIndex
from tenaz.core.trials.trial import Trial

ENOUGH_TIMES = 3.0
"""A failure that comes after T hours on average shows itself within three of them with 95 %: 1 − exp(−3)."""
LEAST_CHECK_S = 60.0
NEWEST_LINES = 12
"""Of a knob's lines so many are compared, each with each: those worked on last."""


class Speaks(StrEnum):
    """What an old edge still says."""

    HELD = "what held there holds still; what failed may hold now"
    FAILED = "what failed there fails still; what held may fail now"
    NEITHER = "neither what held nor what failed there is sure to stand"


@dataclass(frozen=True, slots=True)
class Check:
    """The cheapest trial that tells whether an old edge stands: where, and under what."""

    setpoint: Setpoint
    plan: LoadPlan


@dataclass(frozen=True, slots=True)
class OldEdge:
    """The newest edge of a knob that was found while other values stood.

    ``moved`` is what stands otherwise now (before: as it stood then); ``newest`` the last trial on that line. ``check``
    is None where it cannot be asked for, or where it was made and held (``holds_today``); one that failed is an edge of
    today.
    """

    knob: Knob
    bracket: Bracket
    moved: tuple[Change, ...]
    speaks: Speaks
    newest: Trial
    check: Check | None
    holds_today: bool = False

    @property
    def asked(self) -> int | None:
        """The value whose verdict of today tells most."""
        held, failed = self.bracket.held, self.bracket.failed
        return failed if self.speaks is Speaks.HELD or held is None else held

    @property
    def stands(self) -> bool:
        """Whether it is an edge of today too: what failed fails still, and what held was seen to hold."""
        return self.holds_today and self.speaks is Speaks.FAILED and self.asked == self.bracket.held


@dataclass(frozen=True, slots=True)
class MovesWith:
    """How far an edge moved with another knob: that one from ``easier`` to ``harder``, the edge by ``least`` to
    ``most`` grid steps towards the harder values (negative: it came nearer).
    """

    knob: Knob
    other: Knob
    easier: int
    harder: int
    least: int
    most: int

    @property
    def seen(self) -> bool:
        """Whether it moved at all, for what was tried."""
        return self.least > 0 or self.most < 0


def old_edge(rig: Rig, knob: Knob, now: Setpoint, trials: TrialIndex) -> OldEdge | None:
    """The newest edge of a knob under other values than those of ``now``; None: there is none, or today's is known."""
    if isinstance(now[knob.name], Auto) or _bracket(knob, trials.along(now, knob.name)).failed is not None:
        return None
    for line in _lines(knob, trials):
        bracket, newest = _bracket(knob, line), line[-1]
        moved = tuple(change for change in now.changes_from(newest.setpoint) if change.knob != knob.name)
        # Where nothing held at all it was not this knob's doing: a group that fails is no edge of each that is in it.
        if bracket.failed is not None and bracket.held is not None and moved:
            found = OldEdge(knob, bracket, moved, _speaks(rig, moved), newest, None)
            return _with_check(found, line, now, trials)
    return None


def moves_with(rig: Rig, trials: TrialIndex) -> tuple[MovesWith, ...]:
    """Of every two knobs the two lines farthest apart that differ in nothing but the other one."""
    found: dict[tuple[str, str], MovesWith] = {}
    for knob in rig.knobs:
        edges = [(line[-1].setpoint, _bracket(knob, line)) for line in islice(_lines(knob, trials), NEWEST_LINES)]
        for (one, at_one), (two, at_two) in combinations(edges, 2):
            changes = [change for change in two.changes_from(one) if change.knob != knob.name]
            pair = _pair(rig, knob, changes, at_one, at_two) if len(changes) == 1 else None
            known = None if pair is None else found.get((knob.name, pair.other.name))
            if pair is not None and (known is None or _apart(known) <= _apart(pair)):
                found[knob.name, pair.other.name] = pair
    return tuple(found.values())


def _lines(knob: Knob, trials: TrialIndex) -> Iterator[tuple[Trial, ...]]:
    """The trials that tell of lines with more than one value tried; the line worked on last comes first."""
    for line in trials.lines(knob.name):
        telling = tuple(one for one in line if one.verdict is not Verdict.VOID)
        if len({one.setpoint[knob.name] for one in telling}) > 1:
            yield telling


def _bracket(knob: Knob, line: Iterable[Trial]) -> Bracket:
    return bracket_of(knob, [(one.setpoint.number(knob.name), one.verdict) for one in line])


def _speaks(rig: Rig, moved: Sequence[Change]) -> Speaks:
    knobs = {knob.name: knob for knob in rig.knobs}
    ways = set()
    for change in moved:
        before, after = change.before, change.after
        if change.knob not in knobs or isinstance(before, Auto) or isinstance(after, Auto):
            return Speaks.NEITHER
        ways.add(knobs[change.knob].strain(after) > knobs[change.knob].strain(before))
    return Speaks.NEITHER if len(ways) > 1 else Speaks.FAILED if ways.pop() else Speaks.HELD


def _with_check(old: OldEdge, line: Sequence[Trial], now: Setpoint, trials: TrialIndex) -> OldEdge:
    value, knob = old.asked, old.knob
    if value is None or knob.locked or (knob.advised_ceiling is not None and value > knob.advised_ceiling):
        return old
    there = now.replacing(knob.name, value)
    plan = _quickest(old, line)
    if any(_answers(one, plan) for one in trials.at(there)):
        return replace(old, holds_today=True)
    return replace(old, check=Check(there, plan))


def _answers(made: Trial, asked: LoadPlan) -> bool:
    """Whether it held under the load that is asked for, for as long."""
    return made.verdict is Verdict.PASS and asked.kind in made.plan.kinds and made.clean_s >= (asked.duration_s or 0)


def _quickest(old: OldEdge, line: Sequence[Trial]) -> LoadPlan:
    """The load under which it failed, for as long as such a failure needs to show itself again."""
    failing = [
        one
        for one in line
        if one.setpoint[old.knob.name] == old.bracket.failed and one.verdict is Verdict.FAIL and one.clean_s > 0
    ]
    if not failing:
        return replace(old.newest.plan, duration_s=LEAST_CHECK_S, laps=None)
    plan = min(failing, key=lambda one: one.clean_s).plan
    mean_s = sum(one.clean_s for one in failing) / len(failing)
    needed_s = max(LEAST_CHECK_S, ENOUGH_TIMES * mean_s)
    longest_s = plan.duration_s or needed_s
    return replace(plan, duration_s=min(needed_s, longest_s), laps=None)


def _pair(rig: Rig, knob: Knob, changes: Sequence[Change], one: Bracket, two: Bracket) -> MovesWith | None:
    (change,) = changes
    other = next((known for known in rig.knobs if known.name == change.knob), None)
    if other is None or isinstance(change.before, Auto) or isinstance(change.after, Auto):
        return None
    if one.held is None or one.failed is None or two.held is None or two.failed is None:
        return None
    easier, harder = change.before, change.after
    if other.strain(easier) > other.strain(harder):
        easier, harder, one, two = harder, easier, two, one
    low, high = _hardest_held(knob, one), _hardest_held(knob, two)
    return MovesWith(knob, other, easier, harder, high[0] - low[1], high[1] - low[0])


def _hardest_held(knob: Knob, bracket: Bracket) -> tuple[int, int]:
    """The strains between which the hardest value that holds lies."""
    assert bracket.held is not None
    assert bracket.failed is not None
    return knob.strain(bracket.held), knob.strain(bracket.failed) - 1


def _apart(pair: MovesWith) -> int:
    return pair.other.strain(pair.harder) - pair.other.strain(pair.easier)
