"""The Alike picture: a part, the rigs that have it, and along each knob where the edge of one more such rig lies."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class KnobAlike:
    """One knob: how many rigs stand behind it, between which values the edge of one more lies (with ``confidence``),
    the middle one, and the hardest value at which the rig in hand held (empty: none). Places from 0 (the grid's
    easiest) to 1 (its hardest) go with them; ``came`` is where the rig's own stock stands.
    """

    label: str
    rigs: int
    confidence: float
    stretch: str
    middle: str
    mine: str
    places: tuple[float, float, float]
    came: float | None = None
    mine_at: float | None = None
    others: tuple[tuple[str, float], ...] = ()
    """The hardest value at which each of the others held, and its place."""


@dataclass(frozen=True, slots=True)
class PartAlike:
    """One part, like ``board KB-10``: the rigs that have it, the knobs of which enough of them tell something, and the
    labels of those of which too few do.
    """

    part: str
    rigs: tuple[str, ...]
    knobs: tuple[KnobAlike, ...] = ()
    too_few: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class AlikePicture:
    """All parts of the rig in hand, or the one that was asked for; its edges are for what its purpose tolerates."""

    rig: str
    parts: tuple[PartAlike, ...]
    simulated: bool = False
    least_rigs: int = 3
    tolerance: str = ""
