"""What does not fit: one stray failure, a rig that drifts, a slope unlike what is usual. Noticed and told."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tenaz.core.loads.kinds import LoadKind
from tenaz.margins.edge import REPEATED_H, was_stray
from tenaz.margins.posterior import Posterior
from tenaz.margins.priors import EdgePrior, Place
from tenaz.margins.samples import Samples, samples_of
from tenaz.margins.sightings import EdgeSighting

SAMPLES = 200
RARELY = 0.02
"""What was so unlikely, with itself counted among the evidence, does not fit."""
HALVES = 4
"""So many failures, at least, before early and late ones are compared."""
SHIFT_FOLDS = 2.5
MOSTLY = 0.5
FAR_AWAY = 3.0


@dataclass(frozen=True, slots=True)
class Misfit:
    """A sighting that was not expected: its place in the order of trials, its strain, the chance that it had."""

    place: int
    strain: float
    chance: float
    failed: bool


def misfits(posterior: Posterior, kind: LoadKind, seen: Sequence[EdgeSighting]) -> list[Misfit]:
    """Sightings whose outcome had hardly a chance, and that nobody has repeated."""
    samples = samples_of(posterior, kind, 0.0, SAMPLES)
    newest = {one.strain: place for place, one in enumerate(seen)}
    counts = Counter((one.strain, one.failed) for one in seen)
    found = []
    for place in sorted(newest.values()):
        one = seen[place]
        if counts[one.strain, one.failed] == 1:
            chance = _chance(posterior, samples, one)
            if chance < RARELY:
                found.append(Misfit(place, one.strain, chance, one.failed))
    return found


def _chance(posterior: Posterior, samples: Samples, one: EdgeSighting) -> float:
    """How likely what came was: a failure as early as it came, or a pass as long as it held."""
    at = np.array([one.strain / posterior.parameter_grid.width])
    beyond = at[0] >= samples.wall
    up = np.where(beyond, posterior.parameter_grid.lucky_start, 1.0 - posterior.parameter_grid.stray_start)
    if not one.up:
        return float(np.mean(1.0 - up))
    survives = np.exp(-samples.rates(at)[:, 0] * max(one.clean_h, one.failed_by_h or 0.0))
    return float(np.mean(up * ((1.0 - survives) if one.failed else survives)))


def drift_folds(posterior: Posterior, kind: LoadKind, seen: Sequence[EdgeSighting]) -> float:
    """By how many e-folds failures came sooner in the later half of the trials than in the earlier, each against what
    was expected of it, in standard errors; 0 where there are too few.
    """
    samples = samples_of(posterior, kind, 0.0, SAMPLES)
    failures = [one for one in seen if one.up and one.failed_by_h]
    if len(failures) < 2 * HALVES:
        return 0.0
    at = np.array([one.strain for one in failures]) / posterior.parameter_grid.width
    expected = samples.log_rates(at).mean(axis=0)
    sooner = -np.log([one.failed_by_h or 1.0 for one in failures]) - expected
    half = len(failures) // 2
    early, late = sooner[:half], sooner[half:]
    error = np.sqrt(early.var(ddof=1) / early.size + late.var(ddof=1) / late.size)
    return float((late.mean() - early.mean()) / max(error, 1e-6))


def _away(posterior: Posterior, place: Place, kind: LoadKind) -> float:
    """How far x* lies from where past rigs have it, in their deviations."""
    grid = posterior.parameter_grid
    weights = posterior.weights(kind).sum(axis=(1, 2))
    middle = float((weights @ grid.x_star) / weights.sum()) * grid.width
    return abs(middle - place.middle) / place.spread


def doubts_of(posterior: Posterior, prior: EdgePrior, kind: LoadKind, seen: Sequence[EdgeSighting]) -> tuple[str, ...]:
    """All of them, in words."""
    knob, said = posterior.knob, list[str]()
    strand, settled = posterior.series.get(kind), was_stray(posterior, kind)
    for one in misfits(posterior, kind, seen):
        if settled and strand is not None and one.failed and one.strain == strand.failed:
            continue
        here = knob.show(knob.at_strain(int(one.strain)))
        what = "failed" if one.failed else "held"
        rest = "heat, a loose plug?" if one.failed else "luck?"
        said.append(f"{here} {what}, which had a chance of {one.chance:.1%} by all the rest: {rest} Repeat it")
    if strand is not None and strand.failed is not None and strand.failed_once and strand.held_since_h >= REPEATED_H:
        here = knob.show(knob.at_strain(int(strand.failed)))
        meant = "taken for a stray failure" if settled else "by chance or not, advice stays below it"
        said.append(f"{here} failed once and held {strand.held_since_h:.1f} h besides: {meant}")
    shift = drift_folds(posterior, kind, seen)
    if abs(shift) > SHIFT_FOLDS:
        way = "sooner" if shift > 0 else "later"
        said.append(f"failures come {way} than they did at first: the rig drifts; go back to a value tried early")
    weights = posterior.weights(kind).sum(axis=(0, 2))
    cell = prior.units_a_step(knob) * posterior.parameter_grid.width
    flat, steep = (
        posterior.parameter_grid.slope * cell > prior.slope.high,
        posterior.parameter_grid.slope * cell < prior.slope.low,
    )
    than = f"on the {prior.rigs} rigs before" if prior.rigs else "is usual"
    for outside, word in ((flat, "slower"), (steep, "faster")):
        if weights[outside].sum() > MOSTLY:
            unlike = "unlike the others: " if prior.rigs else ""
            said.append(
                f"{unlike}failures grow {word} along {knob.label} than {than}: the interval may be off, repeat more"
            )
    if prior.place is not None and (away := _away(posterior, prior.place, kind)) > FAR_AWAY:
        said.append(f"unlike the others: its edge lies {away:.0f} times as far from theirs as they from each other")
    return tuple(said)
