"""What is worked on: the open book, one rig on one bench, and where events go."""

from collections.abc import Callable, Iterable
from typing import TYPE_CHECKING

from tenaz.core.base.errors import BookError, Refused
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.ports.bench import Clock, Publish
from tenaz.core.ports.events import Logged, TrialMoved
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.searches.search import Advice, Proposal, SearchPlan
from tenaz.core.trials.alike import Alike
from tenaz.core.trials.in_force import setpoint_in_force
from tenaz.core.trials.index import TrialIndex
from tenaz.core.trials.trial import Trial
from tenaz.engine.shelf import Shelf
from tenaz.journal.store import Store
from tenaz.pictures.climb.model import ClimbPicture
from tenaz.workshop.bench.climb_pictures import ClimbPictures
from tenaz.workshop.bench.home import HomeHeard
from tenaz.workshop.bench.undoing import Undoing

if TYPE_CHECKING:
    from tenaz.journal.opening.opening import OpenBook


HELD = "{who} works on {rig} now. Let it end there, or choose another rig; here it is only looked at."
ANOTHER = "another Tenaz"


def _nothing() -> None:
    """There is no line to leave."""


class AtWork:
    """Shared by the parts of the workshop."""

    def __init__(self, clock: Clock, publish: Publish) -> None:
        self.publish_to = publish
        self.clock = clock
        self.book: OpenBook | None = None
        self.bench = BenchKind.SIM
        self.runs = False
        """Whether something is under way: the one place that knows."""
        self.undoing = Undoing()
        self._rig: Rig | None = None
        self._held = self._held_elsewhere = ""
        self._leave: Callable[[], None] = _nothing
        self._shelf: Shelf | None = None
        self._climbs = ClimbPictures()
        self.home = HomeHeard()

    def publish(self, event: object) -> None:
        """Send an event to whoever listens now."""
        if isinstance(event, TrialMoved):
            self.hold((event.trial,))
        self.publish_to(event)

    def hold(self, trials: Iterable[Trial]) -> None:
        """What was in force in trials is among the values of the rig at work from now on, as in the book."""
        for trial in trials:
            if self._rig is not None and trial.rig == self._rig.name:
                self._rig = self._rig.holding(trial.setpoint)

    @property
    def store(self) -> Store:
        """The open book's store.

        Raises:
            Refused: no book is open.
        """
        if self.book is None:
            raise Refused("No book is open yet.")
        return self.book.store

    @property
    def rig(self) -> Rig:
        """The rig at work.

        Raises:
            Refused: none is, because no book is open.
        """
        if self._rig is None:
            raise Refused("No rig is worked on yet: open a book first.")
        return self._rig

    @rig.setter
    def rig(self, rig: Rig) -> None:
        self._rig = rig
        if rig.name != self._held:
            self._hold()

    def _hold(self) -> None:
        """Be the one who works on this rig; where somebody else does, it is only looked at."""
        self.reach_by()
        self._held = self.rig.name
        held = self.book is None or self.book.hold(self._held)
        who = self.book.held_by if self.book is not None and not held else ""
        self._held_elsewhere = "" if held else HELD.format(rig=self._held, who=who or ANOTHER)

    @property
    def look_only(self) -> str:
        """Why nothing of the rig at work can be written here; empty: it can. One let go of elsewhere is taken."""
        if self._held_elsewhere:
            self._hold()
        return self.store.read_only or self._held_elsewhere

    def catch_up(self) -> None:
        """What came from other benches counts from now on; while something runs it waits."""
        if self._rig is None or self.runs or (moved := self.home.moved()) is None:
            return
        renamed, dropped = moved
        name = renamed.get(self._rig.name, self._rig.name)
        if name in self.store.rigs.names() and (now := self.store.rigs.one(name)) != self._rig:
            self.rig = now
        if dropped:
            self._shelf = None

    def holder(self, rig: str) -> str:
        """Who else works on a rig, by name; empty: nobody, or nobody knows who."""
        return self.book.holder(rig) if self.book is not None else ""

    def reach_by(self, leave: Callable[[], None] = _nothing) -> None:
        """There is a line to the rig at work, left by this, or none; the one before is left now. One at a time."""
        before, self._leave = self._leave, leave
        before()

    def runs_on(self, rig: str) -> bool:
        """Whether something runs on a rig of the book: here, or where somebody else works on it."""
        if rig == self.rig.name and self.runs:
            return True
        return self.book is not None and self.book.held_elsewhere(rig)

    def refuse_to_look_only(self) -> None:
        """Refuse what would write.

        Raises:
            BookError: the book, or the rig at work, may only be looked at here.
        """
        if why := self.look_only:
            raise BookError(f"Nothing can be written: {why}")

    def put(self, rig: Rig) -> None:
        """The rig at work is this from now on, in the book too."""
        self.rig = rig
        self.store.rigs.put(rig)

    def rig_named(self, name: str) -> Rig:
        """A rig of the book: the one at work, or another."""
        return self.rig if name == self.rig.name else self.store.rigs.one(name)

    @property
    def shelf(self) -> Shelf:
        """The trials of the rig at work."""
        before = self._shelf
        self._shelf = Shelf(self.store.trials, self.rig) if before is None else before.of(self.rig)
        if self._shelf is not before:
            self._shelf.hear_of_alike(self._alike())
        return self._shelf

    def _alike(self) -> dict[bool, Alike]:
        """What the workshop's other rigs of the same memory have shown, in its use and in their owners'."""
        alike = self.store.rigs.used_h(self.rig.family)
        alike.pop(self.rig.name, None)
        used_h = sum(alike.values())
        found = {real: self.store.trials.shown_by(list(alike), real) for real in (False, True)}
        return {real: Alike(one.hours + used_h * real, one.failures) for real, one in found.items()}

    def put_away(self) -> None:
        """Forget what belonged to a book that is closed, or to trials that are no longer in it."""
        self._shelf, self._held = None, ""
        self.reach_by()

    @property
    def trials(self) -> TrialIndex:
        """The rig's trials that count on this bench."""
        return self.shelf.trials(self.bench)

    def in_force(self) -> Setpoint:
        """What the rig is set to now; where nothing else of its trials was asked for, read from the newest alone."""
        if self._shelf is not None and self._shelf.newest_change:
            return self.trials.in_force(self.rig.stock)
        last = self.store.trials.last_that_set(self.rig.name, self.bench)
        return setpoint_in_force((last,) if last is not None else (), self.rig.stock)

    # -- searches ----------------------------------------

    def search(self) -> SearchPlan | None:
        """The search that is not finished, on this bench."""
        plan = self.store.searches.going(self.rig.name, self.bench)
        return None if plan is None else plan.on_rig_of(self.rig.stock)

    def standing(self, plan: SearchPlan) -> Proposal | Advice:
        """Where a search stands, as the book has it now."""
        return self.shelf.standing(plan)

    def climb(self, plan: SearchPlan) -> ClimbPicture:
        """The picture of a search along one knob, as the book has it now."""
        return self._climbs.of(self.rig, plan, self.shelf)

    # -- what forbids an order ----------------------------------------

    def unfinished(self) -> tuple[Trial, ...]:
        """Trials that count on this bench and were never judged, oldest first."""
        return tuple(
            trial
            for trial in self.store.trials.unfinished()
            if trial.rig == self.rig.name and trial.bench.real is self.bench.real
        )

    def newest_unfinished(self) -> Trial | None:
        """The newest of these; None where every trial was judged."""
        return next(iter(reversed(self.unfinished())), None)

    def refuse_while(self, what: str) -> None:
        """Refuse an order that something under way forbids.

        Raises:
            Refused: something runs.
        """
        if self.runs:
            raise Refused(f"Cannot {what} while a trial runs; stop it first.")

    def refuse_while_unexplained(self) -> None:
        """Refuse to begin anything while an earlier trial has no record.

        Raises:
            Refused: names the trial.
            BookError: somebody else works on the rig.
        """
        self.refuse_to_look_only()
        for trial in self.unfinished():
            raise Refused(
                f"Trial {trial.number} was never judged: say first what was seen of it "
                f"(in the workbench, or with: tenaz seen froze)."
            )

    def log(self, source: str, text: str, trial_id: int | None = None) -> None:
        """A line for the log, and for whoever listens."""
        self.store.log.write(self.rig.name, trial_id, source, text, self.clock)
        self.publish(Logged(source, text))
