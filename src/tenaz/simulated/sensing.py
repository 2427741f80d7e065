"""What the simulated machine's sensors tell, labelled as a kernel labels them; some boards have an odd one."""

from collections.abc import Sequence

import numpy as np

from tenaz.core.loads.kinds import LoadKind
from tenaz.core.sensors.telemetry import Guards, Sample, Sensor, SensorKind, is_watched
from tenaz.simulated.firmware import as_setpoint
from tenaz.simulated.machine import Machine
from tenaz.simulated.made.faults import FaultKind
from tenaz.simulated.physics.course import Course
from tenaz.simulated.physics.graphics import ACTIVITY, IDLE_PART, USUAL_W

LIES_BY_K = 17.0
"""How much too low a lying sensor reads."""
FROZEN_AT_C = 41.0
ODD_PART = 0.3
"""Part of boards with an input that nothing is soldered to."""
FANLESS_K_PER_W = 0.6


class Sensing:
    """The sensors of one machine; ``chosen`` are parts of the names of those watched (none: all), ``kinds`` the
    loads that run.
    """

    def __init__(
        self, machine: Machine, chosen: Sequence[str], luck: np.random.Generator, kinds: Sequence[LoadKind] = ()
    ) -> None:
        self._machine, self._luck, self._chosen = machine, luck, chosen
        state = machine.state
        self._card, self._kinds = machine.processor.card, tuple(kinds)
        self._values = machine.values(as_setpoint(state.in_force, machine.rig.stock))
        self._frozen = state.fault(FaultKind.FROZEN) is not None
        self._lies = state.fault(FaultKind.LYING) is not None
        self._odd = machine.parts.oddity < ODD_PART
        self._fan = machine.parts["cooler_k_per_w"] < FANLESS_K_PER_W
        self._chip = "spd5118" if machine.family == "DDR5" else "jc42"
        everything = self._all_sensors()
        self._kept = [place for place, one in enumerate(everything) if one.kind.counts or is_watched(one, self._chosen)]
        self.sensors = tuple(everything[place] for place in self._kept)
        self._first = True

    def _all_sensors(self) -> tuple[Sensor, ...]:
        modules = [f"{self._chip}{f'.{place + 1}' if place else ''}" for place in range(len(self._machine.seated))]
        found = [Sensor("sim/temp1", "processor", SensorKind.TEMPERATURE)]
        found += [Sensor(f"{chip}/temp1", f"{chip} temp1", SensorKind.TEMPERATURE) for chip in modules]
        found += [
            Sensor("simboard/temp1", "simboard temp1", SensorKind.TEMPERATURE),
            Sensor("simboard/in0", "simboard cores", SensorKind.VOLTAGE),
            Sensor("simboard/in1", "simboard in1", SensorKind.VOLTAGE),
        ]
        if self._fan:
            found.append(Sensor("simboard/fan1", "simboard fan1", SensorKind.FAN))
        if self._odd:
            found.append(Sensor("simboard/temp7", "simboard temp7", SensorKind.TEMPERATURE))
        if self._card.fitted:
            found += [
                Sensor("simgraphics/temp1", "simgraphics temp1", SensorKind.TEMPERATURE, Guards.GRAPHICS),
                Sensor("simgraphics/power1", "simgraphics power1", SensorKind.POWER),
                Sensor("simgraphics/freq1", "simgraphics freq1", SensorKind.CLOCK),
                Sensor("simgraphics/freq2", "simgraphics freq2", SensorKind.CLOCK),
                Sensor("simgraphics/fan1", "simgraphics fan1", SensorKind.FAN),
            ]
        found.append(Sensor("powercap/sim:0", "package power", SensorKind.POWER))
        found += [Sensor(f"cpufreq/{core}", f"clock {core}", SensorKind.CLOCK) for core in self._machine.processor.on]
        found += [
            Sensor("throttle/package0", "package of cpu 0", SensorKind.THROTTLES),
            Sensor("kernel/hardware", "kernel messages", SensorKind.HARDWARE_ERRORS),
        ]
        return tuple(found)

    def _of_card(self, at_s: float, air_c: float) -> list[float | None]:
        """Temperature, power, clocks and fan of the card."""
        busy = any(kind in ACTIVITY for kind in self._kinds)
        drawn_w = max(IDLE_PART * USUAL_W, float(self._card.drawn_w(self._values, self._kinds)[0]))
        card_c = self._card.card_c(self._values, drawn_w, air_c, at_s)
        core, memory = self._card.clocks_mhz(self._values, busy)
        ripple = 1.5 * float(np.sin(at_s * 0.7))
        return [
            round(card_c, 1),
            round(drawn_w + ripple, 1),
            round(core),
            round(memory),
            round(self._card.fan_rpm(card_c)),
        ]

    def processor_c(self, course: Course, tick: int) -> float:
        """What the processor's sensor tells."""
        if self._frozen:
            return FROZEN_AT_C
        return round(float(course.die_c[tick]) - (LIES_BY_K if self._lies else 0.0), 1)

    def hottest_c(self, course: Course, tick: int) -> float:
        """The hottest of what processor and modules tell."""
        return max(self.processor_c(course, tick), round(float(course.modules_c[tick].max()), 1))

    def warmth_c(self, kind: LoadKind, course: Course, tick: int) -> float:
        """How warm it is where a load finds something wrong: its card, or the hottest of all else."""
        if not kind.declared.on_cards:
            return self.hottest_c(course, tick)
        air = self._machine.network.air_c(self._machine.state.now_s, float(course.package_w[tick]))
        drawn_w = float(self._card.drawn_w(self._values, self._kinds)[0])
        return round(self._card.card_c(self._values, drawn_w, air, float(course.ends_s[tick])), 1)

    def sample(self, course: Course, tick: int, at_s: float, throttled: int, records: int) -> Sample:
        """All of them at one moment of a load."""
        machine, luck = self._machine, self._luck
        power, sag = float(course.package_w[tick]), machine.state.fault(FaultKind.SUPPLY) is not None
        noise = luck.standard_normal(6)
        values: list[float | None] = [self.processor_c(course, tick)]
        values += [round(float(c) * 4) / 4 for c in course.modules_c[tick]]
        air = machine.network.air_c(machine.state.now_s + at_s, power)
        values += [
            float(round(air + 4)),
            round((float(course.core_mv[tick]) + 3 * float(noise[0])) / 1000, 3),
            round(12.09 - (0.0022 if sag else 0.0004) * power + 0.006 * float(noise[1]), 3),
        ]
        if self._fan:
            values.append(float(round(620 + 16 * max(0.0, course.die_c[tick] - 35.0) + 6 * noise[2])))
        if self._odd:
            values.append(-55.0)
        if self._card.fitted:
            values += self._of_card(at_s, air - 2.0)
        # Power follows out of energy: the first reading has nothing to compare with.
        values.append(None if self._first else round(power + 0.8 * float(noise[3]), 2))
        self._first = False
        clock, lower = float(course.clock_mhz[tick]), luck.random(len(machine.processor.on))
        values += [round(clock - 3.0 * float(one), 1) for one in lower]
        values += [float(throttled), float(records)]
        return Sample(at_s, tuple(values[place] for place in self._kept))
