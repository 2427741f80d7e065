"""The parts of one machine, drawn from its population: what each can do. The same seed gives the same parts."""

import zlib
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tenaz.core.machine.machine import MemoryModule
from tenaz.simulated.made.populations import Population
from tenaz.simulated.made.prior_ranges import PRIOR_RANGES
from tenaz.simulated.physics.timings import FLOORS

MOST_CORES, MOST_SLOTS, MOST_RANKS = 256, 16, 4
CUT_OFF = 2.0
"""Standard deviations beyond which parts are sorted out before they are sold."""

NAMES = tuple(PRIOR_RANGES)


@dataclass(frozen=True, slots=True)
class ModuleParts:
    """One module, wherever it sits. ``signal_mts`` against the rig's others; ``access_ns`` and ``floors`` (a factor on
    each timing's floor) by rank; ``cells`` are its weak cells: bank, row and column as parts of all, bit, and whether
    they fall to 1.
    """

    signal_mts: float
    access_ns: NDArray[np.float64]
    floors: NDArray[np.float64]
    retention: float
    disturb: float
    vdd_mv: float
    vpp_mv: float
    cells: NDArray[np.float64]
    lane: int


@dataclass(frozen=True, slots=True)
class Parts:
    """What all modules and cores share, by the name of its prior, and each core and slot against the others."""

    drawn: dict[str, float]
    cores_mv: NDArray[np.float64]
    slots_mts: NDArray[np.float64]
    floors: NDArray[np.float64]
    rounding: float
    not_taken: float
    oddity: float
    drift_phase: float

    def __getitem__(self, name: str) -> float:
        return self.drawn[name]


def draw_parts(population: Population, seed: int) -> Parts:
    """The parts that belong to a seed."""
    luck = np.random.Generator(np.random.PCG64([seed & 0xFFFF_FFFF_FFFF_FFFF, 1]))
    normal = _cut_off(luck, len(NAMES) + MOST_CORES + MOST_SLOTS + len(FLOORS))
    priors = [population.prior[name] for name in NAMES]
    drawn = {name: prior.mean + prior.sd * z for name, prior, z in zip(NAMES, priors, normal.tolist(), strict=False)}
    rest = normal[len(NAMES) :]
    floors = rest[MOST_CORES + MOST_SLOTS :]
    even = luck.random(4)
    return Parts(
        drawn=drawn,
        cores_mv=rest[:MOST_CORES] * population.prior["core_spread_mv"].sd,
        slots_mts=rest[MOST_CORES : MOST_CORES + MOST_SLOTS] * population.prior["slot_mts"].sd,
        floors=1.0 + floors * np.array([spread for _, spread, _, _ in FLOORS.values()]),
        rounding=float(even[0]),
        not_taken=float(even[1]),
        oddity=float(even[2]),
        drift_phase=float(even[3]),
    )


def draw_module(population: Population, seed: int, module: MemoryModule) -> ModuleParts:
    """What belongs to one module: it goes where the module goes."""
    name = zlib.crc32(f"{module.part}/{module.serial or module.slot}".encode())
    luck = np.random.Generator(np.random.PCG64([seed & 0xFFFF_FFFF_FFFF_FFFF, 2, name]))
    ranks, timings = MOST_RANKS, len(FLOORS)
    normal, prior = _cut_off(luck, 8 + ranks + ranks * timings), population.prior
    spreads = np.array([spread for _, spread, _, _ in FLOORS.values()])
    count = max(1, round(prior["weak_cells"].mean + prior["weak_cells"].sd * float(normal[7])))
    return ModuleParts(
        signal_mts=float(normal[0]) * prior["module_mts"].sd,
        access_ns=normal[8 : 8 + ranks] * prior["access_module_ns"].sd,
        floors=1.0 + 0.4 * normal[8 + ranks :].reshape(ranks, timings) * spreads,
        retention=float(normal[1]) * 0.05,
        disturb=float(normal[2]) * 0.05,
        vdd_mv=float(normal[3]) * 3.0,
        vpp_mv=float(normal[4]) * 3.0,
        cells=luck.random((count, 5)),
        lane=int(luck.integers(64)),
    )


def _cut_off(luck: np.random.Generator, count: int) -> NDArray[np.float64]:
    """Standard normal numbers without those that are too far out: these are drawn from the middle instead."""
    found = luck.standard_normal(count)
    return np.where(np.abs(found) > CUT_OFF, found * 0.3, found)
