"""Orders: what a technician can want done, as frozen values. One door carries them out: :meth:`Workshop.do`."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Protocol

from tenaz.core.goldens import Goldens
from tenaz.core.load_kinds import LoadKind
from tenaz.core.loading import LoadPlan
from tenaz.core.notes import ValueNote
from tenaz.core.outcomes import Outcome
from tenaz.core.past_trials import PastTrial
from tenaz.core.plans import Planned, StopRule
from tenaz.core.querying import Query
from tenaz.core.record_text import SeenRecord
from tenaz.core.rigs import BenchKind, Rig
from tenaz.core.setpoints import Setpoint, Value
from tenaz.workshop.relay import Answer

# -- what runs ----------------------------------------


@dataclass(frozen=True, slots=True)
class StartTrial:
    """One trial at a setpoint."""

    setpoint: Setpoint
    load: LoadPlan
    reason: str = ""


@dataclass(frozen=True, slots=True)
class StartRoutine:
    """Trials at one setpoint with one load after the other, until one of them does not hold."""

    setpoint: Setpoint
    loads: tuple[LoadPlan, ...]
    reason: str = ""


@dataclass(frozen=True, slots=True)
class Steps:
    """How far a search is gone on with: one trial, or all."""

    one: bool = False


ALL_STEPS = Steps()


@dataclass(frozen=True, slots=True)
class BeginSearch:
    """A search along knobs from a base: begun in the book; with ``steps`` it is also gone on with, one trial at a time
    or all that it takes.
    """

    knobs: tuple[str, ...]
    base: Setpoint
    load: LoadPlan
    reason: str = ""
    strategy: str = "stride"
    parameters: Mapping[str, object] = field(default_factory=dict)
    steps: Steps | None = None


@dataclass(frozen=True, slots=True)
class GoOn:
    """Go on with the search under way."""

    steps: Steps = ALL_STEPS


@dataclass(frozen=True, slots=True)
class RunPlan:
    """Make what is planned, one trial after the other, until the plan or the rule ends it."""

    rule: StopRule


@dataclass(frozen=True, slots=True)
class EndSearch:
    """End the search under way where it stands; its trials stay."""


@dataclass(frozen=True, slots=True)
class TakeUp:
    """Go on with an unfinished trial where it stands."""

    trial_id: int


@dataclass(frozen=True, slots=True)
class GiveAnswer:
    """Answer the question that the run has asked."""

    answer: Answer


@dataclass(frozen=True, slots=True)
class Stop:
    """Stop what runs; it is recorded as stopped by hand."""


@dataclass(frozen=True, slots=True)
class SetPace:
    """Simulated seconds in one real second; None: as fast as can be."""

    pace: float | None


# -- what is known of rigs ----------------------------------------


@dataclass(frozen=True, slots=True)
class ChooseRig:
    """Work on a rig by its name; None: the next of the book."""

    name: str | None = None


@dataclass(frozen=True, slots=True)
class ChooseBench:
    """Reach the rig in a way; None: the next that it has."""

    bench: BenchKind | None = None


@dataclass(frozen=True, slots=True)
class TakeIn:
    """Fill the rig in anew from this machine."""


@dataclass(frozen=True, slots=True)
class KeepRig:
    """Keep a rig as it was filled in."""

    rig: Rig


@dataclass(frozen=True, slots=True)
class Know:
    """A value of the rig's stock that nobody could read, as it was typed."""

    knob: str
    value: int


@dataclass(frozen=True, slots=True)
class CorrectGrid:
    """Take values off a knob's grid, because the firmware makes others of them."""

    knob: str
    values: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class KeepGoldens:
    """Keep goldens of the rig at work, in place of those made with the same instructions and libraries."""

    goldens: Goldens


# -- what is simulated ----------------------------------------


@dataclass(frozen=True, slots=True)
class WorkOnParts:
    """Do something to the parts of a simulated rig, as typed: ``pull A2``, ``clean``."""

    text: str


@dataclass(frozen=True, slots=True)
class SetFaults:
    """Make parts of a simulated rig faulty, as typed: ``bad-lane B2``; none: make it sound."""

    faults: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class NewSimulated:
    """Add a simulated rig: of a scenario (a name, or a file), or drawn from a ``kind`` by a seed."""

    source: str = ""
    kind: str = ""
    seed: int | None = None
    name: str = ""


