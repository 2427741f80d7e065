"""What the engine says while it works. Frozen; display may lose one, the book never does."""

from dataclasses import dataclass

from tenaz.core.loads.plan import LoadProgress, Mismatch
from tenaz.core.ports.bench import HowLong, Question
from tenaz.core.scores.measure import MeasureProgress
from tenaz.core.sensors.guard import Said
from tenaz.core.sensors.telemetry import Sample, Sensor
from tenaz.core.trials.trial import Trial


@dataclass(frozen=True, slots=True)
class TrialMoved:
    """A trial began, moved along the loop, or closed."""

    trial: Trial
    detail: str = ""


@dataclass(frozen=True, slots=True)
class LoadProgressed:
    """A load under way."""

    trial_id: int
    progress: LoadProgress


@dataclass(frozen=True, slots=True)
class Sampled:
    """Sensors were read during a trial's load."""

    trial_id: int
    sensors: tuple[Sensor, ...]
    sample: Sample


@dataclass(frozen=True, slots=True)
class Happened:
    """Something was said about a trial's load, at a time of it."""

    trial_id: int
    said: Said


@dataclass(frozen=True, slots=True)
class Mismatched:
    """A wrong value was found in a trial's load."""

    trial_id: int
    mismatch: Mismatch


@dataclass(frozen=True, slots=True)
class BookHeard:
    """Something came from other benches to the book, or its home answers again, or no more; ``words`` is worth telling
    (empty: nothing is). ``only_goes_on``: loads elsewhere go on, and that is all.
    """

    words: str = ""
    only_goes_on: bool = False


@dataclass(frozen=True, slots=True)
class MeasureProgressed:
    """The rig is being measured."""

    progress: MeasureProgress


@dataclass(frozen=True, slots=True)
class MeasureEnded:
    """A measure is in the book; ``why`` is why it ended before its time, where it did."""

    number: int
    why: str = ""


@dataclass(frozen=True, slots=True)
class Logged:
    """A line went into the merged log."""

    source: str
    text: str


@dataclass(frozen=True, slots=True)
class Asked:
    """The technician is asked something; None takes the question back."""

    question: Question | HowLong | None


@dataclass(frozen=True, slots=True)
class RunEnded:
    """A trial or climb is over and nothing runs any more; ``trouble`` says why when that was not planned."""

    trouble: str = ""
    advice: str = ""


@dataclass(frozen=True, slots=True)
class StandingPaused:
    """The standing order of the stick runs nothing now, and why; ``leaves`` says that the machine restarts."""

    text: str
    leaves: bool = False
