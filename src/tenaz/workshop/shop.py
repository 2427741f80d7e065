"""The workshop: one book, one rig on one bench at a time, at most one run.

The technician's orders come in through one door, from the workbench as from the command line; frozen events go out.
"""

from collections.abc import Callable
from dataclasses import replace
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any

from tenaz.charts.climb import ClimbPicture
from tenaz.charts.field import FieldPicture
from tenaz.charts.night import NightPicture
from tenaz.core.errors import Refused
from tenaz.core.ports import Publish, Question
from tenaz.core.rigs import BenchKind, Rig
from tenaz.core.searches import Advice, Proposal, SearchPlan
from tenaz.core.setpoints import Setpoint
from tenaz.core.trials import Trial
from tenaz.engine import recovery
from tenaz.engine.clock import RealClock
from tenaz.journal.opening import open_book
from tenaz.journal.store import Store
from tenaz.pictures.climbs import picture_of_line
from tenaz.pictures.field import field_picture
from tenaz.pictures.loads import KnownOfLoad, kept_load
from tenaz.pictures.memory import memory_picture
from tenaz.pictures.night import FollowedNight, night_picture
from tenaz.probe.alone import alone
from tenaz.settings.files import change
from tenaz.workshop import orders as o
from tenaz.workshop.afterwards import Afterwards
from tenaz.workshop.at_work import AtWork
from tenaz.workshop.finding import Finding
from tenaz.workshop.follow_ups import follow_ups
from tenaz.workshop.known_rigs import KnownRigs
from tenaz.workshop.naming import setpoint_named
from tenaz.workshop.own_routines import OwnRoutines
from tenaz.workshop.planning import Planning
from tenaz.workshop.recording import Recording
from tenaz.workshop.reporting import Reporting
from tenaz.workshop.rig_list import rig_lines
from tenaz.workshop.running import Running
from tenaz.workshop.scoring import Scoring
from tenaz.workshop.simulated import SimulatedRigs
from tenaz.workshop.trial_page import found_everywhere, trial_page
from tenaz.workshop.view import View, take_view

if TYPE_CHECKING:
    from tenaz.workshop.aboard import Aboard


