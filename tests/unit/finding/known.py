"""Small rigs and sightings for the question path."""

from dataclasses import replace

from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.loads.plan import Mismatch, MismatchKind
from tenaz.core.machine.machine import MemoryModule
from tenaz.core.parts.acts import work
from tenaz.core.parts.fitting import Fitting
from tenaz.finding.belief import Belief
from tenaz.finding.grid import KnownOfFaults
from tenaz.finding.sightings import FaultSighting, Ran, Sensed
from tenaz.finding.symptoms import Symptom

GIB = 2**30
CORES = 4


def slot(name: str, serial: str = "") -> MemoryModule:
    return MemoryModule(name, 16 * GIB if serial else 0, "DDR4", part="LQ-16", serial=serial, bank="")


FOUR_SLOTS = Fitting((slot("A1"), slot("A2", "41"), slot("B1"), slot("B2", "42")))


def after(fitting: Fitting, *acts: str) -> Fitting:
    for act in acts:
        fitting = work(fitting, CORES, act).fitting
    return fitting


def lane(address: int, bit: int = 17) -> Mismatch:
    return Mismatch(0, 60.0, 1, 0x7F00_0000_0000 + address, 0, 1 << bit, 0, MismatchKind.ON_THE_WAY, physical=address)


def computed(core: int) -> Mismatch:
    return Mismatch(0, 60.0, 1, 0, 5, 7, 5, MismatchKind.COMPUTED, "a result", core=core)


LANES = tuple(lane(0x4000_0000 * place + 0x1000) for place in range(1, 5))
PAIRS = tuple(replace(one, read=(1 << 17) | (1 << 49)) for one in LANES)


def held(fitting: Fitting, kind: LoadKind, hours: float, **more: object) -> FaultSighting:
    return FaultSighting(fitting, (Ran(kind),), Outcome.HELD, hours * 3600, **more)  # type: ignore[arg-type]


def failed(
    fitting: Fitting, kind: LoadKind, hours: float, wrong: tuple[Mismatch, ...] = (),
    outcome: Outcome = Outcome.ERRED, number: int = 0,
) -> FaultSighting:  # fmt: skip
    return FaultSighting(fitting, (Ran(kind),), outcome, hours * 3600, hours * 3600, wrong=wrong, number=number)


def belief(
    *sightings: FaultSighting, symptoms: tuple[Symptom, ...] = (), first: Fitting = FOUR_SLOTS, cores: int = CORES
) -> Belief:
    fittings = dict.fromkeys((first, *(one.fitting for one in sightings)))
    return Belief(KnownOfFaults(tuple(fittings), cores, symptoms, sightings))


def sensed(k_per_w: float, power_w: float = 60.0, rail_v: float = 12.05) -> Sensed:
    return Sensed(k_per_w, rail_v, power_w)
