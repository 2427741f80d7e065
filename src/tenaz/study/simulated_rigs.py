"""A simulated rig in full as a hidden rig: its own physics along one knob, its lottery of starts, its scatter."""

from datetime import UTC, datetime
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

from tenaz.core.loads.kinds import LoadKind, Strains
from tenaz.core.rigs.rig import Rig
from tenaz.simulated.machine import LoadMix, Machine
from tenaz.simulated.made.scenarios import rig_of, scenario, state_of
from tenaz.simulated.truth import Truth
from tenaz.study.populations import RigsEntry

if TYPE_CHECKING:
    from tenaz.core.knobs.knob import Knob

MADE_UTC = datetime(2026, 1, 5, 8, tzinfo=UTC)
MOST_LOOKED_AT = 2000


def made(entry: RigsEntry, seed: int) -> tuple[Rig, Machine]:
    """One specimen."""
    one = scenario(entry.like)
    rig = rig_of(one, seed)
    return rig, Machine(rig, state_of(one, rig, MADE_UTC))


class SimulatedHidden:
    """Searched from stock, or from the value that the study gives, along one knob."""

    def __init__(self, entry: RigsEntry, seed: int) -> None:
        rig, machine = made(entry, seed)
        self._rng = np.random.default_rng([seed, 29])
        self._frailty, self._truth = machine.manners.frailty_folds, Truth(machine)
        self.knob: Knob = rig.knob(entry.knob)
        start = rig.stock.number(self.knob.name) if entry.start is None else entry.start
        self.base = rig.stock.replacing(self.knob.name, start)
        for name, value in entry.values.items():
            self.base = self.base.replacing(rig.knob(name).name, value)
        self.load = LoadKind(entry.load)
        self._strain = LoadMix((self.load,), (0.5 if self.load.strains is Strains.MEMORY else None,))

    @cached_property
    def _line(self) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        ends = self.knob.ends
        strains = np.arange(ends[0], ends[1] + 1, max(1, (ends[1] - ends[0]) // MOST_LOOKED_AT))
        rates, chances = self._truth.along(self.base, self.knob, [int(one) for one in strains], self._strain)
        return strains, rates, chances

    @property
    def slope(self) -> float:
        """The steps over which its rate grows e-fold, between the edge and where it fails every hour."""
        return max(1e-6, (self._crossing(0.0) - self._crossing(-6.9)) / 6.9)

    def _crossing(self, log_rate: float) -> float:
        strains, rates, chances = self._line
        from_base = strains >= self.knob.strain(self.base.number(self.knob.name))
        above = np.flatnonzero(from_base & ((rates > log_rate) | (chances < 0.5)))
        if not len(above):
            return float(strains[-1])
        at = int(above[0])
        if at == 0 or not from_base[at - 1] or rates[at] <= rates[at - 1]:
            return float(strains[max(0, at - 1)])
        part = np.clip((log_rate - rates[at - 1]) / (rates[at] - rates[at - 1]), 0.0, 1.0)
        return float(strains[at - 1] + part * (strains[at] - strains[at - 1]))

    def start(self, strain: float) -> bool:
        """Try to start there."""
        strains, _, chances = self._line
        return bool(self._rng.random() < np.interp(strain, strains, chances))

    def fails_after_h(self, strain: float, now_h: float) -> float:
        """Hours until it fails there, warmed through."""
        del now_h
        strains, rates, _ = self._line
        log_rate = float(np.interp(strain, strains, rates)) + self._rng.normal(0.0, self._frailty)
        return float(self._rng.exponential() * np.exp(-log_rate))

    def edge(self, log_tolerated: float) -> float:
        """The strain up to which the rate is tolerated, above the value where the search begins."""
        return self._crossing(log_tolerated)

    def alike_failures(self, hours: float) -> int:
        """None: each has its reasons there."""
        del hours
        return 0
