"""Climb pictures: of a search, and of all trials on one line."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import replace

from tenaz.core.base.outcomes import Outcome
from tenaz.core.evidence.bracket import bracket_of
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.setpoint import Auto, Setpoint
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.rigs.rig import Rig, stock_strain
from tenaz.core.searches.search import Advice, Proposal, SearchPlan, TrialFacts, facts_of, search_limit
from tenaz.core.trials.costs import spent_h
from tenaz.core.trials.index import TrialIndex
from tenaz.core.trials.trial import Trial
from tenaz.margins.judging import Judgement, judge
from tenaz.margins.priors import prior_of
from tenaz.pictures.climb.model import ClimbPicture, LoadSeries, climb_picture
from tenaz.search.played import on_line

MOST_NAMED = 3
"""Values that stood otherwise; more are counted only."""

MOST_ELSEWHERE = 40
"""Of trials while other values stood, so many are drawn."""


def picture_of_search(rig: Rig, plan: SearchPlan, trials: TrialIndex, stands: Proposal | Advice) -> ClimbPicture:
    """The picture of one search along a knob, where it stands."""
    knob, mine = rig.knob(plan.knob), on_line(trials, plan)
    return _picture(rig, knob, plan.base, plan.reason, mine, plan.load.kind, stands, plan.load.show())


def picture_of_line(
    rig: Rig, knob: Knob, through: Setpoint, trials: TrialIndex, prefer: LoadKind
) -> ClimbPicture | None:
    """The picture of all trials that differ from a setpoint in one knob alone; None when there are none.

    Loads of different kinds feel an edge differently: the picture is about the preferred one where it ran here, else
    about the one that ran most; the others are series of their own.
    """
    if isinstance(through[knob.name], Auto):
        return None
    mine = trials.along(through, knob.name)
    if not mine:
        return None
    ran = Counter(kind for trial in mine for kind in trial.plan.kinds)
    kind = prefer if prefer in ran else ran.most_common(1)[0][0]
    return _picture(rig, knob, through, "", mine, kind, None, f"under {kind}")


def _picture(
    rig: Rig,
    knob: Knob,
    base: Setpoint,
    reason: str,
    trials: Sequence[Trial],
    kind: LoadKind,
    stands: Proposal | Advice | None,
    load: str,
) -> ClimbPicture:
    others = dict.fromkeys(other for trial in trials for other in trial.plan.kinds if other is not kind)
    closed = [facts_of(trial) for trial in trials if trial.outcome is not None]
    limit = search_limit(knob, reason)
    judged = judge(knob, rig.purpose, closed, kind, knob.strain(limit), stock_strain(rig, knob), prior_of(rig, knob))
    return climb_picture(
        rig=rig.name,
        knob=knob,
        stock=rig.stock[knob.name],
        start=base.number(knob.name),
        limit=limit,
        trials=trials,
        judged=judged,
        standing=stands,
        load=load,
        kind=kind,
        base=base,
        series=[_strand(rig, knob, trials, closed, other) for other in others],
        spent_h=sum(spent_h(trial) for trial in trials),
    )


def as_now(rig: Rig, picture: ClimbPicture, trials: TrialIndex, in_force: Setpoint) -> ClimbPicture:
    """The picture beside what stands now: what stood otherwise, and what was tried along the knob elsewhere."""
    knob, base = picture.knob, picture.base
    if base is None:
        return picture
    here = base.line_key(knob.name)
    others = [line for line in trials.lines(knob.name) if line[0].setpoint.line_key(knob.name) != here]
    seen = [
        (knob.strain(at), one.outcome)
        for line in others
        for one in line[-MOST_ELSEWHERE:]
        if isinstance(at := one.setpoint[knob.name], int) and at in knob.grid and one.outcome is not None
    ]
    return replace(
        picture,
        stood=_stood(rig, knob, base, in_force),
        elsewhere=sum(map(len, others)),
        elsewhere_at=tuple(dict.fromkeys(seen[-MOST_ELSEWHERE:])),
        around=_stood(rig, knob, base, rig.stock) or "stock",
    )


def _stood(rig: Rig, knob: Knob, base: Setpoint, now: Setpoint) -> str:
    """What stood otherwise, as it stood then."""
    knobs = {one.name: one for one in rig.knobs}
    moved = [one for one in base.changes_from(now) if one.knob != knob.name and one.knob in knobs]
    named = [f"{knobs[one.knob].label} {knobs[one.knob].show(one.after)}" for one in moved[:MOST_NAMED]]
    more = f" and {len(moved) - MOST_NAMED} more" if len(moved) > MOST_NAMED else ""
    return ", ".join(named) + more


def _strand(rig: Rig, knob: Knob, trials: Sequence[Trial], closed: Sequence[TrialFacts], kind: LoadKind) -> LoadSeries:
    counting = [t for t in trials if kind in t.plan.kinds or t.outcome is Outcome.NO_BOOT]
    bracket = bracket_of(knob, [(trial.setpoint.number(knob.name), trial.verdict) for trial in counting])
    judged: Judgement | None = judge(knob, rig.purpose, closed, kind, prior=prior_of(rig, knob))
    return LoadSeries(kind, bracket, judged.edge if judged else None)
