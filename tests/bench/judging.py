"""What judging an edge costs: one more trial learnt of with a thousand before it, and one proposal."""

import statistics
import time
from collections.abc import Callable

import numpy as np

from tenaz.core.base.tolerance import TOLERANCE
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.rigs.rig import Purpose
from tenaz.core.searches.search import Proposal
from tenaz.margins.posterior import posterior_of
from tenaz.margins.priors import usual_prior
from tenaz.margins.sightings import EdgeSighting, failed_at
from tenaz.search.registry import strategy_of
from tenaz.study.cells import hidden_rig
from tenaz.study.hidden import Hidden, try_there
from tenaz.study.playing import facts_of_try, ground_of
from tenaz.study.populations import read_population

HISTORY, ROUNDS = 1000, 25
PURPOSE = Purpose("a bench", 0, ((LoadKind.MARCH, 8.0),), tolerance=TOLERANCE)


def median_ms(work: Callable[[], object]) -> float:
    """The median of some rounds."""
    taken = []
    for _ in range(ROUNDS):
        begun = time.perf_counter()
        work()
        taken.append(1000 * (time.perf_counter() - begun))
    return statistics.median(taken)


def stands_at(rig: Hidden, strain: int) -> Proposal:
    """A trial of an hour there."""
    at = rig.base.replacing(rig.knob.name, rig.knob.at_strain(int(strain)))
    return Proposal(at, LoadPlan(rig.load, 3600.0), "")


def report() -> None:
    """Print both, against what they may take."""
    rig = hidden_rig(read_population("p"), 1)
    rng = np.random.default_rng(1)
    seen = [
        failed_at(float(k), float(rng.exponential(0.2))) if k > 40 else EdgeSighting(float(k), 1.0)
        for k in rng.integers(20, 50, HISTORY)
    ]
    known = posterior_of(usual_prior(), rig.knob, {LoadKind.MARCH: seen})
    learns = median_ms(lambda: known.update(LoadKind.MARCH, failed_at(44.0, 0.1)).weights(LoadKind.MARCH))
    ground = ground_of(rig, PURPOSE)
    running = strategy_of("adapt").begin(ground, {})
    stands, taken, hours = next(running), list[float](), 0.0
    while isinstance(stands, Proposal):
        strain = rig.knob.strain(stands.setpoint.number(rig.knob.name))
        tried = try_there(rig, strain, (stands.plan.duration_s or 0.0) / 3600, hours)
        hours += tried.cost_h
        begun = time.perf_counter()
        stands = running.send([facts_of_try(stands, tried)])
        taken.append(1000 * (time.perf_counter() - begun))
    long = [facts_of_try(stands_at(rig, one), try_there(rig, one, 1.0, 0.0)) for one in rng.integers(20, 50, HISTORY)]
    old = strategy_of("adapt").begin(ground, {})
    next(old)
    old.send(long)
    goes_on = median_ms(lambda: old.send(long[:1]))
    print(f"judging: a proposal after {HISTORY} trials: {goes_on:.1f} ms (50 allowed)")
    print(f"judging: one more trial after {HISTORY}: {learns:.1f} ms (10 allowed)")
    print(f"judging: a proposal with all that it rests on: {statistics.median(taken):.1f} ms (50 allowed)")
