"""One rig's trials at hand, read from the book once and then only what changed; and where its searches stand."""

import threading
from dataclasses import dataclass

from tenaz.core.ports.bench import TrialsRead
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.searches.search import Advice, Proposal, SearchPlan
from tenaz.core.trials.alike import Alike
from tenaz.core.trials.index import TrialIndex
from tenaz.search.played import Played, played, same_trials, told_of


class Shelf:
    """What is known of one rig's trials, and what follows from them, kept until a newer record comes. May be asked from
    any thread.
    """

    def __init__(self, book: TrialsRead, rig: Rig) -> None:
        self._book = book
        self._rig = rig
        self._lock = threading.RLock()
        self._seen = 0
        self._alike: dict[bool, Alike] = {}
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
                return Shelf(self._book, rig)
            if rig != self._rig:
                before, self._rig = self._rig, rig
                self._searches.clear()
                if rig.stock.items_by_name != before.stock.items_by_name:
                    self._fresh()
            return self

    def hear_of_alike(self, alike: dict[bool, Alike]) -> None:
        """What rigs that are like this one have shown, simulated and real ones apart."""
        with self._lock:
            self._alike = alike

    @property
    def newest_change(self) -> int:
        """The newest change that is on the shelf."""
        return self._seen

    def trials(self, bench: BenchKind) -> TrialIndex:
        """The trials that count on a bench, as the book has them now: those of a simulated stand-in and those of the
        rig itself are apart.
        """
        with self._lock:
            self._seen, changed = self._book.since(self._rig.name, self._seen)
            for trial in changed:
                self._indexes[trial.bench.real].put(trial.on_rig_of(self._rig.stock))
            index = self._indexes[bench.real]
            index.alike = self._alike.get(bench.real, Alike())
            index.cleared_after = self._book.cleared_after(self._rig.name, bench.real)
            return index

    def standing(self, plan: SearchPlan) -> Proposal | Advice:
        """Where a search stands, as the book has it now."""
        self.trials(plan.bench)
        return self.played(plan).stands

    def played(self, plan: SearchPlan) -> Played:
        """A search by what is on the shelf; played anew, or on, only when a trial on its line has changed."""
        with self._lock:
            trials, known = self._indexes[plan.bench.real], self._searches.get(plan.id)
            if known is not None and known.played.plan == plan and known.seen == self._seen:
                return known.played
            line = told_of(trials, plan)
            if (
                known is None
                or known.played.plan != plan
                or not (same_trials(known.played.line, line) or known.played.go_on(line))
            ):
                known = self._searches[plan.id] = _Kept(played(self._rig, plan, trials))
            known.seen = self._seen
            return known.played


@dataclass(slots=True)
class _Kept:
    """A search that was played; ``seen`` is the newest change up to which its line is known to be this one."""

    played: Played
    seen: int = 0
