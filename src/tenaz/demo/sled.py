"""``sled``: the field computer that rides on the sled and came back with crashes; all its slots are filled."""

from tenaz.core.rigs.rig import Rig
from tenaz.simulated.made.scenarios import rig_of, scenario

SLED_SEED = scenario("sled").seed


def sled(seed: int = SLED_SEED) -> Rig:
    """The rig as it came down from the glacier."""
    return rig_of(scenario("sled"), seed)
