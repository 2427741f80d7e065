"""``press``: the printers' machine in a rack, set through its own door, with nobody at it by night."""

from tenaz.core.rigs.rig import Rig
from tenaz.simulated.made.scenarios import rig_of, scenario

PRESS_SEED = scenario("press").seed
"""The year of the first printed book."""


def press(seed: int = PRESS_SEED) -> Rig:
    """The rig as it stands in its rack."""
    return rig_of(scenario("press"), seed)
