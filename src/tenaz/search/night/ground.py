"""The ground of a night: its knobs by their parts in it, what an hour must bring, and each leg's part of the doubt."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum
from functools import cached_property

from tenaz.core.base.tolerance import Tolerance
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.names import (
    COMMAND_RATE,
    CONTROLLER_VOLTAGE,
    CORE_OFFSET,
    CORE_RATIO,
    DATA_RATE,
    FABRIC_VOLTAGE,
    IO_VOLTAGE,
    MEMORY_VDD,
    MEMORY_VDDQ,
    T_CL,
    T_CWL,
    T_RCD,
    T_REFI,
    T_RFCSB,
    T_RP,
)
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.knobs.timings.figures import REFRESH_CYCLE
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.loads.manners import Strains
from tenaz.core.rigs.rig import Purpose
from tenaz.core.searches.search import SearchGround
from tenaz.search.night.rounding import RoundedByFirmware
from tenaz.search.night.worths import heat_saved, worth_of


class Aim(StrEnum):
    """What a night is for."""

    FAST = "fast"
    QUIET = "quiet"

    def gained(self, part: float) -> str:
        """What was gained, in words."""
        return f"{part:.1%} less heat" if self is Aim.QUIET else f"{part:+.1%} of the score"


RATE, RATIO, OFFSET = DATA_RATE, CORE_RATIO, CORE_OFFSET
ROWS = (T_CL, T_RCD, T_RP)
REFRESH = (T_REFI,)
RAISED = {MEMORY_VDD: 0.8, MEMORY_VDDQ: 0.8, CONTROLLER_VOLTAGE: 0.5, IO_VOLTAGE: 0.5}
"""Voltages that carry a rate, and how far of the way to the advised ceiling they go for it."""
LOWERED = (CONTROLLER_VOLTAGE, IO_VOLTAGE)
"""Voltages that nothing else was built on: they come down as far as they may."""
TIED = (T_CWL, COMMAND_RATE)
"""Timings that follow from others, or do not come in tenths."""
ALONE = {*ROWS, *REFRESH, *REFRESH_CYCLE.values(), *TIED, T_RFCSB}
"""Timings that do not go with the others."""
QUIET = (MEMORY_VDD, MEMORY_VDDQ, CONTROLLER_VOLTAGE, IO_VOLTAGE, FABRIC_VOLTAGE)
"""Voltages that come down, with the cores' offset, where a rig is to be cool and quiet and nothing else is moved."""
DOUBT_PARTS = 4
"""The doubt that the purpose leaves is divided: each leg may use up a quarter. Most end well within, and two legs
hardly ever use up what is tolerated.
"""


@dataclass(frozen=True)
class NightGround:
    """What a night is about: the ground, where knobs on auto begin, hours of search, and what an hour must bring."""

    ground: SearchGround
    starts: Mapping[str, tuple[int, int]]
    search_h: float
    least_per_h: float
    aim: Aim = Aim.FAST
    seen_rates: dict[LoadKind, float] = field(default_factory=dict, compare=False)
    rounding: RoundedByFirmware = field(default_factory=RoundedByFirmware, compare=False)

    @cached_property
    def knobs(self) -> dict[str, Knob]:
        """By name."""
        return {knob.name: knob for knob in self.ground.knobs}

    @property
    def purpose(self) -> Purpose:
        """What the rig is for."""
        return self.ground.purpose

    @property
    def memory(self) -> LoadKind:
        """The load under which memory is searched: what the purpose asks most of."""
        return self._asked(Strains.MEMORY, LoadKind.MARCH)

    @property
    def cores(self) -> LoadKind:
        """The load under which cores are searched."""
        return self._asked(Strains.CPU, LoadKind.TRANSFORM)

    def _asked(self, strains: Strains, otherwise: LoadKind) -> LoadKind:
        asked = [(hours, kind) for kind, hours in self.purpose.hours_asked if kind.strains is strains]
        return max(asked, key=lambda one: one[0])[1] if asked else otherwise

    @property
    def part(self) -> Purpose:
        """The purpose with one leg's part of its doubt."""
        whole = self.purpose.tolerance
        sure = min(0.999, 1 - (1 - whole.confidence) / DOUBT_PARTS)
        return replace(self.purpose, tolerance=Tolerance(whole.failures, whole.hours, sure))

    def limit(self, knob: Knob) -> int:
        """The hardest value, or for a voltage the highest, that it may be moved to."""
        return dict(zip((one.name for one in self.ground.knobs), self.ground.limits, strict=True))[knob.name]

    def asked(self, setpoint: Setpoint) -> Setpoint:
        """The setpoint as it is to be asked for: what the firmware would make something else of is moved to what it
        takes. What came with the rig stays.
        """
        for name in self.rounding.knobs:
            knob, value = self.knobs.get(name), setpoint[name]
            if knob is not None and isinstance(value, int) and value != self.ground.base[name]:
                setpoint = setpoint.replacing(name, self.rounding.asked(knob, value))
        return setpoint

    def worth(self, before: Setpoint, after: Setpoint) -> float:
        """The expected rise of the score, or the heat that is expected to be saved; as a part."""
        if self.aim is Aim.QUIET:
            return heat_saved(before, after)
        return worth_of(before, after, self.ground.family, self.ground.platform)
