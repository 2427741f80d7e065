"""How warm the part is that a load strains, out of all temperatures that are read; and whether it can be held so."""

from collections.abc import Iterable, Sequence

from tenaz.core.base.errors import Refused
from tenaz.core.loads.manners import Strains
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.rigs.rig import Purpose
from tenaz.core.sensors.telemetry import Guards, Sensor, SensorKind, guards

OWN = {Strains.MEMORY: Guards.MODULE, Strains.GRAPHICS: Guards.GRAPHICS}
"""Whose sensors tell of a part; the processor's for all else."""
HELD_AT = {Strains.MEMORY: "modules", Strains.GRAPHICS: "the graphics card"}


def part_c(read: Iterable[tuple[Guards, float]], strains: Strains) -> float | None:
    """By the part's own sensors, the warmest of them: a new cooler on the processor makes no weather for memory. Where
    none says that it is the part's, by those of the board, or that say nothing of themselves. None: there is none.
    """
    warm = list(read)
    instead = () if strains is Strains.GRAPHICS else (Guards.BOARD, Guards.NOTHING)
    for parts in ((OWN.get(strains, Guards.PROCESSOR),), instead):
        of_part = [celsius for part, celsius in warm if part in parts]
        if of_part:
            return max(of_part)
    return None


def ceiling_c(purpose: Purpose, strains: Strains) -> tuple[float, float]:
    """From where on is warned of the part that a load strains, and from where on it is stopped."""
    if strains is Strains.GRAPHICS:
        return purpose.graphics_ceiling_c
    return purpose.module_ceiling_c if strains is Strains.MEMORY else purpose.processor_ceiling_c


def check_warm(plan: LoadPlan, purpose: Purpose, sensors: Sequence[Sensor]) -> None:
    """Refuse a temperature at which a load cannot hold its part.

    Raises:
        Refused: none is read there, or the purpose warns from less on.
    """
    if plan.warm_c is None:
        return
    what = HELD_AT.get(plan.kind.strains, "the processor")
    warned_c, _ = ceiling_c(purpose, plan.kind.strains)
    if plan.warm_c >= warned_c:
        raise Refused(f"from {warned_c:g} °C on the purpose warns of {what}: hold it at less than that.")
    temperatures = ((guards(one), 0.0) for one in sensors if one.kind is SensorKind.TEMPERATURE)
    if part_c(temperatures, plan.kind.strains) is None:
        raise Refused(f"no sensor here tells the temperature of {what}: load its driver, or leave the temperature out.")
