"""What holds a rig back while it is measured: power, heat, memory or its clock."""

from tenaz.core.rigs.rig import Rig
from tenaz.core.scores.score import Cores, Limit, Measure, Score

NEAR_BUS = 0.85
"""A bus that carries so much of what it can is what limits: the rest goes to refresh and turning round."""
WAITS = 0.6
"""Arithmetic over memory that reaches less than this part of what it does in a cache waits for memory."""
NEAR_HOT_K = 5.0


def limits_of(measure: Measure, rig: Rig) -> tuple[str, ...]:
    """In words, the gravest first; empty where nothing tells."""
    found: list[str] = []
    around = measure.circumstances
    if around.held_back:
        warned_c, _ = rig.purpose.processor_ceiling_c
        hot = around.hottest_c is not None and around.hottest_c >= warned_c - NEAR_HOT_K
        told = f", {around.hottest_c:.0f} °C" if around.hottest_c is not None else ""
        found.append(f"{Limit.HEAT if hot else Limit.POWER}: the processor held its clock back{told}")
    bus = max((one for one in measure.scores if _of_bus(one)), key=lambda one: one.of_possible or 0.0, default=None)
    if bus is not None and bus.of_possible is not None:
        part = f"{100 * bus.of_possible:.0f} % of what the data rate allows ({bus.figure.what})"
        if bus.of_possible >= NEAR_BUS:
            found.append(f"{Limit.MEMORY}: its bus carries {part}; a higher rate would give more")
        else:
            found.append(f"{Limit.MEMORY}: its bus carries {part}; timings and fabric take the rest")
    waits = _waits(measure)
    if waits is not None and waits < WAITS:
        found.append(f"{Limit.MEMORY}: large transforms reach {100 * waits:.0f} % of what small ones do")
    if not around.held_back and around.clock_mhz:
        found.append(f"{Limit.CLOCK}: small work runs at the clock that is reached, {around.clock_mhz:.0f} MHz")
    return tuple(found)


def _of_bus(score: Score) -> bool:
    return score.of_possible is not None and score.figure.cores is Cores.ALL


def _waits(measure: Measure) -> float | None:
    sizes = sorted(
        (one.figure.size_bytes, one.middle)
        for one in measure.scores
        if one.figure.what == "transform" and one.figure.cores is Cores.ALL and one.figure.size_bytes is not None
    )
    return sizes[-1][1] / max(value for _, value in sizes) if len(sizes) > 1 else None
