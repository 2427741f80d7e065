"""Orders about what is looked at."""

from dataclasses import dataclass
from typing import ClassVar

from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.rigs.rig_line import RigLine
from tenaz.core.trials.due import FollowUp
from tenaz.core.trials.querying import Found, Query
from tenaz.orders.order import Brings
from tenaz.pictures.alike.model import AlikePicture
from tenaz.pictures.book.trial import TrialPage
from tenaz.pictures.climb.model import ClimbPicture
from tenaz.pictures.field.model import FieldPicture
from tenaz.pictures.find.model import FindPicture
from tenaz.pictures.load.build import KnownOfLoad
from tenaz.pictures.memory.model import MemoryPicture
from tenaz.pictures.night.model import NightPicture
from tenaz.settings.model import Settings


@dataclass(frozen=True, slots=True)
class BringLoad(Brings[KnownOfLoad]):
    """Fetch what the book kept of a trial's load."""

    trial_id: int


@dataclass(frozen=True, slots=True)
class BringLine(Brings[ClimbPicture | None]):
    """Draw the picture of all trials that differ from a setpoint in one knob, preferably about one kind of load."""

    knob: str
    through: Setpoint
    prefer: LoadKind


@dataclass(frozen=True, slots=True)
class BringSearch(Brings[ClimbPicture]):
    """Draw the picture of a search of the rig, however long ago, as its trials stand now."""

    search_id: int


@dataclass(frozen=True, slots=True)
class BringRigs(Brings[tuple[RigLine, ...]]):
    """Fetch the list of rigs, with where each stands."""


@dataclass(frozen=True, slots=True)
class BringFound(Brings[Found]):
    """Fetch the trials, of whatever rig, that are looked for."""

    long: ClassVar[bool] = True
    query: Query


@dataclass(frozen=True, slots=True)
class BringTrial(Brings[TrialPage]):
    """Fetch all that the book keeps of a trial."""

    trial_id: int


@dataclass(frozen=True, slots=True)
class BringFollowUps(Brings[tuple[FollowUp, ...]]):
    """Fetch what is to be come back to, on all rigs."""


@dataclass(frozen=True, slots=True)
class BringField(Brings[FieldPicture]):
    """Draw the picture of a search over two knobs."""

    search_id: int


@dataclass(frozen=True, slots=True)
class BringNight(Brings[NightPicture]):
    """Draw the picture of a night."""

    search_id: int


@dataclass(frozen=True, slots=True)
class BringAlike(Brings[AlikePicture]):
    """Work out what the parts of the rig at work usually reach, or rigs in whose parts some words stand."""

    words: str = ""


@dataclass(frozen=True, slots=True)
class BringMemory(Brings[MemoryPicture]):
    """Fetch what the loads of the rig at work reached of its physical memory."""


@dataclass(frozen=True, slots=True)
class BringFinding(Brings[FindPicture]):
    """Fetch what the question path thinks of the rig at work."""

    long: ClassVar[bool] = True


@dataclass(frozen=True, slots=True)
class ChangeSetting(Brings[Settings]):
    """Change one setting of Tenaz itself (None: as usual again); the settings come."""

    name: str
    value: object = None
