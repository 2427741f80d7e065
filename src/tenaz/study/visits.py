"""Whether a visit of two hours tells that an edge has moved: a rig climbed, moved while nobody looked, asked again."""

from dataclasses import dataclass

from tenaz.core.rigs.rig import Purpose
from tenaz.core.trials.costs import Costs
from tenaz.margins.drift import Moved, moved_between
from tenaz.margins.posterior import posterior_of
from tenaz.margins.priors import prior_for
from tenaz.margins.revisiting import VISIT_H, Visit
from tenaz.margins.sightings import EdgeSighting, failed_at, no_start
from tenaz.study.hidden import COSTS, Hidden, try_there
from tenaz.study.playing import searched_sightings


@dataclass(frozen=True, slots=True)
class Visited:
    """What a visit told: chances that failure is nearer, and farther; its trials, its hours."""

    nearer: float
    farther: float
    trials: int
    hours: float


def visit(rig: Hidden, purpose: Purpose, moved_steps: float, costs: Costs = COSTS) -> Visited:
    """Climb a rig, move its edge (negative: nearer), and ask it again."""
    kind, prior = rig.load, prior_for(rig.knob)
    then = posterior_of(prior, rig.knob, {kind: searched_sightings(rig, purpose)})
    seen: list[EdgeSighting] = []
    spent_h = 0.0
    moved: Moved | None = None
    while moved is None or not moved.told:
        trial = Visit(then, seen, kind).best(VISIT_H - spent_h, costs)
        if trial is None:
            break
        tried = try_there(rig, trial.strain - moved_steps, trial.hours, spent_h)
        spent_h += tried.cost_h
        if not tried.started:
            seen.append(no_start(trial.strain))
        elif tried.failed:
            seen.append(failed_at(trial.strain, tried.hours))
        else:
            seen.append(EdgeSighting(trial.strain, tried.hours))
        moved = moved_between(then, posterior_of(prior, rig.knob, {kind: seen}), kind, prior)
    return Visited(moved.lower if moved else 0.0, moved.higher if moved else 0.0, len(seen), spent_h)
