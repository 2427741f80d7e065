"""Everything that the workbench shows at one moment."""

from dataclasses import dataclass

from tenaz.charts.climb import ClimbPicture
from tenaz.core.climbs import Advice, ClimbPlan, Proposal
from tenaz.core.notes import ValueNote
from tenaz.core.ports import Question
from tenaz.core.rigs import BenchKind, Rig
from tenaz.core.setpoints import Setpoint
from tenaz.core.trials import Trial
from tenaz.journal.sheets import SavedSetpoint


@dataclass(frozen=True, slots=True)
class View:
    """Everything that the workbench shows, at one moment, for one rig on one bench.

    ``in_force`` is what the rig was last set to. ``unfinished`` is a trial that nothing runs and nobody has judged.
    ``pictures`` holds the newest climb along each knob, ``saved`` the setpoints kept by name,
    ``notes`` those on values, ``unread`` rows of the book that are damaged and were passed over.
    """

    rigs: tuple[str, ...]
    rig: Rig
    bench: BenchKind
    place: str
    read_only: str
    trials: tuple[Trial, ...]
    in_force: Setpoint
    unfinished: Trial | None
    unfinished_question: Question | None
    climb: ClimbPlan | None
    standing: Proposal | Advice | None
    pictures: dict[str, ClimbPicture]
    saved: tuple[SavedSetpoint, ...]
    notes: tuple[ValueNote, ...]
    log: tuple[tuple[str, str, str], ...]
    unread: tuple[str, ...] = ()
