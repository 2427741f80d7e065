"""How the clock tree stands at a setpoint, in one line."""

from tenaz.core.knobs.clock_tree import best_stand, clocks_in_brief, clocks_in_words, stand
from tenaz.core.knobs.names import CONTROLLER_RATIO, DATA_RATE, FABRIC_CLOCK
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.rigs.rig import Rig

CLOCK_KNOBS = (DATA_RATE, CONTROLLER_RATIO, FABRIC_CLOCK)


def clocks_line(rig: Rig, setpoint: Setpoint, brief: bool = False) -> str:
    """How the clock tree stands at a setpoint, in one line; empty where the platform is not known."""
    values = setpoint.numbers()
    rate = values.get(DATA_RATE)
    if rig.platform is None or rate is None:
        return ""
    ratio, fabric = values.get(CONTROLLER_RATIO), values.get(FABRIC_CLOCK)
    here = best_stand(rig.platform, rate) if ratio is None else stand(rig.platform, rate, ratio, fabric)
    words = clocks_in_brief if brief else clocks_in_words
    return words(rig.platform, here, rig.knob(DATA_RATE).grid.values())
