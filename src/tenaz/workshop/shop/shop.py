"""The workshop: one book, one rig on one bench at a time, at most one run.

The technician's orders come in through one door, from the workbench as from the command line; frozen events go out.
"""

from contextlib import suppress
from dataclasses import replace
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, TypeVar

from tenaz.advice.known import Known
from tenaz.advice.visits import VisitTrial
from tenaz.core.base.errors import Refused, TenazError
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.ports.bench import Publish, Question
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.trials.stands import Stands
from tenaz.core.trials.trial import Trial
from tenaz.engine import recovery
from tenaz.engine.clock import RealClock
from tenaz.journal.opening.opening import open_book
from tenaz.journal.store import Store
from tenaz.orders import Begins, ChooseBench, ChooseRig, KeepRig, Looks, Order, Redo, SetPace, Undo
from tenaz.probe.alone import alone
from tenaz.workshop.bench.at_work import AtWork
from tenaz.workshop.bench.doing import handlers_of
from tenaz.workshop.looking.looking import Looking
from tenaz.workshop.looking.view import SessionNow, View, take_known, take_session, take_stands, take_view
from tenaz.workshop.looking.visiting import visits_of
from tenaz.workshop.records.afterwards import Afterwards
from tenaz.workshop.records.naming import setpoint_named
from tenaz.workshop.records.own_routines import OwnRoutines
from tenaz.workshop.records.recording import Recording
from tenaz.workshop.reports.reporting import Reporting
from tenaz.workshop.rigs.finding import FaultFinding
from tenaz.workshop.rigs.known_rigs import KnownRigs
from tenaz.workshop.rigs.parts import Parts
from tenaz.workshop.rigs.simulated import SimulatedRigs
from tenaz.workshop.runs.planning import Planning
from tenaz.workshop.runs.running import Running
from tenaz.workshop.runs.scoring import Scoring

if TYPE_CHECKING:
    from tenaz.workshop.shop.aboard import Aboard

A = TypeVar("A")


