"""What is worked on: the open book, one rig on one bench, and where events go."""

from tenaz.core.errors import Refused
from tenaz.core.events import Logged
from tenaz.core.in_force import setpoint_in_force
from tenaz.core.ports import Clock, Publish
from tenaz.core.rigs import BenchKind, Rig
from tenaz.core.searches import Advice, Proposal, SearchPlan
from tenaz.core.setpoints import Setpoint
from tenaz.core.trial_index import TrialIndex
from tenaz.core.trials import Trial
from tenaz.journal.opening import OpenBook
from tenaz.journal.store import Store
from tenaz.workshop.rig_list import story_of
from tenaz.workshop.shelf import Shelf
from tenaz.workshop.undoing import Undoing


class AtWork:
    """Shared by the parts of the workshop."""

    def __init__(self, clock: Clock, publish: Publish) -> None:
        self.publish_to = publish
        self.book: OpenBook | None = None
        self._rig: Rig | None = None
        self.bench = BenchKind.SIM
        self._clock = clock
        self._shelf: Shelf | None = None
        self._story: tuple[Rig, str] | None = None
        self.undoing = Undoing()

    def publish(self, event: object) -> None:
        """Send an event to whoever listens now."""
        self.publish_to(event)

    @property
    def store(self) -> Store:
        """The open book's store."""
        if self.book is None:
            raise Refused("No book is open yet.")
        return self.book.store

    @property
    def rig(self) -> Rig:
        """The rig at work."""
        if self._rig is None:
            raise Refused("No rig is worked on yet: open a book first.")
        return self._rig

    @rig.setter
    def rig(self, rig: Rig) -> None:
        self._rig = rig

    @property
    def shelf(self) -> Shelf:
        """The trials of the rig at work."""
        self._shelf = Shelf(self.store, self.rig) if self._shelf is None else self._shelf.of(self.rig)
        return self._shelf

    def put_away(self) -> None:
        """Forget what belonged to a book that is closed."""
        self._shelf = self._story = None

    @property
    def trials(self) -> TrialIndex:
        """The rig's trials that count on this bench."""
        return self.shelf.trials(self.bench)

    @property
    def story(self) -> str:
        """What brought the rig at work here; read once, until something is changed of the rig."""
        if self._story is None or self._story[0] != self.rig:
            self._story = self.rig, story_of(self.store, self.rig)
        return self._story[1]

    def in_force(self) -> Setpoint:
        """What the rig is set to now; where nothing else of its trials was asked for, read from the newest alone."""
        if self._shelf is not None and self._shelf.newest_change:
            return self.trials.in_force(self.rig.stock)
        last = self.store.trials.last_that_set(self.rig.name, self.bench)
        return setpoint_in_force((last,) if last is not None else (), self.rig.stock)

    def search(self) -> SearchPlan | None:
        """The search that is not finished, on this bench."""
        plan = self.store.searches.going(self.rig.name, self.bench)
        return None if plan is None else plan.on_rig_of(self.rig.stock)

    def standing(self, plan: SearchPlan) -> Proposal | Advice:
        """Where a search stands, as the book has it now."""
        shelf = self.shelf
        shelf.trials(plan.bench)
        return shelf.standing(plan)

    def unfinished(self) -> tuple[Trial, ...]:
        """Trials that count on this bench and were never judged, oldest first."""
        return tuple(
            trial
            for trial in self.store.trials.unfinished()
            if trial.rig == self.rig.name and trial.bench.real is self.bench.real
        )

    def keep_snapshot(self, trial: Trial) -> None:
        """Keep what there is to see of a trial that ended."""
        from tenaz.pictures.snapshot import keep_snapshot  # noqa: PLC0415 - only the end of a trial needs it

        plan = None if trial.search_id is None else self.store.searches.one(trial.search_id)
        plan = None if plan is None else plan.on_rig_of(self.rig.stock)
        self.shelf.trials(trial.bench)
        # A search over several knobs has no picture along one.
        along = plan if plan is not None and len(plan.knobs) == 1 else None
        keep_snapshot(self.store, self.rig, trial, self._clock, self.shelf.picture(along) if along else None)

    def log(self, source: str, text: str, trial_id: int | None = None) -> None:
        """A line for the log, and for whoever listens."""
        self.store.log.write(self.rig.name, trial_id, source, text, self._clock)
        self.publish(Logged(source, text))
