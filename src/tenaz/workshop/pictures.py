"""Climb pictures from what the book holds: of a climb, and of all trials on one line."""

from collections import Counter
from collections.abc import Sequence

from tenaz.charts.climb import ClimbPicture, Strand, climb_picture
from tenaz.core.bracket import bracket_of
from tenaz.core.climbs import Advice, ClimbPlan, Proposal
from tenaz.core.edge import EdgeEstimate
from tenaz.core.knobs import Knob
from tenaz.core.load_kinds import LoadKind
from tenaz.core.outcomes import Outcome, Verdict
from tenaz.core.rigs import Rig
from tenaz.core.setpoints import Auto, Setpoint
from tenaz.core.trials import Trial
from tenaz.engine.climb import climb_limit, on_climb, result_of, standing
from tenaz.margins.edge import Sighting, estimate_edge


def edge_of(knob: Knob, trials: Sequence[Trial], others: Sequence[Trial] = ()) -> EdgeEstimate | None:
    """Where the edge lies by these trials; those that say nothing are left out. Of ``others``, which ran another load,
    only whether the rig came up counts: that does not depend on what was to be run.
    """
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
    boots = [result_of(trial, knob) for trial in others if trial.verdict is not Verdict.VOID]
    sightings += [Sighting(knob.strain(r.value), 0.0, failed=not r.booted, booted=r.booted) for r in boots]
    ends = sorted((knob.strain(knob.grid.first), knob.strain(knob.grid.last)))
    return estimate_edge(sightings, ends[0], ends[1])


def picture_of_climb(rig: Rig, plan: ClimbPlan, trials: Sequence[Trial]) -> ClimbPicture:
    """The picture of one climb; ``trials`` are all of the rig's."""
    knob, mine = rig.knob(plan.knob), on_climb(trials, plan)
    stands = standing(rig, plan, trials)
    return _picture(rig, knob, plan.base, plan.reason, mine, plan.load.kind, stands, plan.load.show())


def picture_of_line(
    rig: Rig, knob: Knob, through: Setpoint, trials: Sequence[Trial], prefer: LoadKind
) -> ClimbPicture | None:
    """The picture of all trials that differ from a setpoint in one knob alone; None when there are none.

    Loads of different kinds feel an edge differently: the picture is about the preferred one where it ran here, else
    about the one that ran most; the others are strands of their own.
    """
    if isinstance(through[knob.name], Auto):
        return None
    mine = tuple(
        trial
        for trial in trials
        if not isinstance(trial.setpoint[knob.name], Auto) and trial.setpoint.matches_except(through, knob.name)
    )
    if not mine:
        return None
    ran = Counter(kind for trial in mine for kind in trial.plan.kinds)
    kind = prefer if prefer in ran else ran.most_common(1)[0][0]
    return _picture(rig, knob, through, "", mine, kind, None, f"under {kind}")


def _picture(
    rig: Rig,
    knob: Knob,
    base: Setpoint,
    reason: str,
    trials: Sequence[Trial],
    kind: LoadKind,
    stands: Proposal | Advice | None,
    load: str,
) -> ClimbPicture:
    others = dict.fromkeys(other for trial in trials for other in trial.plan.kinds if other is not kind)
    return climb_picture(
        rig=rig.name,
        knob=knob,
        stock=rig.stock[knob.name],
        start=base.number(knob.name),
        limit=climb_limit(knob, reason),
        guard_steps=rig.purpose.guard_band_steps,
        trials=trials,
        edge=edge_under(knob, trials, kind),
        standing=stands,
        load=load,
        kind=kind,
        base=base,
        strands=[_strand(knob, trials, other) for other in others],
    )


def _strand(knob: Knob, trials: Sequence[Trial], kind: LoadKind) -> Strand:
    counting = [t for t in trials if kind in t.plan.kinds or t.outcome is Outcome.NO_BOOT]
    bracket = bracket_of(knob, [(trial.setpoint.number(knob.name), trial.verdict) for trial in counting])
    return Strand(kind, bracket, edge_under(knob, trials, kind))


def edge_under(knob: Knob, trials: Sequence[Trial], kind: LoadKind) -> EdgeEstimate | None:
    """Where the edge lies under one kind of load; of trials under others only counts whether the rig came up."""
    alike = [trial for trial in trials if kind in trial.plan.kinds]
    return edge_of(knob, alike, [trial for trial in trials if kind not in trial.plan.kinds])
