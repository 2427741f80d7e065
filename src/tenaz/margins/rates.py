"""How often a value fails, by what is believed: its failure rate with an interval, for the curve and for one value."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tenaz.core.loads.kinds import LoadKind
from tenaz.margins.posterior import Posterior
from tenaz.margins.samples import samples_of

INTERVAL = 0.9
SAMPLES = 400


@dataclass(frozen=True, slots=True)
class RateEstimate:
    """Failures an hour at a strain: ``low`` and ``high`` bound it with probability 0.9, ``median`` halves it."""

    strain: int
    low: float
    median: float
    high: float


def rates_along(posterior: Posterior, kind: LoadKind, strains: Sequence[int]) -> tuple[RateEstimate, ...]:
    """The rate at each strain, at the temperature that is usual there."""
    samples = samples_of(posterior, kind, 0.0, SAMPLES)
    rates = np.exp(np.clip(samples.log_rates(np.array(strains) / posterior.parameter_grid.width), -60.0, 60.0))
    bounds = np.quantile(rates, [(1 - INTERVAL) / 2, 0.5, (1 + INTERVAL) / 2], axis=0)
    return tuple(RateEstimate(one, *(float(x) for x in bounds[:, k])) for k, one in enumerate(strains))
