"""The trials of the rig at work, at hand: read from the book once, and after that only what changed."""

import threading
from dataclasses import dataclass

from tenaz.charts.climb import ClimbPicture
from tenaz.core.rigs import BenchKind, Rig
from tenaz.core.searches import Advice, Proposal, SearchPlan
from tenaz.core.trial_index import TrialIndex
from tenaz.core.trials import Trial
from tenaz.engine.search import on_line, standing
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
        self._searches: dict[int, _Played] = {}

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
                self._rig = rig
                self._searches.clear()
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
        """Where a search stands by what is on the shelf; played anew only when a trial on its line has changed."""
        with self._lock:
            return self._played(plan).stands

    def picture(self, plan: SearchPlan) -> ClimbPicture:
        """The picture of a search; drawn up anew only when a trial on its line has changed."""
        with self._lock:
            played = self._played(plan)
            if played.picture is None:
                played.picture = picture_of_search(self._rig, plan, self._indexes[plan.bench.real], played.stands)
            return played.picture

    def _played(self, plan: SearchPlan) -> "_Played":
        """The search as it stands by what is on the shelf."""
        trials, known = self._indexes[plan.bench.real], self._searches.get(plan.id)
        if known is not None and known.plan == plan and known.seen == self._seen:
            return known
        line = on_line(trials, plan)
        if known is None or known.plan != plan or not _same(known.line, line):
            known = self._searches[plan.id] = _Played(plan, line, standing(self._rig, plan, trials))
        known.seen = self._seen
        return known


@dataclass(slots=True)
class _Played:
    """A search with the trials that it was played over, and what came of it."""

    plan: SearchPlan
    line: tuple[Trial, ...]
    stands: Proposal | Advice
    picture: ClimbPicture | None = None
    seen: int = 0
    """The newest change up to which the line is known to be this one."""


def _same(before: tuple[Trial, ...], now: tuple[Trial, ...]) -> bool:
    """Whether these are the very same trials: one that changed is another value."""
    return len(before) == len(now) and all(one is other for one, other in zip(before, now, strict=True))
