"""Climb pictures from what the book holds: of a climb, and of all trials on one line."""

from collections.abc import Sequence

from tenaz.charts.climb import ClimbPicture, climb_picture
from tenaz.core.climbs import Advice, ClimbPlan, Proposal
from tenaz.core.edge import EdgeEstimate
from tenaz.core.knobs import Knob
from tenaz.core.outcomes import Verdict
from tenaz.core.rigs import Rig
from tenaz.core.setpoints import AUTO, Setpoint
from tenaz.core.trials import Trial
from tenaz.engine.climb import climb_limit, on_climb, result_of, standing
from tenaz.margins.edge import Sighting, estimate_edge


def edge_of(knob: Knob, trials: Sequence[Trial]) -> EdgeEstimate | None:
    """Where the edge lies by these trials; those that say nothing are left out."""
    results = [result_of(trial, knob) for trial in trials if trial.verdict is not Verdict.VOID]
    sightings = [
        Sighting(
            knob.strain(r.value),
            (r.elapsed_s if r.failed_after_s is None else r.failed_after_s) / 3600,
            failed=r.verdict is Verdict.FAIL,
            booted=r.booted,
        )
        for r in results
    ]
    ends = sorted((knob.strain(knob.grid.first), knob.strain(knob.grid.last)))
    return estimate_edge(sightings, ends[0], ends[1])


def picture_of_climb(rig: Rig, plan: ClimbPlan, trials: Sequence[Trial]) -> ClimbPicture:
    """The picture of one climb; ``trials`` are all of the rig's."""
    knob, mine = rig.knob(plan.knob), on_climb(trials, plan)
    return _picture(rig, knob, plan.base, plan.reason, mine, mine, standing(rig, plan, trials), plan.load.show())


def picture_of_line(rig: Rig, knob: Knob, through: Setpoint, trials: Sequence[Trial]) -> ClimbPicture | None:
    """The picture of all trials that differ from a setpoint in one knob alone; None when there are none.

    Loads of different kinds feel an edge differently: where it lies is estimated from the newest trial's kind.
    """
    mine = tuple(
        trial
        for trial in trials
        if trial.setpoint[knob.name] is not AUTO and trial.setpoint.matches_except(through, knob.name)
    )
    if not mine or through[knob.name] is AUTO:
        return None
    kind = mine[-1].plan.kind
    alike = tuple(trial for trial in mine if trial.plan.kind is kind)
    return _picture(rig, knob, through, "", mine, alike, None, f"edge by {kind}")


def _picture(
    rig: Rig,
    knob: Knob,
    base: Setpoint,
    reason: str,
    shown: Sequence[Trial],
    weighed: Sequence[Trial],
    stands: Proposal | Advice | None,
    load: str,
) -> ClimbPicture:
    return climb_picture(
        rig=rig.name,
        knob=knob,
        stock=rig.stock[knob.name],
        start=base.number(knob.name),
        limit=climb_limit(knob, reason),
        guard_steps=rig.purpose.guard_band_steps,
        trials=shown,
        edge=edge_of(knob, weighed),
        standing=stands,
        load=load,
    )
