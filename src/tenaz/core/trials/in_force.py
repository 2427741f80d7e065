"""What a rig is set to, by what its trials tell."""

from collections.abc import Sequence

from tenaz.core.base.loop import Station
from tenaz.core.base.outcomes import Outcome
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.trials.past_trials import ENTERED_LATER
from tenaz.core.trials.trial import Trial


def counting_on(bench: BenchKind, trials: Sequence[Trial]) -> tuple[Trial, ...]:
    """The trials that say something on a bench: those of a simulated stand-in and those of the rig itself are apart."""
    return tuple(trial for trial in trials if trial.bench.real is bench.real)


def setpoint_in_force(trials: Sequence[Trial], stock: Setpoint) -> Setpoint:
    """The setpoint after these trials, oldest first: a failed boot clears the firmware back to stock.

    A trial that was stopped before its values were entered changed nothing.
    """
    last = set_by(trials)
    return stock if last is None else last.setpoint.knowing(stock)


def set_by(trials: Sequence[Trial]) -> Trial | None:
    """The trial whose values are in the rig now; None: those of stock are."""
    for trial in reversed(trials):
        if cleared(trial):
            return None
        if left_values(trial):
            return trial
    return None


def cleared(trial: Trial) -> bool:
    """Whether the rig stood at stock after a trial: it did not come up with what was entered."""
    return trial.outcome is Outcome.NO_BOOT and trial.seen_by != ENTERED_LATER


def left_values(trial: Trial) -> bool:
    """Whether a trial's values are in the rig since."""
    return trial.entered and trial.station is not Station.SET
