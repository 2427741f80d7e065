"""What to try on a rig that one comes back to: the few trials that tell most whether its edges are where they were."""

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime

from tenaz.core.base.amounts import show_chance
from tenaz.core.base.outcomes import Verdict
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.loads.plan import LoadPlan, show_duration
from tenaz.core.rigs.rig import Rig
from tenaz.core.searches.search import TrialFacts, facts_of
from tenaz.core.trials.along import lines_of, on_line
from tenaz.core.trials.costs import Costs
from tenaz.core.trials.epochs import PAUSE, epochs_of
from tenaz.core.trials.trial import Trial
from tenaz.margins.drift import Moved, moved_between
from tenaz.margins.judging import judge
from tenaz.margins.posterior import posterior_of
from tenaz.margins.priors import prior_for
from tenaz.margins.revisiting import VISIT_H, Telling, Visit
from tenaz.margins.sightings import sightings_of

MOST_IN_A_VISIT = 6
LEAST_VALUES, MOST_LINES = 2, 2
LEAST_TELLS = 0.02


@dataclass(frozen=True, slots=True)
class VisitTrial:
    """The trial that tells most along a knob; ``moved`` is what the visit's trials on that line say so far."""

    knob: Knob
    setpoint: Setpoint
    plan: LoadPlan
    telling: Telling
    moved: Moved | None

    @property
    def words(self) -> str:
        """Like ``march 10m at data rate 6300 MT/s``."""
        value = self.knob.show(self.setpoint[self.knob.name])
        return f"{self.plan.kind} {show_duration(self.plan.duration_s or 0.0)} at {self.knob.label} {value}"

    @property
    def reason(self) -> str:
        """What it tells, and what is to be expected."""
        tells = f"takes {self.telling.tells:.0%} of the doubt away whether it is as it was"
        return f"{tells}; were it so, this would fail, or not start, with a chance of {show_chance(self.telling.fails)}"


def visit_trials(
    rig: Rig, trials: Sequence[Trial], in_force: Setpoint, costs: Costs, now: datetime
) -> tuple[VisitTrial, ...]:
    """One a knob whose edge was found in an earlier time of the rig, what tells most an hour first; none where the rig
    was worked on all the time, or where all is told.
    """
    epochs = epochs_of(trials)
    if not epochs:
        return ()
    here: tuple[Trial, ...] = ()
    if now - epochs[-1].trials[-1].begun_utc < PAUSE:
        *epochs_before, visit = epochs
        here, epochs = visit.trials, tuple(epochs_before)
    if not epochs or len(here) >= MOST_IN_A_VISIT:
        return ()
    found = (
        _along(rig, knob, [one.trials for one in epochs], here, in_force, costs)
        for knob in rig.knobs
        if not knob.locked
    )
    return tuple(sorted((one for one in found if one), key=lambda one: -one.telling.tells / one.telling.cost_h))


def _along(
    rig: Rig, knob: Knob, times: Sequence[Sequence[Trial]], here: Sequence[Trial], in_force: Setpoint, costs: Costs
) -> VisitTrial | None:
    for then in reversed(times):
        for line in _lines(then, knob, in_force):
            before, now = ([facts_of(one) for one in some if on_line(one, knob, line)] for some in (then, here))
            if (found := _asked(rig, knob, before, now, costs)) is not None:
                kind, telling, moved = found
                value = knob.at_strain(telling.strain)
                plan = LoadPlan(kind, telling.hours * 3600)
                return VisitTrial(knob, before[-1].setpoint.replacing(knob.name, value), plan, telling, moved)
    return None


def _asked(
    rig: Rig, knob: Knob, before: Sequence[TrialFacts], now: Sequence[TrialFacts], costs: Costs
) -> tuple[LoadKind, Telling, Moved | None] | None:
    """What tells most on one line; None where nothing failed then, where all is told, or where nothing tells more."""
    failed = Counter(kind for one in before if one.verdict is Verdict.FAIL for kind in one.kinds)
    if not failed or len({one.setpoint[knob.name] for one in before}) < LEAST_VALUES:
        return None
    kind = failed.most_common(1)[0][0]
    then = judge(knob, rig.purpose, before, kind)
    if then is None:
        return None
    seen = sightings_of(knob, now, kind, rig.purpose.least_reach(kind))
    moved = moved_between(then.posterior, posterior_of(prior_for(knob), knob, {kind: seen}), kind, prior_for(knob))
    if seen and moved.told:
        return None
    spent_h = sum(one.elapsed_s for one in now) / 3600
    # Somebody had a reason for what was tried then; nothing harder is asked of a rig that one comes back to.
    hardest = max(knob.strain(one.setpoint.number(knob.name)) for one in before)
    best = Visit(then.posterior, seen, kind).best(VISIT_H - spent_h, costs, hardest)
    if best is None or best.tells < LEAST_TELLS:
        return None
    return kind, best, moved if seen else None


def _lines(trials: Sequence[Trial], knob: Knob, in_force: Setpoint) -> Iterator[int]:
    """The lines on which a knob was moved: that which goes through what is in force first, then that along which most
    was tried.
    """
    keys, mine = lines_of(trials, knob), in_force.line_key(knob.name)
    yield from sorted(keys, key=lambda one: (one != mine, -keys[one]))[:MOST_LINES]
