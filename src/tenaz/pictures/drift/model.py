"""The Drift picture: of each knob its edge at one time of the rig and at another, and whether that differs."""

from dataclasses import dataclass

from tenaz.core.evidence.edge import EdgeEstimate
from tenaz.core.knobs.knob import Knob, show_steps
from tenaz.core.loads.kinds import LoadKind
from tenaz.margins.drift import Moved


@dataclass(frozen=True, slots=True)
class DriftRow:
    """One knob on one line, under one kind of load: when, the edge then and now, how it moved, and the numbers of the
    trials that both rest on. ``in_use`` is what is in force, where the line goes through that.
    """

    knob: Knob
    kind: LoadKind
    then: str
    now: str
    edge_then: EdgeEstimate
    edge_now: EdgeEstimate
    moved: Moved
    trials_then: tuple[int, ...]
    trials_now: tuple[int, ...]
    in_use: int | None = None

    @property
    def verdict(self) -> str:
        """In words."""
        moved = self.moved
        there = self.edge_then.median
        units = abs(self.knob.between(there + moved.steps) - self.knob.between(there))
        way, sure = ("nearer", moved.lower) if moved.lower > moved.higher else ("farther", moved.higher)
        if moved.differs >= SURE:
            return f"moved: {sure:.0%} sure that failure is {way}, by about {units:.0f} {self.knob.unit}".rstrip()
        if moved.differs <= 1 - SURE:
            return f"as it was; {self.could}"
        told = f"{moved.lower:.0%} nearer, {moved.higher:.0%} farther"
        return f"not to be told yet: {told}; {self.could}"

    @property
    def could(self) -> str:
        """What shift these trials could have told, so that nothing told is not taken for nothing there."""
        steps = self.moved.could_tell
        if steps is None:
            return "these trials could have told of no shift, however large: more of them at both times would"
        there = self.edge_then.median
        units = abs(self.knob.between(there - steps) - self.knob.between(there))
        return f"a shift of {show_steps(round(steps))} nearer ({units:.0f} {self.knob.unit}) would have been told"

    @property
    def weather(self) -> str:
        """What the temperature has to do with it."""
        moved = self.moved
        if moved.warmer_k is None:
            return "temperatures were not measured both times: weather cannot be told apart"
        if abs(moved.warmer_k) < 1.0:
            return "as warm as then"
        warmer = f"{abs(moved.warmer_k):.0f} °C {'warmer' if moved.warmer_k > 0 else 'cooler'} than then"
        return f"{warmer}, which alone moves it {moved.weather_steps:+.1f} steps; that is taken out"


SURE = 0.9


@dataclass(frozen=True, slots=True)
class DriftPicture:
    """``words`` say why nothing could be compared, where that is so."""

    rig: str
    rows: tuple[DriftRow, ...]
    epochs: tuple[str, ...] = ()
    words: str = ""
