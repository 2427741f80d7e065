"""Holding a part at a temperature by how much of the time loads work: what runs beside heats, and pauses first."""

from dataclasses import dataclass

GAIN_PER_K, GAIN_PER_K_S = 0.05, 0.002
"""Of all power, for each kelvin that it has moved, and for each kelvin and second that it is too cool."""
LEAST_DUTY = 0.1
"""Less, and a worker would be silent for longer than one that hangs."""
NEAR_K = 2.0
"""So near counts as held."""


@dataclass(frozen=True, slots=True)
class Duty:
    """The parts of the time, 0 to 1, in which a load works, and what runs beside it."""

    own: float = 1.0
    beside: float = 1.0


class Thermostat:
    """One number says how much is heated: up to a half the load itself works more, above that what runs beside it."""

    def __init__(self, target_c: float, heats_beside: bool) -> None:
        self._target_c, self._beside = target_c, heats_beside
        self._power = 1.0
        self._before_c: float | None = None
        self._seconds, self._total, self._reached_s = 0.0, 0.0, 0.0

    def look(self, celsius: float, seconds: float) -> Duty:
        """A temperature, so long after the one before; what is to work from now on."""
        moved = 0.0 if self._before_c is None else celsius - self._before_c
        self._before_c = celsius
        self._power += GAIN_PER_K_S * seconds * (self._target_c - celsius) - GAIN_PER_K * moved
        self._power = min(1.0, max(LEAST_DUTY / 2 if self._beside else LEAST_DUTY, self._power))
        if abs(celsius - self._target_c) <= NEAR_K or self._reached_s:
            # From the first time it is there on, what it is on average counts.
            self._reached_s += seconds
            self._total += celsius * seconds
        self._seconds += seconds
        return self.duty

    @property
    def duty(self) -> Duty:
        """What is to work now."""
        if not self._beside:
            return Duty(self._power)
        return Duty(min(1.0, 2 * self._power), max(0.0, 2 * self._power - 1))

    @property
    def told(self) -> str:
        """What came of it, in words."""
        if not self._seconds:
            return f"{self._target_c:g} °C was asked for, and no temperature was read"
        if not self._reached_s and (self._before_c or 0.0) > self._target_c:
            return f"{self._target_c:g} °C was asked for; it stayed warmer, {self._before_c:.0f} °C at the end"
        if not self._reached_s:
            more = "" if self._beside else "; load something beside it that heats, or turn fans down"
            return f"{self._target_c:g} °C was not reached: {self._before_c:.0f} °C at the end{more}"
        mean_c = self._total / self._reached_s
        held = self._reached_s / self._seconds
        return f"held at {mean_c:.1f} °C on average for {held:.0%} of the time, {self._target_c:g} °C asked"
