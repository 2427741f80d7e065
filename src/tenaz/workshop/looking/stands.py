"""What stands: the rig at work, how it is reached, what is in force there, and the trials that count."""

from dataclasses import dataclass

from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.trials.index import TrialIndex
from tenaz.workshop.bench.at_work import AtWork


@dataclass(frozen=True, slots=True)
class Stands:
    """``index`` finds trials by setpoint and line; ``in_force`` is what the rig was last set to."""

    rig: Rig
    bench: BenchKind
    in_force: Setpoint
    index: TrialIndex


def take_stands(at: AtWork) -> Stands:
    """As the book has it now."""
    index = at.trials
    return Stands(at.rig, at.bench, index.in_force(at.rig.stock), index)
