"""The Reach picture: a part, the rigs that have it, and along each knob where the edge of one more such rig lies."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class KnobReach:
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


@dataclass(frozen=True, slots=True)
class PartReach:
    """One part, like ``board KB-10``: the rigs that have it, the knobs of which enough of them tell something, and the
    labels of those of which too few do.
    """

    part: str
    rigs: tuple[str, ...]
    knobs: tuple[KnobReach, ...] = ()
    too_few: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class ReachPicture:
    """All parts of the rig in hand, or the one that was asked for."""

    rig: str
    parts: tuple[PartReach, ...]
    simulated: bool = False
    least_rigs: int = 3
