"""Orders about what is known of rigs, real and simulated."""

from dataclasses import dataclass

from tenaz.core.loads.goldens import Goldens
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.orders.order import Begins, Order


@dataclass(frozen=True, slots=True)
class ChooseRig(Order[None]):
    """Work on a rig by its name; None: the next of the book."""

    name: str | None = None


@dataclass(frozen=True, slots=True)
class ChooseBench(Order[None]):
    """Reach the rig in a way; None: the next that it has."""

    bench: BenchKind | None = None


@dataclass(frozen=True, slots=True)
class TakeIn(Order[str]):
    """Fill the rig in anew from this machine."""


@dataclass(frozen=True, slots=True)
class KeepRig(Order[str]):
    """Keep a rig as it was filled in."""

    rig: Rig


@dataclass(frozen=True, slots=True)
class Know(Order[None]):
    """A value of the rig's stock that nobody could read, as it was typed."""

    knob: str
    value: int


@dataclass(frozen=True, slots=True)
class CorrectGrid(Order[str]):
    """Take values off a knob's grid, because the firmware makes others of them."""

    knob: str
    values: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class KeepGoldens(Order[None]):
    """Keep goldens of the rig at work, in place of those made with the same instructions and libraries."""

    goldens: Goldens


@dataclass(frozen=True, slots=True)
class WorkOnParts(Order[str]):
    """Do something to the parts of a rig, or (a real one) write down that it was done, as typed: ``pull A2``."""

    text: str


@dataclass(frozen=True, slots=True)
class LabelPart(Order[str]):
    """Put a label on a part, as typed: ``module 2262 bad: fails alone``."""

    text: str


@dataclass(frozen=True, slots=True)
class TickSymptom(Order[str]):
    """A symptom was noticed, or was not after all; empty: read the complaint anew."""

    symptom: str = ""


@dataclass(frozen=True, slots=True)
class FollowFound(Begins[str]):
    """Do what the question path says comes next: work on the parts, clocks cut, a load."""

    work: str
    eased: tuple[str, ...]
    load: LoadPlan
    reason: str


@dataclass(frozen=True, slots=True)
class SetFaults(Order[str]):
    """Make parts of a simulated rig faulty, as typed: ``bad-lane B2``; none: make it sound."""

    faults: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class NewSimulated(Order[str]):
    """Add a simulated rig: of a scenario (a name, or a file), or drawn from a ``kind`` by a seed."""

    source: str = ""
    kind: str = ""
    seed: int | None = None
    name: str = ""


@dataclass(frozen=True, slots=True)
class Reveal(Order[str]):
    """Tell what a simulated machine hides, and judge what was found against it."""

    answer: str = ""
