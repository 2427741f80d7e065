"""The Night picture of a search, from the trials on it: the night played anew, leg by leg."""

from collections.abc import Sequence
from statistics import median

from tenaz.core.evidence.shown import evidence_at
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.rigs.door_map import without_login
from tenaz.core.rigs.rig import Rig
from tenaz.core.scores.gains import compared
from tenaz.core.scores.score import Measure
from tenaz.core.searches.search import Advice, SearchPlan, facts_of
from tenaz.core.trials.costs import spent_h
from tenaz.core.trials.index import TrialIndex
from tenaz.core.trials.trial import Trial
from tenaz.margins.safety import safety_of
from tenaz.pictures.night.model import LegDrawn, NightPicture
from tenaz.search.night.ground import Aim
from tenaz.search.night.journey import Journey, LegStory
from tenaz.search.played import ground_of, same_trials, told_of
from tenaz.search.registry import strategy_of
from tenaz.search.strategies.night import Parameters, night_ground

MOST_MOVED = 4


class FollowedNight:
    """A night followed from trial to trial, so that its picture need not play it anew for each."""

    def __init__(self) -> None:
        self._of: tuple[Rig, SearchPlan] | None = None
        self._line: tuple[Trial, ...] = ()
        self._journey: Journey | None = None

    def journey(self, rig: Rig, plan: SearchPlan, trials: TrialIndex) -> tuple[Journey, tuple[Trial, ...]]:
        """The night by the trials that there are now, and these."""
        line, known = told_of(trials, plan), len(self._line)
        followed = self._journey
        if followed is None or self._of != (rig, plan) or not same_trials(self._line, line[:known]):
            parameters = strategy_of(plan.strategy).typed(plan.parameters)
            assert isinstance(parameters, Parameters)
            followed, known = Journey(night_ground(ground_of(rig, plan, trials), parameters)), 0
        for trial in line[known:]:
            followed.take(facts_of(trial, plan.id))
        self._of, self._line, self._journey = (rig, plan), line, followed
        return followed, line


def night_picture(
    rig: Rig,
    plan: SearchPlan,
    trials: TrialIndex,
    measures: Sequence[Measure] = (),
    followed: FollowedNight | None = None,
) -> NightPicture:
    """Where a night stands; ``measures`` at where it began and at where it ended tell what was truly gained."""
    journey, line = (followed or FollowedNight()).journey(rig, plan, trials)
    at = journey.at
    shown = evidence_at(at, trials, rig)
    before, after = ([one for one in measures if one.setpoint == where] for where in (plan.base, at))
    gains = compared(before, after)
    return NightPicture(
        rig.name,
        rig.purpose.name,
        tuple(_leg(rig, story, line) for story in journey.stories),
        tuple(_called(rig, key) for key in journey.to_come),
        safe=safety_of(rig, at, trials).words,
        door=without_login(rig.door),
        left_out=tuple(_called(rig, key) for key in journey.left_out),
        over=isinstance(journey.stands, Advice),
        proven=journey.proven,
        words=journey.stands.reason,
        shown=tuple((kind.kind.value, kind.hours, kind.hours_asked) for kind in shown.kinds if kind.hours_asked),
        quiet=plan.parameters.get("aim") == Aim.QUIET,
        measured=(*(f"{one.figure.what} {one.show()}" for one in gains.leading), *_watts(before, after)),
    )


def _watts(before: Sequence[Measure], after: Sequence[Measure]) -> tuple[str, ...]:
    """The power while both were measured."""
    old, new = ([one.circumstances.power_w for one in side if one.circumstances.power_w] for side in (before, after))
    return (f"power {median(old):.0f} → {median(new):.0f} W",) if old and new else ()


def _leg(rig: Rig, story: LegStory, line: Sequence[Trial]) -> LegDrawn:
    made = [line[place] for place in story.places]
    now = story.after is None
    return LegDrawn(
        _called(rig, story.key),
        sum(spent_h(trial) for trial in made),
        story.budget_h,
        story.gained,
        tuple((trial.number, trial.outcome) for trial in made if trial.outcome is not None),
        () if story.after is None else _moved(rig, story.before, story.after, story.key),
        "" if now else story.why,
        now,
    )


def _called(rig: Rig, key: str) -> str:
    """A leg by its knob's label, or by its own words."""
    return next((knob.label for knob in rig.knobs if knob.name == key), key)


def _moved(rig: Rig, before: Setpoint, after: Setpoint, key: str) -> tuple[str, ...]:
    """What a leg moved, its own knob first and without its name."""
    changes = sorted(after.changes_from(before), key=lambda change: change.knob != key)
    words = []
    for change in changes[:MOST_MOVED]:
        knob = rig.knob(change.knob)
        old = change.before if isinstance(change.before, int) else "auto"
        label = "" if change.knob == key else f"{knob.label} "
        words.append(f"{label}{old} → {knob.show(change.after)}")
    more = len(changes) - MOST_MOVED
    return (*words, f"and {more} more") if more > 0 else tuple(words)
