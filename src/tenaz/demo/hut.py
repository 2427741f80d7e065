"""``hut``: the fanless computer of the relay hut below the pass, to run cooler at less voltage."""

from tenaz.core.rigs.rig import Rig
from tenaz.simulated.made.scenarios import rig_of, scenario

HUT_SEED = scenario("hut").seed
"""The height of the hut in metres."""


def hut(seed: int = HUT_SEED) -> Rig:
    """The rig as it stands on the bench between two winters."""
    return rig_of(scenario("hut"), seed)
