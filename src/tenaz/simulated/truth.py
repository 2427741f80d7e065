"""The truth about a simulated machine: for tests, for studies, and for whoever asks to be told at an exercise's end.

Nothing that searches, judges, draws or advises may look in here.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.kinds import LoadKind
from tenaz.simulated.firmware import Numbers
from tenaz.simulated.machine import LoadMix, Machine

MARCH = LoadMix((LoadKind.MARCH,), (0.5,))
MOST_LOOKED_AT = 1025
FINEST = 24
COLD_C = 40.0


@dataclass(frozen=True, slots=True)
class Window:
    """Between which strains (grid steps of the knob, in its harder direction) failures are tolerated: ``high`` is the
    edge; ``low`` is another one on the easier side, as of a voltage that is too high. None: none within the grid.
    """

    low: float | None
    high: float | None


class Truth:
    """What is so, whether anybody found it or not."""

    def __init__(self, machine: Machine) -> None:
        self._machine = machine

    def log_rate(self, setpoint: Setpoint, strain: LoadMix = MARCH) -> float:
        """Natural logarithm of failures an hour at a setpoint, warmed through."""
        return float(self._machine.log_rates(self._machine.values(setpoint), strain)[0])

    def boot_chance(self, setpoint: Setpoint) -> float:
        """Chance that a start with training comes up, at rest in the workshop."""
        modules = np.full(len(self._machine.seated), COLD_C)
        return float(self._machine.boot_chance(self._machine.values(setpoint), COLD_C, modules)[0])

    def starts(self, setpoint: Setpoint) -> bool:
        """Whether it comes up more often than not."""
        return self.boot_chance(setpoint) > 0.5

    def window(self, setpoint: Setpoint, knob: Knob, tolerated_per_h: float = 1.0, strain: LoadMix = MARCH) -> Window:
        """The edges along a knob, the others as in the setpoint, around the value at which it stands."""
        ends = knob.ends
        stride = max(1, (ends[1] - ends[0]) // MOST_LOOKED_AT + 1)
        here = knob.strain(setpoint.number(knob.name))
        strains = sorted({*range(ends[0], ends[1] + 1, stride), here})
        beyond = self._beyond(setpoint, knob, strains, tolerated_per_h, strain)
        at = strains.index(here)
        high = self._crossing(strains[at:], beyond[at:])
        low = self._crossing(strains[at::-1], beyond[at::-1])
        return Window(low, high)

    def edge(self, setpoint: Setpoint, knob: Knob, tolerated_per_h: float = 1.0, strain: LoadMix = MARCH) -> float:
        """The strain of the edge in the harder direction; the grid's end where there is none within it."""
        high = self.window(setpoint, knob, tolerated_per_h, strain).high
        return float(knob.ends[1]) if high is None else high

    def _beyond(
        self, setpoint: Setpoint, knob: Knob, strains: list[int], tolerated_per_h: float, strain: LoadMix
    ) -> Numbers:
        """By how many e-folds the tolerated rate is passed at each strain; far, where it does not start."""
        rates, chances = self.along(setpoint, knob, strains, strain)
        rates = rates - np.log(tolerated_per_h)
        return np.asarray(np.where(chances > 0.5, rates, np.maximum(rates, 1.0)))

    def along(
        self, setpoint: Setpoint, knob: Knob, strains: Sequence[int], strain: LoadMix = MARCH
    ) -> tuple[Numbers, Numbers]:
        """Natural logarithms of failures an hour, and chances of a start, at strains of one knob."""
        values = self._machine.along(
            setpoint, {knob.name: np.array([knob.at_strain(one) for one in strains], dtype=float)}
        )
        modules = np.full(len(self._machine.seated), COLD_C)
        return self._machine.log_rates(values, strain), self._machine.boot_chance(values, COLD_C, modules)

    def _crossing(self, strains: list[int], beyond: Numbers) -> float | None:
        above = np.flatnonzero(beyond > 0)
        if not len(above):
            return None
        first = int(above[0])
        if first == 0:
            return float(strains[0])
        before, after = float(beyond[first - 1]), float(beyond[first])
        part = -before / (after - before)
        return strains[first - 1] + part * (strains[first] - strains[first - 1])

    def culprits(self, setpoint: Setpoint, strain: LoadMix = MARCH, most: int = 3) -> list[tuple[str, float]]:
        """The weaknesses that fail most there, worst first, with their natural logarithms of failures an hour."""
        machine = self._machine
        values = machine.values(setpoint)
        die_c, modules_c = machine.warmed(values, strain)
        rates = machine.log_hazards(values, strain, die_c, modules_c)[:, 0]
        order = np.argsort(-rates)[:most]
        return [(self._name(int(place)), float(rates[place])) for place in order]

    def _name(self, place: int) -> str:
        column = self._machine.columns[place]
        parts = [str(column.weak)]
        if column.module is not None:
            parts.append(f"of the module in {self._machine.seated[column.module].module.slot}")
        if column.core is not None:
            parts.append(str(column.core))
        if column.knob and "_" in column.knob:
            parts.append(f"({column.knob})")
        return " ".join(parts)

    def firmware(self) -> tuple[str, ...]:
        """What its firmware does with values and does not say."""
        firmware, knobs = self._machine.firmware, {knob.name: knob for knob in self._machine.rig.knobs}
        lines = [
            f"the firmware makes multiples of {step} {knobs[name].unit} of {knobs[name].label}, without a word"
            for name, step in firmware.rounds.items()
            if name in knobs
        ]
        if firmware.not_taken:
            lines.append(f"the firmware shows {knobs[firmware.not_taken].label} as taken, and ignores it")
        return tuple(lines)

    def faults(self) -> tuple[str, ...]:
        """What is wrong with its parts, in words."""
        return tuple(fault.show() for fault in self._machine.state.faults)
