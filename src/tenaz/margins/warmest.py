"""Whether a value is tolerated on the warmest day that the purpose names: by what warmth was seen to do, or what it
usually does.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median

import numpy as np

from tenaz.core.rigs.rig import Rig
from tenaz.core.sensors.part import ceiling_c
from tenaz.core.trials.trial import Trial
from tenaz.margins.hazard import log_tolerated
from tenaz.margins.judging import Judgement
from tenaz.margins.sightings import warmth_of


@dataclass(frozen=True, slots=True)
class WarmestDay:
    """``warmer_k`` than it was where it was tried; ``sure`` how likely the value is tolerated then; ``part_c`` how warm
    the part is then, where it is measured; ``measured``: what warmth does was seen on this rig.
    """

    room_c: float
    warmer_k: float
    sure: float
    part_c: float | None
    measured: bool
    past_ceiling: bool = False
    """Whether the part would be warmer than the purpose warns of."""


def on_warmest_day(judged: Judgement, strain: int, trials: Sequence[Trial], rig: Rig) -> WarmestDay | None:
    """Of one value under one kind of load; None where the purpose names no day, or nobody knows how warm it was."""
    warmest_c = rig.purpose.warmest_room_c
    if warmest_c is None or not (rooms := _rooms(trials, rig)):
        return None
    warmer_k = warmest_c - median(rooms)
    natural, usual_c = _natural_c(judged, trials), judged.posterior.usual_c
    part = None if natural is None else natural + warmer_k
    # Where loads were held warm the rates are known at another temperature than that of a usual day.
    from_usual_k = warmer_k if part is None or usual_c is None else part - usual_c
    warm, measured = _sure(judged, strain, from_usual_k)
    sure = min(warm, judged.edge.tolerated(strain)) if from_usual_k > 0 else warm
    warned_c, _ = ceiling_c(rig.purpose, judged.kind.strains)
    return WarmestDay(warmest_c, warmer_k, sure, part, measured, part is not None and part >= warned_c)


def _rooms(trials: Sequence[Trial], rig: Rig) -> list[float]:
    told = [one.facts.room_c for one in trials if one.facts.room_c is not None]
    return told or ([rig.room_c] if rig.room_c is not None else [])


def _natural_c(judged: Judgement, trials: Sequence[Trial]) -> float | None:
    """How warm the part gets by the load alone."""
    alone = (one.facts for one in trials if one.plan.warm_c is None and judged.kind in one.plan.kinds)
    found = [celsius for facts in alone if (celsius := warmth_of(facts, judged.kind)) is not None]
    return median(found) if found else None


def _sure(judged: Judgement, strain: int, warmer_k: float) -> tuple[float, bool]:
    posterior, tolerance = judged.posterior, judged.edge.tolerance
    grid, weights = posterior.parameter_grid, posterior.weights(judged.kind)
    most = log_tolerated(tolerance.failures, tolerance.hours)
    if len(set(grid.warmth_per_k.tolist())) > 1:
        return float(weights[grid.log_rates(strain, warmer_k) <= most].sum()), True
    rates, whole = grid.log_rates(strain), sum(one.weight for one in judged.prior.warmths)
    usual = (one.weight / whole * weights[rates + one.per_k * warmer_k <= most].sum() for one in judged.prior.warmths)
    return float(np.sum(list(usual))), False
