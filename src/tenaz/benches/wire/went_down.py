"""What became of a rig that was silent and is now on another boot: by the times, and by what its kernel kept."""

from tenaz.core.base.amounts import show_duration
from tenaz.core.base.outcomes import Outcome
from tenaz.core.sensors.last_seconds import LastSeconds, core_that_tells
from tenaz.wire.protocol import Kept

BY_ITSELF_S = 180.0
"""A boot that began within so much of the last sign of life was begun by the rig itself: few people are that quick."""

MOST_HARDWARE_LINES = 2


def went_down(kept: Kept, began_after_s: float, switched: bool, last: LastSeconds) -> tuple[Outcome, str]:
    """How the machine went, and what is known of it. ``began_after_s`` is when its boot began, from the last sign of
    life on; ``switched`` that its power was switched from here.
    """
    after = show_duration(max(0.0, began_after_s))
    if kept.crash:
        outcome, told = Outcome.STOP_CODE, f"its kernel stopped itself: {kept.crash}"
    elif switched:
        outcome, told = Outcome.FROZE, f"it stood for {after}, until its power was switched from here"
    elif began_after_s <= BY_ITSELF_S:
        outcome, told = Outcome.RESTARTED, f"it began anew {after} after its last sign of life"
    else:
        outcome, told = Outcome.FROZE, f"it stood for {after}, until somebody started it anew"
    parts = [told]
    if named := core_that_tells(last):
        parts.append(named)
    parts += [f"hardware tells: {line}" for line in kept.hardware[:MOST_HARDWARE_LINES]]
    return outcome, "; ".join(parts)
