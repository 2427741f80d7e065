"""What a step is worth, before anything was measured: by how much the score is expected to rise, or heat to fall.

The score is the geometric mean of three: memory bandwidth, memory latency (its inverse), throughput of all cores. What
is reckoned here steers hours only; what was gained in the end is measured.
"""

import math
from collections.abc import Mapping

from tenaz.core.knobs.clock_tree import Platform, stand
from tenaz.core.knobs.names import (
    CONTROLLER_RATIO,
    CONTROLLER_VOLTAGE,
    CORE_OFFSET,
    CORE_RATIO,
    DATA_RATE,
    FABRIC_CLOCK,
    FABRIC_VOLTAGE,
    IO_VOLTAGE,
    MEMORY_VDD,
    MEMORY_VDDQ,
    T_CL,
    T_RCD,
    T_RP,
)
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.knobs.timings.clocks import Family, MemoryClock
from tenaz.core.knobs.timings.figures import figures

LATENCY_NS = 90.0
"""A dependent read of a machine as it comes, from core to cell and back."""

OF_RATE = 0.22
"""Of a rise in data rate: bandwidth follows by two thirds, throughput not at all; a third each."""
OF_PATH = 0.13
"""Of a rise in the clock of the way from cores to memory: latency follows by two fifths."""
OUT_OF_STEP = 0.05
"""About the part of bandwidth that is lost while controller and fabric do not run at one clock."""
OF_CLOCK = 0.35
"""Of a rise in the cores' clock: throughput follows, latency a little."""
ROW_MISS = {T_CL: (1.0, 0.0), T_RCD: (1.0, 0.004), T_RP: (0.5, 0.004)}
"""Of a nanosecond of a timing: the part of it that is in a dependent read, and of bandwidth lost."""
REFRESH_IN_LATENCY = 4.0
"""Part of time lost to refresh: bandwidth loses it once, and reads that meet a refresh wait."""
OF_SPACING = 0.014
"""Of a part of all other timings: gaps that many commands never meet."""
OF_VOLTAGE = 0.10
"""Of a part of a voltage that is not needed: no speed, but heat and noise."""


def worth_of(before: Setpoint, after: Setpoint, family: Family, platform: Platform | None = None) -> float:
    """The relative rise of the score from one setpoint to the other; negative where it falls."""
    old, new = before.numbers(), after.numbers()
    return (
        OF_RATE * _rise(old, new, DATA_RATE)
        + _of_path(old, new, platform)
        + OF_CLOCK * _rise(old, new, CORE_RATIO)
        + _of_rows(old, new, family)
        + REFRESH_IN_LATENCY / 3 * (_lost(old, family) - _lost(new, family))
        + _of_spacing(old, new, family)
        + _of_voltages(old, new)
    )


def worth_of_speed(faster: float) -> float:
    """Of all cores faster by this part, as it was measured."""
    return OF_CLOCK * math.log1p(max(faster, -0.9))


def _of_path(old: Mapping[str, int], new: Mapping[str, int], platform: Platform | None) -> float:
    """Of the clocks on the way: as fast as the slower of controller and fabric, and what is lost between them."""
    if platform is None or not (old.get(DATA_RATE) and new.get(DATA_RATE)):
        return OF_PATH * _rise(old, new, DATA_RATE)
    before, after = (
        stand(platform, one[DATA_RATE], one.get(CONTROLLER_RATIO) or 1, one.get(FABRIC_CLOCK)) for one in (old, new)
    )
    path = math.log(min(after.controller_mhz, after.fabric_mhz) / min(before.controller_mhz, before.fabric_mhz))
    crossing = (after.crossing_ns - before.crossing_ns) / LATENCY_NS + OUT_OF_STEP * (before.in_step - after.in_step)
    return OF_PATH * path - crossing / 3


def _rise(old: Mapping[str, int], new: Mapping[str, int], name: str) -> float:
    return math.log(new[name] / old[name]) if old.get(name, 0) > 0 and new.get(name, 0) > 0 else 0.0


def _ns(values: Mapping[str, int], name: str, family: Family) -> float | None:
    rate = values.get(DATA_RATE)
    return MemoryClock.of(rate, family).ns(values[name]) if rate and name in values else None


def _of_rows(old: Mapping[str, int], new: Mapping[str, int], family: Family) -> float:
    found = 0.0
    for name, (in_read, of_bandwidth) in ROW_MISS.items():
        before, after = _ns(old, name, family), _ns(new, name, family)
        if before is not None and after is not None:
            found += (before - after) * (in_read / LATENCY_NS + of_bandwidth) / 3
    return found


def _lost(values: Mapping[str, int], family: Family) -> float:
    rate = values.get(DATA_RATE)
    lost = figures(values, rate, family).refresh_lost if rate else None
    return lost or 0.0


def _of_spacing(old: Mapping[str, int], new: Mapping[str, int], family: Family) -> float:
    names = [
        n for n in old if n.endswith("_nck") and n in new and n not in ROW_MISS and not n.startswith(("t_rf", "t_ref"))
    ]
    pairs = [(_ns(old, name, family), _ns(new, name, family)) for name in names]
    return OF_SPACING / 3 * sum(1 - after / before for before, after in pairs if before and after)


def _of_voltages(old: Mapping[str, int], new: Mapping[str, int]) -> float:
    offset = (old.get(CORE_OFFSET, 0) - new.get(CORE_OFFSET, 0)) / 1000
    others = [n for n in old if n.endswith("_mv") and n != CORE_OFFSET and n in new and old[n] > 0]
    return OF_VOLTAGE * (offset + sum(1 - new[name] / old[name] for name in others) / 3)


SHARES = {
    CORE_OFFSET: 0.70, MEMORY_VDD: 0.10, MEMORY_VDDQ: 0.05, CONTROLLER_VOLTAGE: 0.08, IO_VOLTAGE: 0.03,
    FABRIC_VOLTAGE: 0.04,
}  # fmt: skip
"""About the parts of a working rig's heat that go with these voltages."""
CORE_MV = 1150.0
"""What cores ask for, about, where nobody typed it."""


def heat_saved(before: Setpoint, after: Setpoint) -> float:
    """The part of the heat that is expected to be saved: switching power goes with voltage squared."""
    old, new = before.numbers(), after.numbers()
    found = 0.0
    for name, share in SHARES.items():
        at = CORE_MV if name == CORE_OFFSET else 0.0
        if name in old and name in new and old[name] + at > 0:
            found += share * (1 - ((new[name] + at) / (old[name] + at)) ** 2)
    return found