class Workshop:
    """Opened on a book; :meth:`do` carries out orders, :meth:`view` takes what is to be seen."""

    def __init__(self, publish: Publish = lambda _: None, pace: float | None = None) -> None:
        at = self.at = AtWork(RealClock(), publish)
        self._fresh = False
        """Whether the book was made just now."""
        simulated = SimulatedRigs(at)
        self.recording, self._parts = Recording(at), Parts(at, simulated)
        self.running = Running(at, self.recording, pace)
        self.rigs = KnownRigs(at, self._parts)
        self.planning = Planning(at, self.running)
        self._scoring = Scoring(at, self.running)
        self._finding = FaultFinding(at, self.running, self._parts)
        self.reporting = Reporting(at, self._scoring, self._finding, self._parts)
        self._handlers = handlers_of(
            simulated, self.recording, self.running, self.rigs, self.planning, self._scoring, self._finding,
            self.reporting, Afterwards(at), OwnRoutines(at), Looking(at),
        )  # fmt: skip

    @cached_property
    def aboard(self) -> "Aboard":
        """What there is to do aboard the stick; elsewhere nobody pays for it."""
        from tenaz.workshop.shop.aboard import Aboard  # noqa: PLC0415

        return Aboard(self.at, self.running, self.recording, self._parts)

    def do(self, order: Order[A]) -> A:
        """Carry out an order; gives what came of it: words for the technician, what was asked for, or nothing.

        Raises:
            Refused: it cannot be done; nothing was changed.
            BookError: it could not be made durable.
        """
        if type(order) not in self._handlers:
            self._handlers |= handlers_of(self.aboard)
        self.at.catch_up()
        elsewhere = isinstance(order, KeepRig) and order.rig.name != self.rig.name
        if not isinstance(order, Looks | ChooseRig | ChooseBench | SetPace) and not elsewhere:
            self.at.refuse_to_look_only()
        undoing, handler = self.at.undoing, self._handlers[type(order)]
        made = undoing.made
        came: A = handler(order)
        if not isinstance(order, Undo | Redo | Looks | Begins):
            undoing.by_order(made, lambda: handler(order))
        return came

    def publish_to(self, publish: Publish) -> None:
        """Send events elsewhere from now on."""
        self.at.publish_to = publish

    # -- the book ----------------------------------------

    def open(self, place: str | Path | None = None, read_only: bool = False, rig: str = "") -> None:
        """Open the book where work was left, or at a rig that is named; put the first two rigs into a new one.

        Raises:
            Refused: a book without rigs that may only be looked at, or one that has no such rig.
        """
        self.at.book = open_book(place, read_only)
        self.at.home.listen(self.at.book, lambda: self.at.publish_to, self._log_home)
        store = self.store
        self._fresh = not store.rigs.names() and not store.read_only
        if self._fresh:
            _first_rigs(store)
        self.running.show_figures(not store.read_only)
        names = store.rigs.names()
        if not names:
            raise Refused(f"The book {store.place} has no rig yet; open it once for writing.")
        if rig:
            self.rigs.choose_rig(ChooseRig(rig))
            return
        unfinished, newest = store.trials.unfinished(), store.trials.newest()
        last = unfinished[-1] if unfinished else newest
        self.rigs.choose_rig(ChooseRig(last.rig if last and last.rig in names else names[0]))
        if last and last.rig == self.rig.name:
            self.at.bench = last.bench
        if alone() and not store.read_only:
            self.aboard.choose_machine()

    def _log_home(self, words: str) -> None:
        """The home is away, or answers again; where nothing can be written it is only shown."""
        with suppress(TenazError):
            self.at.log("book", words)

    @property
    def store(self) -> Store:
        """The open book's store, for what only reads."""
        return self.at.store

    def close(self) -> None:
        """End what runs, then let go of the book. What waits for this machine's restart stays as it is, to be
        taken up when it is back.
        """
        if not (alone() and self.aboard.restarts and self.running.asking is not None):
            self.running.stop()
            self.running.wait()
        self.running.show_figures(False)
        if self.at.book is not None:
            self.at.book.close()
            self.at.book = None
            self.at.put_away()
            self.at.undoing.forget()

    # -- what there is to see ----------------------------------------

    @property
    def rig(self) -> Rig:
        """The rig at work."""
        return self.at.rig

    @property
    def bench(self) -> BenchKind:
        """How it is reached."""
        return self.at.bench

    def trials(self) -> tuple[Trial, ...]:
        """The rig's trials that count on this bench."""
        return self.at.trials.trials

    def in_force(self) -> Setpoint:
        """What the rig is set to now."""
        return self.at.in_force()

    def named(self, name: str) -> Setpoint:
        """A setpoint by its name: stock, a saved one, or that of a trial."""
        return setpoint_named(self.at, name)

    def stands(self) -> Stands:
        """What stands now, without all that a screen shows beside it."""
        return take_stands(self.at)

    def known(self) -> Known:
        """What an advice rests on, now."""
        return take_known(self.at)

    def visits(self) -> tuple[VisitTrial, ...]:
        """What to try where the rig was left alone for long, what tells most first."""
        return visits_of(self.at, self.at.clock.utc())

    def session(self) -> SessionNow:
        """The day, the plan and what they are made of, now."""
        return take_session(self.at, self.planning.newest_run())

    def view(self) -> View:
        """Everything that is shown, now."""
        self.at.catch_up()
        seen = take_view(self.at, self.planning.newest_run(), self._fresh, self.running.asking)
        return replace(seen, aboard=self.aboard.look()) if alone() else seen

    def next_back(self) -> str:
        """What would be taken back next."""
        return self.at.undoing.next

    def question_about(self, trial: Trial) -> Question:
        """What to ask about an unfinished trial."""
        return recovery.asking(trial, self.at.clock.boot_id())


def _first_rigs(store: Store) -> None:
    """What a new book begins with: this machine, and a simulated one to practise on."""
    from tenaz.demo.ridge import ridge  # noqa: PLC0415 - catalogues are read where they are needed
    from tenaz.intake.new_rigs import this_machine  # noqa: PLC0415

    store.rigs.put(this_machine())
    store.rigs.put(ridge())
