"""How warm the part is that a load strains, out of all temperatures that are read."""

from collections.abc import Iterable

from tenaz.core.loads.manners import Strains
from tenaz.core.sensors.telemetry import Guards


def part_c(read: Iterable[tuple[Guards, float]], strains: Strains) -> float | None:
    """By the part's own sensors, the warmest of them: a new cooler on the processor makes no weather for memory. Where
    none says that it is the part's, by those of the board, or that say nothing of themselves. None: there is none.
    """
    warm = list(read)
    own = Guards.MODULE if strains is Strains.MEMORY else Guards.PROCESSOR
    for parts in ((own,), (Guards.BOARD, Guards.NOTHING)):
        of_part = [celsius for part, celsius in warm if part in parts]
        if of_part:
            return max(of_part)
    return None
