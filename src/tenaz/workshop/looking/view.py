"""What a workbench shows at one moment, in parts; each is taken by itself by whoever needs no more."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from tenaz.advice.known import Known, Searches
from tenaz.core.knobs.readings import Reading
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.ports.bench import HowLong, Question
from tenaz.core.rigs.notes import ValueNote
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.searches.plans import Planned, PlanRun
from tenaz.core.searches.search import Advice, SearchPlan
from tenaz.core.trials.index import TrialIndex
from tenaz.core.trials.stands import Stands
from tenaz.core.trials.trial import Trial
from tenaz.core.trials.tried import newest_tried
from tenaz.engine import recovery
from tenaz.journal.kept.sheets import SavedSetpoint
from tenaz.pictures.status.log_lines import shown_log
from tenaz.workshop.bench.at_work import AtWork
from tenaz.workshop.bench.home import HomeNow
from tenaz.workshop.looking.visiting import visit_of
from tenaz.workshop.rigs.rig_list import story_of

if TYPE_CHECKING:
    from tenaz.workshop.shop.aboard import AboardView

LOG_LINES_SHOWN = 300


@dataclass(frozen=True, slots=True)
class Kept:
    """What the book keeps beside trials: setpoints ``saved`` by name, ``notes`` on values, ``routines`` as lines by
    name, what is ``planned`` and the newest run of that.
    """

    saved: tuple[SavedSetpoint, ...] = ()
    notes: tuple[ValueNote, ...] = ()
    routines: Mapping[str, str] = field(default_factory=dict)
    planned: tuple[Planned, ...] = ()
    plan_run: PlanRun | None = None


@dataclass(frozen=True, slots=True)
class Now:
    """Whether something runs and what it asks; a trial that nothing runs and nobody has judged, with the ``question``
    about it; values that read otherwise than asked when the newest trial was confirmed; what would be taken back next,
    and how much was done since the book was opened that could be.
    """

    running: bool = False
    asking: Question | HowLong | None = None
    unfinished: Trial | None = None
    question: Question | None = None
    differing: tuple[Reading, ...] = ()
    undo: str = ""
    made: int = 0


@dataclass(frozen=True, slots=True)
class Book:
    """Where it is, why it is only looked at (else empty), its rigs, whether it was made just now, and its ``unread``
    rows: damaged, and passed over. ``home`` is how a working copy stands to its home, ``beside`` how much was kept
    beside when they met, that nobody has looked at.
    """

    place: str
    read_only: str = ""
    rigs: tuple[str, ...] = ()
    fresh: bool = False
    unread: tuple[str, ...] = ()
    home: HomeNow = field(default_factory=HomeNow)
    beside: int = 0


@dataclass(frozen=True, slots=True)
class Marks:
    """What tells an older picture from one of now: the newest change of a trial, work on parts and labels counted, the
    newest measure.
    """

    change: int = 0
    parts: int = 0
    measured: int = 0


@dataclass(frozen=True, slots=True)
class View:
    """Everything that the workbench shows, at one moment, for one rig on one bench. ``story`` is what brought the rig
    here; ``aboard`` is there when Tenaz runs from its stick.
    """

    stands: Stands
    book: Book
    now: Now = field(default_factory=Now)
    searches: Searches = field(default_factory=Searches)
    kept: Kept = field(default_factory=Kept)
    marks: Marks = field(default_factory=Marks)
    log: tuple[tuple[str, str, str], ...] = ()
    story: str = ""
    aboard: "AboardView | None" = None

    @property
    def rig(self) -> Rig:
        """The rig at work."""
        return self.stands.rig

    @property
    def bench(self) -> BenchKind:
        """How it is reached."""
        return self.stands.bench

    @property
    def in_force(self) -> Setpoint:
        """What it was last set to."""
        return self.stands.in_force

    @property
    def index(self) -> TrialIndex:
        """Finds its trials by setpoint and line."""
        return self.stands.index

    @property
    def trials(self) -> tuple[Trial, ...]:
        """Those that count, oldest first."""
        return self.stands.trials

    @property
    def unfinished(self) -> Trial | None:
        """A trial that nothing runs and nobody has judged."""
        return self.now.unfinished

    @property
    def known(self) -> Known:
        """What an advice rests on."""
        return Known(self.stands, self.searches, self.now.differing, self.book.read_only)


@dataclass(frozen=True, slots=True)
class SessionNow:
    """The parts of a view that a session on paper is made of."""

    stands: Stands
    searches: Searches
    kept: Kept
    story: str
    unfinished: Trial | None


def take_session(at: AtWork, plan_run: PlanRun | None) -> SessionNow:
    """What a session on paper is made of."""
    story, unfinished = story_of(at.store, at.rig), at.newest_unfinished()
    return SessionNow(take_stands(at), take_searches(at), take_kept(at, plan_run), story, unfinished)


def take_stands(at: AtWork) -> Stands:
    """What stands, as the book has it now."""
    index = at.trials
    return Stands(at.rig, at.bench, index.in_force(at.rig.stock), index)


def take_searches(at: AtWork) -> Searches:
    """Where searches stand."""
    store, rig, real = at.store, at.rig, at.bench.real
    going = at.search()
    newest = store.searches.newest_along(rig.name, real)
    known = {knob.name for knob in rig.knobs}
    return Searches(
        going,
        at.standing(going) if going else None,
        {knob: at.climb(plan.on_rig_of(rig.stock)) for knob, plan in newest.items() if knob in known},
        tuple(one for one in store.searches.of(rig.name) if one.bench.real is real),
        _ended_last(at),
        None if going else visit_of(at),
    )


def take_kept(at: AtWork, plan_run: PlanRun | None = None) -> Kept:
    """What is kept beside trials."""
    store, name = at.store, at.rig.name
    return Kept(
        store.sheets.saved(name),
        store.sheets.notes(name),
        store.routines.saved(),
        store.plans.waiting(name, at.bench),
        plan_run,
    )


def take_known(at: AtWork) -> Known:
    """What an advice rests on; whether the book may be written is for whoever asks."""
    stands = take_stands(at)
    return Known(stands, take_searches(at), _differing(at, stands.index.newest))


def take_view(
    at: AtWork, plan_run: PlanRun | None = None, fresh: bool = False, asking: Question | HowLong | None = None
) -> View:
    """Take everything that is shown, from the book and from what is at hand."""
    store, stands = at.store, take_stands(at)
    rig = stands.rig
    # What another Tenaz runs is no trial that was cut short.
    unfinished = None if at.runs_on(rig.name) else at.newest_unfinished()
    question = recovery.asking(unfinished, at.clock.boot_id()) if unfinished else None
    unread = tuple(f"{what}: {why}" for what, why in store.unread.items())
    parts = len(store.works.of(rig.name, at.bench)) + len(store.works.labels(rig.name))
    return View(
        stands,
        Book(store.place, at.look_only, store.rigs.names(), fresh, unread, at.home.now, store.beside.waiting()),
        Now(
            at.runs, asking, unfinished, question, _differing(at, stands.index.newest), at.undoing.next, at.undoing.made
        ),
        take_searches(at),
        take_kept(at, plan_run),
        Marks(at.shelf.newest_change, parts, store.measures.newest(rig.name)),
        shown_log(store.log.timed_lines(rig.name, LOG_LINES_SHOWN)),
        story_of(store, rig),
    )


def _ended_last(at: AtWork) -> tuple[SearchPlan, Advice] | None:
    """The search over several knobs for which the newest trial that tried anything was made, once it has ended, and
    what it came to.
    """
    newest = newest_tried(at.trials.trials)
    plan = at.store.searches.one(newest.search_id) if newest is not None and newest.search_id is not None else None
    if plan is None or not plan.ended or len(plan.knobs) < 2:
        return None
    plan = plan.on_rig_of(at.rig.stock)
    stands = at.standing(plan)
    return (plan, stands) if isinstance(stands, Advice) else None


def _differing(at: AtWork, newest: Trial | None) -> tuple[Reading, ...]:
    """Values that read otherwise in the newest trial, and still stand on their knobs' grids."""
    if newest is None:
        return ()
    read = at.store.trials.readings_of(newest.id)
    knobs = {knob.name: knob for knob in at.rig.knobs}
    return tuple(
        one
        for one in (read[-1] if read else ())
        if not one.agrees and one.knob in knobs and newest.asked[one.knob] in knobs[one.knob].grid
    )