@dataclass(frozen=True, slots=True)
class Reveal:
    """Tell what a simulated machine hides, and judge what was found against it."""

    answer: str = ""


# -- what is recorded ----------------------------------------


@dataclass(frozen=True, slots=True)
class Explain:
    """What was seen of a trial that nothing runs; without a time, its last heartbeat's. ``errors`` None: nobody counted
    them.
    """

    trial_id: int
    outcome: Outcome
    elapsed_s: float | None = None
    errors: int | None = None


@dataclass(frozen=True, slots=True)
class Undo:
    """Take back what was done last; after that what was done before. Where nothing was done yet since the book was
    opened, it is the newest record on this bench: the trial then waits for another one.
    """


@dataclass(frozen=True, slots=True)
class Correct:
    """Another record in place of a trial's, and values that it really ran at (by knob), where those were others."""

    trial_id: int
    record: SeenRecord
    values: Mapping[str, Value] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class EnterPast:
    """Trials that were made elsewhere or before."""

    trials: tuple[PastTrial, ...]
    rig: str = ""


@dataclass(frozen=True, slots=True)
class SaveRoutine:
    """Keep loads in turn under a name, as they are typed."""

    name: str
    text: str


@dataclass(frozen=True, slots=True)
class DropRoutine:
    """Forget a routine of one's own."""

    name: str


# -- what is planned ----------------------------------------


@dataclass(frozen=True, slots=True)
class AddPlanned:
    """Trials at the plan's end."""

    trials: tuple[Planned, ...]


@dataclass(frozen=True, slots=True)
class MovePlanned:
    """A planned trial earlier (−1) or later (1)."""

    planned_id: int
    step: int


@dataclass(frozen=True, slots=True)
class SkipPlanned:
    """A planned trial is not made after all."""

    planned_id: int


@dataclass(frozen=True, slots=True)
class NoteTrial:
    """Put a note on a trial."""

    trial_id: int
    text: str


@dataclass(frozen=True, slots=True)
class NoteValues:
    """Keep notes on values of the rig."""

    notes: tuple[ValueNote, ...]


@dataclass(frozen=True, slots=True)
class SettleNote:
    """A note needs no coming back to any more."""

    note_id: int


@dataclass(frozen=True, slots=True)
class SaveSetpoint:
    """Keep a setpoint of the rig under a name."""

    name: str
    setpoint: Setpoint
    text: str = ""


class Paper(Protocol):
    """Something that can be written to a file; a frozen value."""

    def write(self, path: Path) -> None:
        """Write it."""
        ...


@dataclass(frozen=True, slots=True)
class WritePaper:
    """Write something to a file."""

    paper: Paper
    path: Path


# -- what is looked at ----------------------------------------


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
class ChangeSetting:
    """Change one setting of Tenaz itself (None: as usual again); the settings come."""

    name: str
    value: object = None


Order = (
    StartTrial | StartRoutine | BeginSearch | GoOn | EndSearch | TakeUp | GiveAnswer | Stop | SetPace
    | WorkOnParts | SetFaults | NewSimulated | Reveal
    | ChooseRig | ChooseBench | TakeIn | KeepRig | Know | CorrectGrid | KeepGoldens
    | RunPlan | Correct | EnterPast | SaveRoutine | DropRoutine | AddPlanned | MovePlanned | SkipPlanned
    | BringRigs | BringFound | BringTrial | ChangeSetting
    | Explain | Undo | NoteTrial | NoteValues | SettleNote | SaveSetpoint | WritePaper | BringLoad | BringLine
    | BringSearch
)  # fmt: skip

STARTS = (StartTrial, StartRoutine, BeginSearch, GoOn, TakeUp, RunPlan)
"""Orders after which something runs."""

BRINGS = (BringLoad, BringLine, BringSearch, BringRigs, BringFound, BringTrial, ChangeSetting)
"""Orders that change nothing in the book: what they ask for comes."""

Bring = BringLoad | BringLine | BringSearch | BringRigs | BringFound | BringTrial | ChangeSetting
