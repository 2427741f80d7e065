"""What the estimator of an edge sees of a trial."""

from collections.abc import Sequence

from tenaz.core.edge import EdgeEstimate
from tenaz.core.knobs import Knob
from tenaz.core.load_kinds import LoadKind
from tenaz.core.outcomes import Outcome, Verdict
from tenaz.core.trials import Trial
from tenaz.margins.edge import Sighting, estimate_edge


def sighting(knob: Knob, trial: Trial) -> Sighting:
    """A trial along a knob: its strain, the hours until its end or its failure, and what that was."""
    return Sighting(
        knob.strain(trial.setpoint.number(knob.name)),
        trial.clean_s / 3600,
        failed=trial.verdict is Verdict.FAIL,
        booted=trial.outcome is not Outcome.NO_BOOT,
    )


def boot_only(knob: Knob, trial: Trial) -> Sighting:
    """Of a trial under another load, only whether the rig came up: that does not depend on what was to be run."""
    seen = sighting(knob, trial)
    return Sighting(seen.strain, 0.0, failed=not seen.booted, booted=seen.booted)


def edge_under(knob: Knob, trials: Sequence[Trial], kind: LoadKind) -> EdgeEstimate | None:
    """Where the edge lies under one kind of load; trials that say nothing are left out, of trials under other loads
    only their boots count. None without any.
    """
    telling = [trial for trial in trials if trial.verdict is not Verdict.VOID]
    sightings = [sighting(knob, trial) if kind in trial.plan.kinds else boot_only(knob, trial) for trial in telling]
    ends = sorted((knob.strain(knob.grid.first), knob.strain(knob.grid.last)))
    return estimate_edge(sightings, ends[0], ends[1])
