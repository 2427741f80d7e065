"""What a rig that one comes back to should be asked; worked out once for what is on the shelf."""

from datetime import datetime
from itertools import pairwise
from weakref import WeakKeyDictionary

from tenaz.advice.visits import MOST_IN_A_VISIT, VisitTrial, visit_trials
from tenaz.core.trials.costs import costs_known
from tenaz.core.trials.due import due
from tenaz.core.trials.epochs import PAUSE
from tenaz.core.trials.index import TrialIndex
from tenaz.workshop.bench.at_work import AtWork

_KEPT: WeakKeyDictionary[TrialIndex, tuple[object, VisitTrial | None]] = WeakKeyDictionary()


def visit_of(at: AtWork) -> VisitTrial | None:
    """The trial that tells most whether the rig is as it was; None where nobody left it for long, or all is told."""
    index, now = at.trials, at.clock.utc()
    if not _left_alone(at, now):
        return None
    key = at.rig, index.version, now.date()
    known = _KEPT.get(index)
    if known is None or known[0] != key:
        known = _KEPT[index] = key, next(iter(visits_of(at, now)), None)
    return known[1]


def visits_of(at: AtWork, now: datetime) -> tuple[VisitTrial, ...]:
    """One a knob whose edge was found in an earlier time; what tells most an hour first."""
    index = at.trials
    trials, in_force = [*index.before, *index.trials], index.in_force(at.rig.stock)
    return visit_trials(at.rig, trials, in_force, costs_known(index, at.bench), now)


def _left_alone(at: AtWork, now: datetime) -> bool:
    """Whether it is due for a check, or the newest few trials are such a check."""
    newest = [one for one in at.trials.trials[-MOST_IN_A_VISIT - 1 :] if one.outcome is not None]
    if not newest:
        return False
    gaps = (after.begun_utc - one.begun_utc for one, after in pairwise(newest))
    return due(at.rig, newest, now) is not None or any(gap >= PAUSE for gap in gaps)
