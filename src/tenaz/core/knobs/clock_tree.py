"""Which clocks run in step: memory, controller and fabric, by data rate."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from tenaz.core.knobs.grid import Grid
from tenaz.core.knobs.timings.clocks import MemoryClock


@dataclass(frozen=True, slots=True)
class Platform:
    """A processor's clocks: the reference in MHz, by what the memory clock may be divided for the controller, the
    fabric's grid in MHz, and how far the fabric runs by itself.
    """

    reference_mhz: float
    controller_ratios: tuple[int, ...]
    fabric: Grid
    fabric_runs_to_mhz: int


@dataclass(frozen=True, slots=True)
class ClockStand:
    """Clocks in MHz at one data rate. ``in_step`` says that controller and fabric run at one clock; ``crossing_ns`` is
    what a request loses on its way there and back when they do not, against the best that the rate allows.
    """

    rate_mts: int
    controller_mhz: float
    controller_ratio: int
    fabric_mhz: int
    in_step: bool
    crossing_ns: float


IN_STEP_WITHIN = 0.005
"""Clocks that differ by less are one clock: rates are named in whole numbers."""

CROSSING_CYCLES = 1.5
"""Cycles of the slower clock for which a request waits between two clocks that are not in step: half a cycle on average
for the edge, and one for the register that takes it over; each way.
"""


def stand(platform: Platform, rate_mts: int, controller_ratio: int, fabric_mhz: int | None = None) -> ClockStand:
    """Clocks at a rate. Without a fabric clock, the nearest to the controller that the fabric runs at."""
    controller = float(MemoryClock(rate_mts).mhz) / controller_ratio
    if fabric_mhz is None:
        reach = [mhz for mhz in platform.fabric.values() if mhz <= platform.fabric_runs_to_mhz]
        fabric_mhz = min(reach or platform.fabric.values()[:1], key=lambda mhz: abs(mhz - controller))
    in_step = abs(fabric_mhz - controller) <= IN_STEP_WITHIN * controller
    crossing = 0.0 if in_step else 2 * CROSSING_CYCLES * 1000 / min(controller, fabric_mhz)
    return ClockStand(rate_mts, controller, controller_ratio, fabric_mhz, in_step, crossing)


def best_stand(platform: Platform, rate_mts: int) -> ClockStand:
    """The way with the shortest path at a rate: in step if any ratio allows it, the controller as fast as it goes."""
    ways = [stand(platform, rate_mts, ratio) for ratio in platform.controller_ratios]
    return min(ways, key=lambda way: (not way.in_step, way.crossing_ns, way.controller_ratio))


def in_step_rates(platform: Platform, rates_mts: Iterable[int], controller_ratio: int = 1) -> tuple[int, ...]:
    """The rates at which controller and fabric run in step, rising."""
    return tuple(sorted(rate for rate in rates_mts if stand(platform, rate, controller_ratio).in_step))


def nearest_in_step(
    platform: Platform, rates_mts: Sequence[int], rate_mts: int, controller_ratio: int = 1
) -> tuple[int | None, int | None]:
    """The nearest rates in step below and above a rate; None where there is none."""
    rates = in_step_rates(platform, rates_mts, controller_ratio)
    below = max((rate for rate in rates if rate < rate_mts), default=None)
    above = min((rate for rate in rates if rate > rate_mts), default=None)
    return below, above


def clocks_in_words(platform: Platform, here: ClockStand, rates_mts: Sequence[int]) -> str:
    """One line: the clocks, whether they run in step, and the nearest rates that do."""
    words = f"controller {here.controller_mhz:.0f} MHz (1:{here.controller_ratio}) · fabric {here.fabric_mhz} MHz, "
    below, above = nearest_in_step(platform, rates_mts, here.rate_mts, here.controller_ratio)
    near = [f"{rate} {side}" for rate, side in ((below, "below"), (above, "above")) if rate is not None]
    if here.in_step:
        words += "in step"
    else:
        words += f"out of step: +{here.crossing_ns:.1f} ns"
        near += [
            f"this rate at 1:{ratio}"
            for ratio in platform.controller_ratios
            if ratio != here.controller_ratio and stand(platform, here.rate_mts, ratio).in_step
        ]
    return words + (f" · in step too: {', '.join(near)}" if near else "")


def clocks_in_brief(platform: Platform, here: ClockStand, rates_mts: Sequence[int]) -> str:
    """Whether the clocks run in step, else what that costs and which rates near by do; for a narrow place."""
    if here.in_step:
        return f"controller and fabric in step at 1:{here.controller_ratio}"
    near = [str(r) for r in nearest_in_step(platform, rates_mts, here.rate_mts, here.controller_ratio) if r is not None]
    return f"+{here.crossing_ns:.1f} ns out of step" + (f" · in step {' '.join(near)}" if near else "")
