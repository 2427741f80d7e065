"""Which trials tell of a knob, and of which line of it: all other values as they stood."""

from collections import Counter
from collections.abc import Sequence

from tenaz.core.base.outcomes import Verdict
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.setpoint import Auto
from tenaz.core.trials.trial import Trial


def tells(trial: Trial, knob: Knob) -> bool:
    """Whether a trial tells of a value of the knob."""
    value = trial.setpoint[knob.name]
    return not isinstance(value, Auto) and value in knob.grid and trial.verdict is not Verdict.VOID


def on_line(trial: Trial, knob: Knob, key: int) -> bool:
    """Whether it tells of a value on the line of that key."""
    return tells(trial, knob) and trial.setpoint.line_key(knob.name) == key


def lines_of(trials: Sequence[Trial], knob: Knob) -> "Counter[int]":
    """The lines of a knob by their keys, with how many trials tell of each."""
    return Counter(trial.setpoint.line_key(knob.name) for trial in trials if tells(trial, knob))
