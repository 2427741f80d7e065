"""What is dialled on the tracks: nothing is set by it until a trial begins."""

from dataclasses import dataclass

from tenaz.core.knobs import Knob
from tenaz.core.rigs import Rig
from tenaz.core.setpoints import Setpoint


@dataclass(slots=True)
class Dial:
    """The dialled setpoint of a rig and the knob in hand."""

    rig: Rig
    setpoint: Setpoint
    in_force: Setpoint
    selected: int = 0

    @property
    def knob(self) -> Knob:
        """The knob in hand."""
        return self.rig.knobs[self.selected]

    @property
    def value(self) -> int:
        """Its dialled value."""
        return self.setpoint[self.knob.name]

    def select(self, step: int) -> None:
        """Take another knob in hand, round and round."""
        self.selected = (self.selected + step) % len(self.rig.knobs)

    def turn(self, steps: int) -> None:
        """Turn by grid steps; stops at the grid's ends and at the hard ceiling."""
        grid = self.knob.grid
        ceiling = grid.last if self.knob.hard_ceiling is None else self.knob.hard_ceiling
        top = max(value for value in grid.values() if value <= ceiling)
        self.take(max(grid.first, min(self.value + steps * grid.step, top)))

    def take(self, value: int) -> None:
        """Dial a value."""
        self.setpoint = self.setpoint.replacing(self.knob.name, value)

    def follow(self, in_force: Setpoint) -> None:
        """Other values are in force now: whoever has dialled nothing sees those, what was dialled stays."""
        if self.setpoint == self.in_force:
            self.setpoint = in_force
        self.in_force = in_force
