"""Orders about what is looked at."""

from dataclasses import dataclass

from tenaz.core.load_kinds import LoadKind
from tenaz.core.querying import Query
from tenaz.core.setpoints import Setpoint


@dataclass(frozen=True, slots=True)
class BringLoad:
    """Fetch what the book kept of a trial's load."""

    trial_id: int


@dataclass(frozen=True, slots=True)
class BringLine:
    """Draw the picture of all trials that differ from a setpoint in one knob, preferably about one kind of load."""

    knob: str
    through: Setpoint
    prefer: LoadKind


@dataclass(frozen=True, slots=True)
class BringSearch:
    """Draw the picture of a search of the rig, however long ago, as its trials stand now."""

    search_id: int


@dataclass(frozen=True, slots=True)
class BringRigs:
    """Fetch the list of rigs, with where each stands."""


@dataclass(frozen=True, slots=True)
class BringFound:
    """Fetch the trials, of whatever rig, that are looked for."""

    query: Query


@dataclass(frozen=True, slots=True)
class BringTrial:
    """Fetch all that the book keeps of a trial."""

    trial_id: int


@dataclass(frozen=True, slots=True)
class BringFollowUps:
    """Fetch what is to be come back to, on all rigs."""


@dataclass(frozen=True, slots=True)
class BringField:
    """Draw the picture of a search over two knobs."""

    search_id: int


@dataclass(frozen=True, slots=True)
class BringNight:
    """Draw the picture of a night."""

    search_id: int


@dataclass(frozen=True, slots=True)
class BringMemory:
    """Fetch what the loads of the rig at work reached of its physical memory."""


@dataclass(frozen=True, slots=True)
class BringFinding:
    """Fetch what the question path thinks of the rig at work."""


@dataclass(frozen=True, slots=True)
class ChangeSetting:
    """Change one setting of Tenaz itself (None: as usual again); the settings come."""

    name: str
    value: object = None
