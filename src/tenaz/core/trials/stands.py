"""What stands: the rig at work, how it is reached, what is in force there, and the trials that count."""

from dataclasses import dataclass

from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.trials.index import TrialIndex
from tenaz.core.trials.trial import Trial


@dataclass(frozen=True, slots=True)
class Stands:
    """``index`` finds trials by setpoint and line; ``in_force`` is what the rig was last set to."""

    rig: Rig
    bench: BenchKind
    in_force: Setpoint
    index: TrialIndex

    @property
    def trials(self) -> tuple[Trial, ...]:
        """All that count, oldest first."""
        return self.index.trials
