"""Everything that the workbench shows at one moment."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from tenaz.core.knobs.readings import Reading
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.ports.bench import HowLong, Question
from tenaz.core.rigs.notes import ValueNote
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.searches.plans import Planned, PlanRun
from tenaz.core.searches.search import Advice, Proposal, SearchPlan
from tenaz.core.trials.index import TrialIndex
from tenaz.core.trials.trial import Trial
from tenaz.engine import recovery
from tenaz.journal.kept.sheets import SavedSetpoint
from tenaz.pictures.climb.model import ClimbPicture
from tenaz.pictures.status.log_lines import shown_log
from tenaz.workshop.bench.at_work import AtWork
from tenaz.workshop.rigs.rig_list import story_of

if TYPE_CHECKING:
    from tenaz.workshop.shop.aboard import AboardView

LOG_LINES_SHOWN = 300


@dataclass(frozen=True, slots=True)
class View:
    """Everything that the workbench shows, at one moment, for one rig on one bench.

    ``index`` finds trials by setpoint and line. ``in_force`` is what the rig was last set to. ``unfinished`` is a trial
    that nothing runs and nobody has judged. ``differing`` are values that read otherwise than asked when the newest
    trial was confirmed. ``pictures`` holds the newest climb along each knob, ``climbs`` are all, the oldest first,
    ``saved`` the setpoints kept by name, ``notes`` those on values, ``routines`` the workshop's own as lines by name.
    ``planned`` is what is to come, ``plan_run`` the newest run of that. ``undo`` is what would be taken back next,
    ``story`` what brought the rig here, ``fresh`` whether the book was made just now, ``ended`` a
    search over several knobs that nothing was tried since, with what it came to,
    ``asking`` the question that what runs waits for. ``unread`` are rows of the book
    that are damaged and were passed over, ``change`` is the newest change of a trial that is in it,
    ``parts_known`` counts work on the parts and labels on them, ``measured`` tells measures of
    before from those of now, ``aboard`` is there when Tenaz runs from its stick.
    """

    rigs: tuple[str, ...]
    rig: Rig
    bench: BenchKind
    place: str
    read_only: str
    running: bool
    trials: tuple[Trial, ...]
    index: TrialIndex
    in_force: Setpoint
    unfinished: Trial | None
    unfinished_question: Question | None
    differing: tuple[Reading, ...]
    search: SearchPlan | None
    standing: Proposal | Advice | None
    pictures: dict[str, ClimbPicture]
    climbs: tuple[SearchPlan, ...]
    saved: tuple[SavedSetpoint, ...]
    notes: tuple[ValueNote, ...]
    log: tuple[tuple[str, str, str], ...]
    routines: Mapping[str, str] = field(default_factory=dict)
    planned: tuple[Planned, ...] = ()
    plan_run: PlanRun | None = None
    undo: str = ""
    story: str = ""
    fresh: bool = False
    asking: Question | HowLong | None = None
    unread: tuple[str, ...] = ()
    ended: tuple[SearchPlan, Advice] | None = None
    change: int = 0
    parts_known: int = 0
    measured: int = 0
    aboard: "AboardView | None" = None


def take_view(at: AtWork, plan_run: PlanRun | None = None, fresh: bool = False) -> View:
    """Take everything that is shown, from the book and from what is at hand."""
    store, rig, index = at.store, at.rig, at.trials
    search, shelf = at.search(), at.shelf
    unfinished = None
    if not at.runs:
        unfinished = next(iter(reversed(at.unfinished())), None)
    newest_along = store.searches.newest_along(rig.name, at.bench.real)
    known = {knob.name for knob in rig.knobs}
    return View(
        rigs=store.rigs.names(),
        rig=rig,
        bench=at.bench,
        place=store.place,
        read_only=store.read_only,
        running=at.runs,
        trials=index.trials,
        index=index,
        in_force=index.in_force(rig.stock),
        unfinished=unfinished,
        unfinished_question=recovery.asking(unfinished, at.clock.boot_id()) if unfinished else None,
        differing=_differing(at, index.newest),
        search=search,
        standing=shelf.standing(search) if search else None,
        pictures={knob: at.climb(plan.on_rig_of(rig.stock)) for knob, plan in newest_along.items() if knob in known},
        climbs=tuple(one for one in store.searches.of(rig.name) if one.bench.real is at.bench.real),
        saved=store.sheets.saved(rig.name),
        notes=store.sheets.notes(rig.name),
        log=shown_log(store.log.lines(rig.name, LOG_LINES_SHOWN)),
        routines=store.routines.saved(),
        planned=store.plans.waiting(rig.name, at.bench),
        plan_run=plan_run,
        undo=at.undoing.next,
        story=story_of(store, rig),
        fresh=fresh,
        unread=tuple(f"{what}: {why}" for what, why in store.unread.items()),
        change=shelf.newest_change,
        ended=_ended_last(at, index.newest),
        measured=store.measures.newest(rig.name),
        parts_known=len(store.works.of(rig.name, at.bench)) + len(store.works.labels(rig.name)),
    )


def _ended_last(at: AtWork, newest: Trial | None) -> tuple[SearchPlan, Advice] | None:
    """The search over several knobs that the newest trial was made for, once it has ended, and what it came to."""
    plan = at.store.searches.one(newest.search_id) if newest is not None and newest.search_id is not None else None
    if plan is None or not plan.ended or len(plan.knobs) < 2:
        return None
    plan = plan.on_rig_of(at.rig.stock)
    stands = at.shelf.standing(plan)
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
