"""What lives on in a simulated machine between trials and between starts of Tenaz; kept with the book as JSON."""

from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from typing import Any

from pydantic import TypeAdapter

from tenaz.core.knobs.setpoint import Value
from tenaz.core.machine.machine import MemoryModule
from tenaz.simulated.made.faults import Fault, FaultKind
from tenaz.simulated.made.populations import Population

FIRMWARE_DATE = datetime(2024, 1, 1, tzinfo=UTC)
"""Where the calendar stands after everything was cleared."""


def new_state(
    population: Population, seed: int, at_utc: datetime, faults: tuple[Fault, ...] = (), goal: str = ""
) -> "State":
    """The state of a machine that nobody has run yet. Its time begins at eight in the morning of that day: how warm the
    room gets while it is worked on is then the same whenever it was made.
    """
    morning = at_utc.astimezone(UTC).replace(hour=8, minute=0, second=0, microsecond=0)
    return State(population, seed, morning, faults=faults, goal=goal)


@dataclass(slots=True)
class Care:
    """What hands have done to it: seated anew by slot, cores switched off, cooler cleaned, another supply put in, a
    fan on it. ``cleaned`` and ``other_supply`` are how older books tell the same.
    """

    reseated: dict[str, int] = field(default_factory=dict)
    cores_off: tuple[int, ...] = ()
    cleaned: bool = False
    other_supply: bool = False
    fresh_modules: int = 0
    cleanings: int = 0
    supplies: int = 0
    fan: bool = False
    spares: tuple[str, ...] = ()


@dataclass(slots=True)
class State:
    """One machine's state. Times are seconds of its own clock since it was made, temperatures in °C.

    ``turns`` counts whatever luck decides, so that nothing repeats and everything can be repeated. ``entered`` is what
    was typed into the firmware, ``in_force`` what it runs with, ``trained_for`` the values that ``trained_folds`` of
    luck belong to; ``unseen`` are slots whose module was not seen at the last start. ``aside`` are modules that were
    taken out. ``goal`` is the exercise that it was made for, ``told_s`` when its answer was told.
    """

    population: Population
    seed: int
    begun_utc: datetime
    now_s: float = 0.0
    set_back_s: float = 0.0
    up_since_s: float = 0.0
    boots: int = 0
    turns: int = 0
    failed_in_a_row: int = 0
    entered: dict[str, Value] | None = None
    in_force: dict[str, Value] | None = None
    unseen: tuple[str, ...] = ()
    trained_for: str = ""
    trained_folds: float = 0.0
    cooler_c: float | None = None
    modules_c: dict[str, float] = field(default_factory=dict)
    load_h: float = 0.0
    worn_mv: float = 0.0
    records: int = 0
    throttled: int = 0
    faults: tuple[Fault, ...] = ()
    care: Care = field(default_factory=Care)
    aside: tuple[MemoryModule, ...] = ()
    goal: str = ""
    told_s: float | None = None

    def utc(self, clock_set_s: float) -> datetime:
        """Its calendar, which stands back after clearing until the system's time service has set it right."""
        right = self.begun_utc + timedelta(seconds=self.now_s)
        if self.set_back_s and self.now_s - self.up_since_s < clock_set_s:
            return FIRMWARE_DATE + timedelta(seconds=self.now_s - self.set_back_s)
        return right

    def fault(self, kind: FaultKind) -> Fault | None:
        """The fault of a kind, unless care has taken it away."""
        care = self.care
        gone = (kind is FaultKind.COOLER and (care.cleaned or care.cleanings)) or (
            kind is FaultKind.SUPPLY and (care.other_supply or care.supplies)
        )
        return None if gone else next((one for one in self.faults if one.kind is kind), None)

    def faults_of(self, kind: FaultKind) -> tuple[Fault, ...]:
        """All of a kind."""
        return tuple(one for one in self.faults if one.kind is kind)


_state = TypeAdapter(State)


def state_to_json(state: State) -> Any:
    """A state as JSON values."""
    return _state.dump_python(state, mode="json")


def state_from_json(data: Any) -> State:
    """The opposite of :func:`state_to_json`."""
    return _state.validate_python(data)
