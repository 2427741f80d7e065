"""The trials of the rig at work, at hand: read from the book once, and after that only what changed."""

import threading
from dataclasses import dataclass

from tenaz.charts.climb import ClimbPicture
from tenaz.core.rigs import BenchKind, Rig
from tenaz.core.searches import Advice, Proposal, SearchPlan
from tenaz.core.trial_index import TrialIndex
from tenaz.engine.search import Played, played, same_trials, told_of
from tenaz.journal.store import Store
from tenaz.pictures.climbs import as_now, picture_of_search


class Shelf:
    """What is known of one rig's trials, and what follows from them, kept until a newer record comes. May be asked from
    any thread.
    """

    def __init__(self, store: Store, rig: Rig) -> None:
        self._store = store
        self._rig = rig
        self._lock = threading.RLock()
        self._seen = 0
        self._indexes: dict[bool, TrialIndex] = {}
        self._fresh()
        self._searches: dict[int, _Kept] = {}

    def _fresh(self) -> None:
        self._seen = 0
        self._indexes = {real: TrialIndex(fitted=self._rig.fitted) for real in (False, True)}

    def of(self, rig: Rig) -> "Shelf":
        """The shelf of a rig: this one, or a fresh one for another rig or other parts in it."""
        with self._lock:
            same = rig.name == self._rig.name and rig.fitted == self._rig.fitted
            if not same:
                return Shelf(self._store, rig)
            if rig != self._rig:
                before, self._rig = self._rig, rig
                self._searches.clear()
                if rig.stock.items_by_name != before.stock.items_by_name:
                    self._fresh()
            return self

    @property
    def newest_change(self) -> int:
        """The newest change that is on the shelf."""
        return self._seen

    def trials(self, bench: BenchKind) -> TrialIndex:
        """The trials that count on a bench, as the book has them now: those of a simulated stand-in and those of the
        rig itself are apart.
        """
        with self._lock:
            self._seen, changed = self._store.trials.since(self._rig.name, self._seen)
            for trial in changed:
                self._indexes[trial.bench.real].put(trial.on_rig_of(self._rig.stock))
            return self._indexes[bench.real]

    def standing(self, plan: SearchPlan) -> Proposal | Advice:
        """Where a search stands by what is on the shelf; played anew only when a trial on its line has changed."""
        with self._lock:
            return self._played(plan).played.stands

    def picture(self, plan: SearchPlan) -> ClimbPicture:
        """The picture of a search; drawn up anew only when a trial on its line has changed."""
        with self._lock:
            kept = self._played(plan)
            trials = self._indexes[plan.bench.real]
            if kept.picture is None:
                kept.picture = picture_of_search(self._rig, plan, trials, kept.played.stands)
            if kept.as_now is None or kept.drawn != self._seen:
                kept.as_now, kept.drawn = (
                    as_now(self._rig, kept.picture, trials, trials.in_force(self._rig.stock)),
                    self._seen,
                )
            return kept.as_now

    def _played(self, plan: SearchPlan) -> "_Kept":
        """The search as it stands by what is on the shelf."""
        trials, known = self._indexes[plan.bench.real], self._searches.get(plan.id)
        if known is not None and known.played.plan == plan and known.seen == self._seen:
            return known
        line = told_of(trials, plan)
        if known is None or known.played.plan != plan or not same_trials(known.played.line, line):
            if known is not None and known.played.plan == plan and known.played.go_on(line):
                known.picture = known.as_now = None
            else:
                known = self._searches[plan.id] = _Kept(played(self._rig, plan, trials))
        known.seen = self._seen
        return known


@dataclass(slots=True)
class _Kept:
    """A search that was played, and what was drawn of it."""

    played: Played
    picture: ClimbPicture | None = None
    as_now: ClimbPicture | None = None
    drawn: int = 0
    """The newest change up to which it is drawn beside what stands."""
    seen: int = 0
    """The newest change up to which the line is known to be this one."""
