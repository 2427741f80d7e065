"""``ridge``: the workstation of the valley's forecast model, to be made faster and guaranteed for three winters."""

from tenaz.core.rigs.rig import Rig
from tenaz.simulated.made.scenarios import rig_of, scenario

RIDGE_SEED = scenario("ridge").seed
"""The year in which the avalanche office was founded."""


def ridge(seed: int = RIDGE_SEED) -> Rig:
    """The rig as it came to the workshop; each seed makes another specimen."""
    return rig_of(scenario("ridge"), seed)
