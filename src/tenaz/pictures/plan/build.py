"""The Plan picture of a rig, from its trials, what is planned, and the newest run of that."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.rigs.notes import ValueNote
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.searches.plans import MOST_PLANNED, Planned, PlanRun, over_at
from tenaz.core.searches.search import SearchPlan
from tenaz.core.trials.costs import MOST_LOOKED_AT, costs_of
from tenaz.core.trials.index import TrialIndex
from tenaz.core.trials.past_trials import ENTERED_LATER
from tenaz.core.trials.trial import Trial
from tenaz.pictures.plan.cells import PlanPicture


@dataclass(frozen=True, slots=True)
class PlanGround:
    """What the plan is drawn from."""

    rig: Rig
    index: TrialIndex
    in_force: Setpoint
    waiting: tuple[Planned, ...]
    climbs: Sequence[SearchPlan]
    run: PlanRun | None
    notes: Sequence[ValueNote]
    bench: BenchKind


def _of_run(trial: Trial, run: PlanRun) -> bool:
    """Whether a trial was made in a run: after its begin, before its end, and not entered later."""
    before_end = run.ended_utc is None or trial.begun_utc < run.ended_utc
    return trial.number >= run.from_number and before_end and trial.seen_by != ENTERED_LATER


def plan_picture(ground: PlanGround, now: datetime, at: int = 0) -> PlanPicture:
    """What is to come from ``now`` on, the trial at a place pointed at, and the account of the newest run."""
    run, waiting = ground.run, ground.waiting
    made = tuple(one for one in ground.index.latest(MOST_PLANNED) if run is not None and _of_run(one, run))
    boot_s = costs_of(ground.index.latest(MOST_LOOKED_AT)).boot_s
    return PlanPicture(
        ground.rig,
        ground.in_force,
        waiting,
        min(at, max(0, len(waiting) - 1)),
        tuple((one.id, ", ".join(ground.rig.knob(name).label for name in one.knobs)) for one in ground.climbs),
        # Simulated hours are no hours of the wall.
        over_at(now, waiting, boot_s) if ground.bench.real else None,
        run,
        made,
        tuple(note for note in ground.notes if note.open),
    )
