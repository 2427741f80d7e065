"""The conversation, version by version of its own.

The far side says who it is; all that the near side wants are questions, each with a number that its answer bears. What
happens in a load comes as numbered notices, which the far side keeps until they are acknowledged; how a load fares
comes unnumbered, and may be lost.

Each line ends with the sum of what it says, as eight hexadecimal digits behind a ``#``.

    near → far   {"n": 7, "do": "check", "with": …}   {"ack": 41}   {"beat": 12.0}   {"bye": "…"}
    far → near   {"agent": …}   {"n": 7, "came": …}   {"n": 7, "refused": "…"}   {"seq": 42, "event": "sample",
                 "data": …}   {"live": "progress", "data": …}   {"beat": 12.0, "newest": 42}   {"bye": "…"}
"""

from dataclasses import dataclass
from enum import StrEnum

from tenaz.core.loads.goldens import Goldens
from tenaz.core.loads.plan import LoadPlan, LoadProgress, LoadReport, Mismatch
from tenaz.core.machine.machine import Machine
from tenaz.core.machine.physical_memory import Laid
from tenaz.core.rigs.offers import Offer, Raw
from tenaz.core.rigs.rig import Rig
from tenaz.core.scores.measure import Measured, MeasurePlan, MeasureProgress
from tenaz.core.sensors.last_seconds import Moment
from tenaz.core.sensors.telemetry import Sample, Sensor

PROTOCOL = 1
"""Raised whenever one who speaks the version before would misunderstand."""

BEAT_S = 1.0
"""How often each side gives a sign of life where nothing else is said."""

SILENT_AFTER_S = 3.5
"""So long without one, and the other side counts as gone."""


ONLOOKER = ""
"""Who begins with this name only looks: what it is, how it stands; and may stop what runs."""
LOOKS = ("machine", "stop", "kept")


@dataclass(frozen=True, slots=True)
class Agent:
    """Who answers: its protocol and version, the machine's name, on which boot, and which notes it keeps."""

    protocol: int
    version: str
    name: str
    boot_id: str
    notes: str


@dataclass(frozen=True, slots=True)
class Open:
    """What the near side begins with: who it is (by which it is known again), the rig as the book has it, and up to
    which notice of which notes it has everything in its book.
    """

    near: str
    rig: Rig
    goldens: Goldens
    notes: str = ""
    heard: int = 0


@dataclass(frozen=True, slots=True)
class Opened:
    """How it stands there: the boot, seconds since it began, the load that runs, and that whose end is not
    acknowledged yet, by their tokens (empty: none).
    """

    boot_id: str
    up_s: float
    running: str = ""
    ended: str = ""


@dataclass(frozen=True, slots=True)
class Load:
    """Run this; asked again under the same ``token`` it is joined, not begun twice."""

    token: str
    plan: LoadPlan


@dataclass(frozen=True, slots=True)
class Told:
    """The sensors that are watched, and every how many seconds they are read."""

    sensors: tuple[Sensor, ...]
    period_s: float


@dataclass(frozen=True, slots=True)
class Noted:
    """A line for the log, and whose it is."""

    text: str
    source: str


class End(StrEnum):
    """How a load came to its end there."""

    REPORTED = "reported"
    REFUSED = "refused"
    CUT_SHORT = "cut short"


@dataclass(frozen=True, slots=True)
class Ended:
    """The end of a load: its report, or why there is none."""

    token: str
    end: End
    report: LoadReport | None = None
    why: str = ""


@dataclass(frozen=True, slots=True)
class Kept:
    """What the kernel and the firmware kept of what was before this boot: how long it is up, records of a crash that
    survived, and what hardware told of errors.
    """

    boot_id: str
    up_s: float
    crash: str = ""
    hardware: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Stands:
    """What the kernel's door there stands at, and what waits for the next start."""

    now: dict[str, Raw]
    waits: dict[str, Raw]


QUESTIONS: dict[str, tuple[object, object]] = {
    "open": (Open, Opened),
    "machine": (None, Machine),
    "check": (LoadPlan, None),
    "load": (Load, Opened),
    "stop": (str, None),
    "measure": (MeasurePlan, Measured),
    "kept": (None, Kept),
    "offers": (None, tuple[Offer, ...]),
    "stands": (None, Stands),
    "set": (dict[str, Raw], None),
    "restart": (None, None),
}
"""What can be asked: the form of what goes with it, and that of what comes."""

NOTICES: dict[str, object] = {
    "sensors": Told,
    "sample": Sample,
    "mismatch": Mismatch,
    "laid": Laid,
    "note": Noted,
    "ended": Ended,
}
"""What is kept until it is acknowledged."""

LIVE: dict[str, object] = {"progress": LoadProgress, "glimpse": Moment, "measuring": MeasureProgress}
"""What may be lost."""
