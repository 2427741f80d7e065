"""The trials of the rig at work, at hand: read from the book once, and after that only what changed."""

import threading

from tenaz.charts.climb import ClimbPicture
from tenaz.core.rigs import BenchKind, Rig
from tenaz.core.searches import Advice, Proposal, SearchPlan
from tenaz.core.trial_index import TrialIndex
from tenaz.engine.search import standing
from tenaz.journal.store import Store
from tenaz.pictures.climbs import picture_of_search


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
        self._standings: dict[int, tuple[int, Proposal | Advice]] = {}
        self._pictures: dict[int, tuple[int, ClimbPicture]] = {}

    def _fresh(self) -> None:
        self._seen = 0
        self._indexes = {real: TrialIndex(fitted=self._rig.fitted if real else "") for real in (False, True)}

    def of(self, rig: Rig) -> "Shelf":
        """The shelf of a rig: this one, or a fresh one for another rig or other parts in it."""
        with self._lock:
            same = rig.name == self._rig.name and rig.fitted == self._rig.fitted
            if not same:
                return Shelf(self._store, rig)
            if rig != self._rig:
                self._rig = rig
                self._standings.clear()
                self._pictures.clear()
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
                self._indexes[trial.bench.real].put(trial)
            return self._indexes[bench.real]

    def standing(self, plan: SearchPlan) -> Proposal | Advice:
        """Where a search stands."""
        with self._lock:
            trials = self.trials(plan.bench)
            known = self._standings.get(plan.id)
            if known is None or known[0] != self._seen:
                known = self._standings[plan.id] = self._seen, standing(self._rig, plan, trials)
            return known[1]

    def picture(self, plan: SearchPlan) -> ClimbPicture:
        """The picture of a search."""
        with self._lock:
            stands, trials = self.standing(plan), self.trials(plan.bench)
            known = self._pictures.get(plan.id)
            if known is None or known[0] != self._seen:
                picture = picture_of_search(self._rig, plan, trials, stands)
                known = self._pictures[plan.id] = self._seen, picture
            return known[1]
