"""A rig: the machine being tuned, its knobs, its stock setpoint, and what it is for."""

from dataclasses import dataclass
from enum import StrEnum

from tenaz.core.errors import Refused
from tenaz.core.knobs import Knob
from tenaz.core.loading import LoadKind
from tenaz.core.machine import Machine
from tenaz.core.setpoints import Setpoint


class BenchKind(StrEnum):
    """How Tenaz reaches a rig."""

    SIM = "sim"
    HERE = "here"
    HAND = "hand"

    @property
    def real(self) -> bool:
        """Whether trials there say something about the rig itself, not about a stand-in."""
        return self is not BenchKind.SIM


@dataclass(frozen=True, slots=True)
class Purpose:
    """What a rig is for: the guard band in grid steps, the hours asked of each kind of load, and the temperatures in °C
    from which on is warned and stopped, for the processor and for memory modules.
    """

    name: str
    guard_band_steps: int
    hours_asked: tuple[tuple[LoadKind, float], ...]
    processor_ceiling_c: tuple[float, float] = (90.0, 100.0)
    module_ceiling_c: tuple[float, float] = (78.0, 85.0)


OWN = Purpose("own machine", 1, ((LoadKind.MARCH, 1.0), (LoadKind.TRANSFORM, 0.5)))
GUARANTEED = Purpose(
    "guaranteed for three winters",
    3,
    ((LoadKind.MARCH, 8.0), (LoadKind.TRANSFORM, 4.0)),
    processor_ceiling_c=(85.0, 95.0),
    module_ceiling_c=(70.0, 80.0),
)


@dataclass(frozen=True, slots=True)
class Rig:
    """The machine being tuned, as far as it is known; empty text and None mean unknown.

    ``machine`` is what was read of it; ``by_eye`` what the eye found: dirt, a bent contact, a loose plug.
    ``sensors_watched`` are parts of sensors' names (none: all are watched), read every ``sample_period_s``.
    ``seed`` makes the simulated machine; it means nothing on other benches.
    """

    name: str
    purpose: Purpose
    knobs: tuple[Knob, ...]
    stock: Setpoint
    benches: tuple[BenchKind, ...]
    processor: str = ""
    cores: int | None = None
    memory_bytes: int | None = None
    parts: tuple[tuple[str, str], ...] = ()
    seed: int = 0
    machine: Machine | None = None
    owner: str = ""
    complaint: str = ""
    by_eye: str = ""
    guarantee_months: int | None = None
    sensors_watched: tuple[str, ...] = ()
    sample_period_s: float = 1.0

    def knob(self, name: str) -> Knob:
        """Find a knob by its name or by its label.

        Raises:
            Refused: naming the knobs that the rig has.
        """
        wanted = name.lower().replace("-", "_")
        for knob in self.knobs:
            if wanted in (knob.name.lower(), knob.label.lower(), knob.label.lower().replace(" ", "_")):
                return knob
        raise Refused(f"rig {self.name} has no knob {name!r}; it has: {', '.join(k.name for k in self.knobs)}.")

    def check(self, setpoint: Setpoint, reason: str = "") -> None:
        """Refuse a setpoint with a value that may not be set; a dry run before anything is touched."""
        for knob in self.knobs:
            knob.check(setpoint[knob.name], reason)
