"""Orders about what is recorded, and what is taken back."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path

from tenaz.core.base.outcomes import Outcome
from tenaz.core.knobs.setpoint import Setpoint, Value
from tenaz.core.ports.bench import Ran
from tenaz.core.rigs.notes import ValueNote
from tenaz.core.trials.past_trials import PastTrial
from tenaz.core.trials.record_text import SeenRecord
from tenaz.core.trials.trial import Trial
from tenaz.orders.order import Looks, Order
from tenaz.papers.exports import Paper


@dataclass(frozen=True, slots=True)
class Explain(Order[Trial]):
    """What was seen of a trial that nothing runs; without a time, its last heartbeat's. ``told`` is what else was said
    of its load.
    """

    trial_id: int
    outcome: Outcome
    elapsed_s: float | None = None
    told: Ran | None = None


@dataclass(frozen=True, slots=True)
class Undo(Order[str]):
    """Take back what was done last; after that what was done before. Where nothing was done yet since the book was
    opened, it is the newest record on this bench: the trial then waits for another one.
    """


@dataclass(frozen=True, slots=True)
class Redo(Order[str]):
    """Do again what was taken back last, as long as nothing else was done since."""


@dataclass(frozen=True, slots=True)
class Correct(Order[str]):
    """Another record in place of a trial's, and values that it really ran at (by knob), where those were others."""

    trial_id: int
    record: SeenRecord
    values: Mapping[str, Value] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class EnterPast(Order[str]):
    """Trials that were made elsewhere or before."""

    trials: tuple[PastTrial, ...]
    rig: str = ""


@dataclass(frozen=True, slots=True)
class SaveRoutine(Order[str]):
    """Keep loads in turn under a name, as they are typed."""

    name: str
    text: str


@dataclass(frozen=True, slots=True)
class DropRoutine(Order[str]):
    """Forget a routine of one's own."""

    name: str


@dataclass(frozen=True, slots=True)
class NoteTrial(Order[None]):
    """Put a note on a trial."""

    trial_id: int
    text: str


@dataclass(frozen=True, slots=True)
class NoteValues(Order[str]):
    """Keep notes on values of the rig."""

    notes: tuple[ValueNote, ...]


@dataclass(frozen=True, slots=True)
class SettleNote(Order[str]):
    """A note needs no coming back to any more: it was done, or is ``dropped``."""

    note_id: int
    dropped: bool = False


@dataclass(frozen=True, slots=True)
class SaveSetpoint(Order[str]):
    """Keep a setpoint of the rig under a name."""

    name: str
    setpoint: Setpoint
    text: str = ""


@dataclass(frozen=True, slots=True)
class WritePaper(Looks[str]):
    """Write something to a file."""

    paper: Paper
    path: Path