class Workshop:
    """Opened on a book; :meth:`do` carries out orders, :meth:`view` takes what is to be seen."""

    def __init__(self, publish: Publish = lambda _: None, pace: float | None = None) -> None:
        self._clock = RealClock()
        self._at = AtWork(self._clock, publish)
        self.running = Running(self._at, self._clock, pace)
        self.rigs = KnownRigs(self._at, self.running, self._clock)
        self.simulated = SimulatedRigs(self._at, self.running, self._clock)
        self.finding = Finding(self._at, self.running, self.simulated, self._clock)
        self.rigs.changed = self.finding.typed_in
        self.recording = Recording(self._at, self.running, self._clock)
        self._followed = FollowedNight()
        self._fresh = False
        """Whether the book was made just now."""
        self.running.take_back = self.recording.undo_record
        self.afterwards = Afterwards(self._at, self.running, self._clock)
        self.own_routines = OwnRoutines(self._at, self._clock)
        self.planning = Planning(self._at, self.running, self._clock)
        self.scoring = Scoring(self._at, self.running, self._clock)
        self.reporting = Reporting(self._at, self.scoring, self.finding, self._clock)
        self._doors: dict[type, Callable[[Any], object]] = {
            **self._running_doors(), **self._rig_doors(), **self._book_doors()
        }  # fmt: skip

    @cached_property
    def aboard(self) -> "Aboard":
        """What there is to do aboard the stick; elsewhere nobody pays for it."""
        from tenaz.workshop.aboard import Aboard  # noqa: PLC0415

        return Aboard(self._at, self.running, self._clock)

    def _running_doors(self) -> "dict[type, Callable[[Any], object]]":
        """What runs."""
        return {
            o.StartTrial: lambda x: self.running.start_trial(x.setpoint, x.load, x.reason),
            o.StartRoutine: lambda x: self.running.start_routine(x.setpoint, x.loads, x.reason),
            o.BeginSearch: self.running.begin_search,
            o.GoOn: lambda x: self.running.go_on(x.steps),
            o.RunPlan: lambda x: self.planning.run(x.rule),
            o.EndSearch: lambda _: self.running.end_search(),
            o.Measure: self.scoring.measure,
            o.MeasureInTurn: self.scoring.in_turn,
            o.TakeUp: lambda x: self.running.take_up(x.trial_id),
            o.GiveAnswer: self.running.answer,
            o.Stop: lambda _: self.running.stop(),
            o.StandBy: lambda x: self.aboard.stand_by(x.standing),
            o.ClimbLadder: lambda _: self.aboard.climb_ladder(),
            o.FollowStanding: lambda _: self.aboard.follow(),
            o.LeaveMachine: lambda x: self.aboard.restart() if x.restart else self.aboard.switch_off(),
            o.SetPace: lambda x: setattr(self.running, "pace", x.pace),
        }

    def _rig_doors(self) -> "dict[type, Callable[[Any], object]]":
        """Rigs, their parts and what is wrong with them."""
        return {
            o.WorkOnParts: self.finding.work,
            o.LabelPart: self.finding.label,
            o.TickSymptom: self.finding.tick,
            o.FollowFound: self.finding.follow,
            o.BringFinding: lambda _: self.finding.picture(),
            o.SetFaults: self.simulated.set_faults,
            o.NewSimulated: self.simulated.new,
            o.Reveal: self.simulated.reveal,
            o.ChooseRig: lambda x: self.rigs.choose_rig(x.name),
            o.ChooseBench: lambda x: self.rigs.choose_bench(x.bench),
            o.TakeIn: lambda _: self.rigs.take_in(),
            o.KeepRig: lambda x: self.rigs.keep(x.rig),
            o.Know: lambda x: self.rigs.know(x.knob, x.value),
            o.CorrectGrid: lambda x: self.rigs.correct_grid(x.knob, x.values),
            o.KeepGoldens: lambda x: self.rigs.keep_goldens(x.goldens),
            o.BringRigs: lambda _: rig_lines(self.store),
        }

    def _book_doors(self) -> "dict[type, Callable[[Any], object]]":
        """What is recorded, planned, and looked at."""
        return {
            o.Explain: lambda x: self.recording.explain(x.trial_id, x.outcome, x.elapsed_s, x.errors),
            o.Undo: lambda _: self.recording.undo(),
            o.Correct: self.afterwards.correct,
            o.EnterPast: self.afterwards.enter_past,
            o.SaveRoutine: self.own_routines.save,
            o.DropRoutine: self.own_routines.drop,
            o.AddPlanned: self.planning.add,
            o.MovePlanned: self.planning.move,
            o.SkipPlanned: self.planning.skip,
            o.BringFound: lambda x: found_everywhere(self.store, x.query),
            o.ChangeSetting: lambda x: change(x.name, x.value),
            o.BringTrial: lambda x: trial_page(self.store, x.trial_id),
            o.NoteTrial: lambda x: self.recording.note(x.trial_id, x.text),
            o.NoteValues: lambda x: self.recording.note_values(x.notes),
            o.SettleNote: lambda x: self.recording.settle(x.note_id, x.dropped),
            o.SaveSetpoint: lambda x: self.recording.save_setpoint(x.name, x.setpoint, x.text),
            o.WritePaper: _write,
            o.BringLoad: lambda x: self.load_of(x.trial_id),
            o.KeepOwn: self.scoring.keep_own,
            o.BringScores: self.scoring.picture,
            o.MakeReport: self.reporting.bring,
            o.BringField: self._field,
            o.BringNight: self._night,
            o.BringFollowUps: lambda _: follow_ups(self.store, self._clock.utc()),
            o.BringMemory: lambda _: memory_picture(self.store, self.rig),
            o.BringLine: self._line,
            o.BringSearch: self._past_search,
        }

    def do(self, order: o.Order) -> object:
        """Carry out an order; gives what came of it: words for the technician, what was asked for, or nothing.

        Raises:
            Refused: it cannot be done; nothing was changed.
            BookError: it could not be made durable.
        """
        return self._doors[type(order)](order)

    def publish_to(self, publish: Publish) -> None:
        """Send events elsewhere from now on."""
        self._at.publish_to = publish

    # -- the book ----------------------------------------

    def open(self, place: str | Path | None = None, read_only: bool = False) -> None:
        """Open the book where work was left; put the first two rigs into a new one."""
        self._at.book = open_book(place, read_only)
        store = self.store
        self._fresh = not store.rigs.names() and not store.read_only
        if self._fresh:
            _first_rigs(store)
        names = store.rigs.names()
        if not names:
            raise Refused(f"The book {store.place} has no rig yet; open it once for writing.")
        unfinished, newest = store.trials.unfinished(), store.trials.newest()
        last = unfinished[-1] if unfinished else newest
        self.rigs.choose_rig(last.rig if last and last.rig in names else names[0])
        if last and last.rig == self.rig.name:
            self._at.bench = last.bench
        if alone() and not store.read_only:
            self.aboard.choose_machine()

    @property
    def store(self) -> Store:
        """The open book's store, for what only reads."""
        return self._at.store

    def close(self) -> None:
        """End what runs, then let go of the book. What waits for this machine's restart stays as it is, to be
        taken up when it is back.
        """
        if not (alone() and self.aboard.restarts and self.running.asking is not None):
            self.running.stop()
            self.running.wait()
        if self._at.book is not None:
            self._at.book.close()
            self._at.book = None
            self._at.put_away()
            self._at.undoing.forget()

    # -- what there is to see ----------------------------------------

    @property
    def rig(self) -> Rig:
        """The rig at work."""
        return self._at.rig

    @property
    def bench(self) -> BenchKind:
        """How it is reached."""
        return self._at.bench

    def trials(self) -> tuple[Trial, ...]:
        """The rig's trials that count on this bench."""
        return self._at.trials.trials

    def in_force(self) -> Setpoint:
        """What the rig is set to now."""
        return self._at.in_force()

    def named(self, name: str) -> Setpoint:
        """A setpoint by its name: stock, a saved one, or that of a trial."""
        return setpoint_named(self._at, name)

    def standing(self, plan: SearchPlan) -> Proposal | Advice:
        """Where a search stands, by what the book has now."""
        return self._at.standing(plan)

    def view(self) -> View:
        """Everything that is shown, now."""
        seen = take_view(self._at, self.running.now, self._clock, self.planning.newest_run(), self._fresh)
        return replace(seen, aboard=self.aboard.look()) if alone() else seen

    def next_back(self) -> str:
        """What would be taken back next."""
        return self._at.undoing.next

    def load_of(self, trial_id: int) -> KnownOfLoad:
        """What the book kept of a trial's load."""
        return kept_load(self.store, trial_id)

    def _line(self, order: o.BringLine) -> ClimbPicture | None:
        rig, index = self._at.rig, self._at.trials
        return picture_of_line(rig, rig.knob(order.knob), order.through, index, order.prefer)

    def _past_search(self, order: o.BringSearch) -> ClimbPicture:
        return self._at.shelf.picture(self._past(order.search_id))

    def _past(self, search_id: int) -> SearchPlan:
        plan = self.store.searches.one(search_id)
        if plan is None or plan.rig != self._at.rig.name or plan.bench.real is not self._at.bench.real:
            raise Refused(f"There is no search {search_id} of {self._at.rig.name} on this bench.")
        return plan.on_rig_of(self._at.rig.stock)

    def _field(self, order: o.BringField) -> FieldPicture:
        plan = self._past(order.search_id)
        trials = self._at.shelf.trials(plan.bench)
        measures = self.store.measures.of(self._at.rig.name, self._at.bench)
        return field_picture(self._at.rig, plan, trials, self._at.standing(plan), measures)

    def _night(self, order: o.BringNight) -> NightPicture:
        plan = self._past(order.search_id)
        measures = self.store.measures.of(self._at.rig.name, self._at.bench)
        return night_picture(self._at.rig, plan, self._at.shelf.trials(plan.bench), measures, self._followed)

    def question_about(self, trial: Trial) -> Question:
        """What to ask about an unfinished trial."""
        return recovery.asking(trial, self._clock.boot_id())


def _first_rigs(store: Store) -> None:
    """What a new book begins with: this machine, and a simulated one to practise on."""
    from tenaz.demo.ridge import ridge  # noqa: PLC0415 - catalogues are read where they are needed
    from tenaz.intake.new_rigs import this_machine  # noqa: PLC0415

    store.rigs.put(this_machine())
    store.rigs.put(ridge())


def _write(order: o.WritePaper) -> str:
    order.paper.write(order.path)
    return f"written: {order.path.absolute()}"
