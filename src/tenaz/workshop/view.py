"""Everything that the workbench shows at one moment."""

from dataclasses import dataclass

from tenaz.charts.climb import ClimbPicture
from tenaz.core.climbs import Advice, ClimbPlan, Proposal
from tenaz.core.ports import Question
from tenaz.core.rigs import BenchKind, Rig
from tenaz.core.setpoints import Setpoint
from tenaz.core.trials import Trial


@dataclass(frozen=True, slots=True)
class View:
    """Everything that the workbench shows, at one moment, for one rig on one bench.

    ``in_force`` is what the rig was last set to. ``unfinished`` is a trial that nothing runs and nobody has judged.
    ``pictures`` holds the newest climb along each knob.
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
    log: tuple[tuple[str, str, str], ...]
