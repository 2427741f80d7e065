"""The course of a load, worked out before it is shown: heat, clocks, and the hazard along them."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

import numpy as np
from numpy.typing import NDArray

from tenaz.core.loads.thermostat import LEAST_DUTY
from tenaz.simulated.firmware import Numbers, Values
from tenaz.simulated.machine import LoadMix, Machine, leading, total
from tenaz.simulated.physics.heat import Heat, Network

MOVED_K = 0.3
"""A die that moved less draws what it drew."""
FIRST_S = 28.0
"""While the short power limit holds."""
FIRST_TICKS, TICKS = 45, 50
FIRST_PART_S = 900.0


@dataclass(frozen=True, slots=True)
class Course:
    """By tick: its end in s of the load, temperatures in °C, clock in MHz, power in W, whether it throttled, failures
    an hour by weakness as natural logarithms, and failures expected until then.
    """

    ends_s: Numbers
    die_c: Numbers
    modules_c: NDArray[np.float64]
    cooler_c: Numbers
    clock_mhz: Numbers
    core_mv: Numbers
    package_w: Numbers
    throttled: NDArray[np.bool_]
    log_hazards: NDArray[np.float64]
    expected: Numbers

    def fails_at_s(self, expected: float) -> float:
        """The time by which so many failures are expected; infinite when the load ends before."""
        if expected >= float(self.expected[-1]):
            return float("inf")
        known = np.concatenate([[0.0], self.expected])
        return float(np.interp(expected, known, np.concatenate([[0.0], self.ends_s])))

    def expected_by(self, seconds: float) -> float:
        """Failures expected until a time."""
        return float(np.interp(seconds, np.concatenate([[0.0], self.ends_s]), np.concatenate([[0.0], self.expected])))

    def tick_at(self, seconds: float) -> int:
        """The tick in which a time lies."""
        return min(len(self.ends_s) - 1, int(np.searchsorted(self.ends_s, seconds)))

    def heat_at(self, seconds: float) -> Heat:
        """Temperatures at a time."""
        tick = self.tick_at(seconds)
        return Heat(float(self.cooler_c[tick]), self.modules_c[tick].copy())


def ticks_of(length_s: float) -> Numbers:
    """Ends of ticks: dense while it warms up."""
    first = min(length_s, FIRST_PART_S)
    ends = np.linspace(0.0, first, FIRST_TICKS + 1)[1:]
    if length_s > first:
        ends = np.concatenate([ends, np.linspace(first, length_s, TICKS + 1)[1:]])
    return ends


@dataclass(frozen=True, slots=True)
class HeldAt:
    """A temperature that the modules, or the die, are held at, and whether what heats runs ``beside`` the load."""

    celsius: float
    modules: bool
    beside: bool

    def duty(self, after: Callable[[float, float], float]) -> tuple[float, float]:
        """Which parts of the powers of package and modules keep it: ``after`` gives the temperature that these parts
        come to. What runs beside pauses first.
        """
        if self.beside and (found := self._part(lambda part: after(part, 1.0), 0.0)) > 0.0:
            return found, 1.0
        package = 0.0 if self.beside else 1.0
        if self.modules:
            return package, self._part(lambda part: after(package, part), LEAST_DUTY)
        return self._part(lambda part: after(part, 1.0), LEAST_DUTY), 1.0

    def _part(self, after: Callable[[float], float], least: float) -> float:
        """It is linear in the power."""
        cold, hot = after(0.0), after(1.0)
        return 1.0 if hot <= self.celsius else max(least, (self.celsius - cold) / (hot - cold))


def course_of(
    machine: Machine,
    v: Values,
    strain: LoadMix,
    length_s: float,
    extra_folds: float = 0.0,
    held: HeldAt | None = None,
) -> Course:
    """Work out a load at effective values, from the machine's heat now."""
    ends = ticks_of(length_s)
    count, modules = len(ends), len(machine.seated)
    heat, network, lead = machine.heat(), machine.network, leading(strain)
    module_w = float(machine.module_w(v, strain)[0])
    die_c, cooler_c, power_w = np.empty(count), np.empty(count), np.empty(count)
    modules_c = np.empty((count, modules))
    die, hottest = network.die_c(heat, 10.0), machine.processor.hottest_c(v)
    allowed_w = np.full(count, np.inf)
    before, known, power = 0.0, (float("inf"), False), 0.0
    for tick, end in enumerate(ends.tolist()):
        first, now_s = end <= FIRST_S, machine.state.now_s + end
        if abs(die - known[0]) > MOVED_K or first is not known[1]:
            run = machine.processor.run(v, lead, np.array([die]), first_seconds=first, workers=strain.workers)
            power, known = float(run.package_w[0]), (die, first)
        after = network.step(heat, end - before, now_s, power, module_w)
        if network.die_c(after, power) > hottest:
            # What the die gets to by the end of the tick is linear in the power: it takes what keeps the limit.
            cold = network.die_c(network.step(heat, end - before, now_s, 0.0, module_w), 0.0)
            allowed_w[tick] = power * max(0.02, (hottest - cold) / (network.die_c(after, power) - cold))
            power, known = float(allowed_w[tick]), (float("inf"), first)
            after = network.step(heat, end - before, now_s, power, module_w)
        if held is not None:
            package, module = held.duty(
                partial(_comes_to, network, held, heat, (end - before, now_s), (power, module_w))
            )
            power, known = power * package, (float("inf"), first)
            after = network.step(heat, end - before, now_s, power, module_w * module)
        heat, before = after, end
        die = network.die_c(heat, power)
        die_c[tick], cooler_c[tick], power_w[tick], modules_c[tick] = die, heat.cooler_c, power, heat.modules_c
    along = {name: np.broadcast_to(numbers, (count,)) for name, numbers in v.items()}
    run = machine.processor.run(along, lead, die_c, workers=strain.workers, allowed_w=allowed_w)
    log_hazards = machine.log_hazards(along, strain, die_c, modules_c, run) + extra_folds
    log_hazards += _manners(machine, ends)
    rates = np.exp(np.minimum(total(log_hazards), 60.0))
    spans_h = np.diff(ends, prepend=0.0) / 3600.0
    return Course(
        ends, die_c, modules_c, cooler_c, run.clock_mhz, run.steady_mv, power_w, run.throttled, log_hazards,
        np.cumsum(rates * spans_h),
    )  # fmt: skip


def _comes_to(
    network: Network,
    held: HeldAt,
    heat: Heat,
    until: tuple[float, float],
    watts: tuple[float, float],
    package: float,
    module: float,
) -> float:
    """What the part that is held gets to in so many seconds, at a time, with parts of the watts of package and
    modules.
    """
    power = watts[0] * package
    after = network.step(heat, *until, power, watts[1] * module)
    return float(after.modules_c.max()) if held.modules else network.die_c(after, power)


def _manners(machine: Machine, ends_s: Numbers) -> Numbers:
    """What comes on top along the run: early failures that fade, drift over the day."""
    manners = machine.manners
    folds = np.log1p(np.expm1(manners.early_folds) * np.exp(-ends_s / manners.early_s))
    day = (machine.state.now_s + ends_s) / 86400.0 + machine.parts.drift_phase
    return np.asarray(folds + manners.drift_folds * np.sin(2 * np.pi * day))
