"""What is dialled on the tracks: nothing is set by it until a trial begins."""

from contextlib import suppress
from typing import TYPE_CHECKING

from tenaz.core.base.errors import Refused
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.names import DATA_RATE
from tenaz.core.knobs.setpoint import Auto, Setpoint, Value
from tenaz.core.knobs.timings.minima import Remark
from tenaz.core.rigs.rig import Rig

if TYPE_CHECKING:
    from collections.abc import Callable

    from tenaz.core.rigs.rescaled import Rescaled


class Dial:
    """The dialled setpoint of a rig and the knob in hand."""

    def __init__(self, rig: Rig, setpoint: Setpoint, in_force: Setpoint, selected: int = 0) -> None:
        self.rig, self.in_force, self.selected = rig, in_force, selected
        self._setpoint = setpoint
        self.moved: Callable[[Setpoint, Setpoint], object] = lambda *_: None
        """Told of everything that is dialled."""
        self.carried: Rescaled | None = None
        """The last sheet that was carried, with what it could not keep."""

    @property
    def setpoint(self) -> Setpoint:
        """What is dialled."""
        return self._setpoint

    @setpoint.setter
    def setpoint(self, setpoint: Setpoint) -> None:
        before, self._setpoint = self._setpoint, setpoint
        if setpoint != before:
            self.moved(before, setpoint)

    def put_back(self, setpoint: Setpoint) -> None:
        """What was dialled once, as far as the rig still has such values: no act of its own."""
        self._setpoint = setpoint

    @property
    def out_of_reach(self) -> tuple[Remark, ...]:
        """What the carried sheet could not keep and still stands as dialled."""
        if self.carried is None or self.carried.setpoint[DATA_RATE] != self.setpoint[DATA_RATE]:
            return ()
        at = self.carried.setpoint
        return tuple(one for one in self.carried.out_of_reach if self.setpoint[one.name] == at[one.name])

    @property
    def knob(self) -> Knob:
        """The knob in hand."""
        return self.rig.knobs[self.selected]

    @property
    def value(self) -> Value:
        """Its dialled value."""
        return self.setpoint[self.knob.name]

    def select(self, step: int) -> None:
        """Take another knob in hand, round and round."""
        self.selected = (self.selected + step) % len(self.rig.knobs)

    def turn_group(self, step: int) -> None:
        """Take the first knob of the next page of the firmware in hand, or of the page before."""
        pages = [knob.group for knob in self.rig.knobs]
        starts = [place for place, group in enumerate(pages) if place == 0 or group != pages[place - 1]]
        at = max(number for number, place in enumerate(starts) if place <= self.selected)
        self.selected = starts[(at + step) % len(starts)]

    def place_of(self, text: str) -> int:
        """The place of the knob whose label or name begins with, or else holds, a text.

        Raises:
            Refused: there is none.
        """
        wanted = text.strip().lower()
        names = [(knob.label.lower(), knob.name, knob.standard_label.lower()) for knob in self.rig.knobs]
        begins = [place for place, known in enumerate(names) if any(name.startswith(wanted) for name in known)]
        holds = [place for place, known in enumerate(names) if any(wanted in name for name in known)]
        if not wanted or not begins:
            with suppress(Refused):
                return self.rig.knobs.index(self.rig.knob(text))
        if not wanted or not (begins or holds):
            self.rig.knob(text)
        return (begins or holds or [self.selected])[0]

    def turn(self, steps: int) -> None:
        """Turn by grid steps; stops at the grid's ends and at the hard ceiling. From auto it begins at its default."""
        knob, grid, value = self.knob, self.knob.grid, self.value
        if isinstance(value, Auto):
            default = knob.default if isinstance(knob.default, int) else grid.values()[len(grid) // 2]
            self.take(grid.nearest(default)[0])
            return
        turned = grid.at(max(0, min(grid.index(value) + steps, len(grid) - 1)))
        self.take(min(turned if turned is not None else value, knob.most))

    def take(self, value: Value) -> None:
        """Dial a value."""
        self.setpoint = self.setpoint.replacing(self.knob.name, value)

    def know(self, name: str, value: int) -> None:
        """A value of the rig that was not known is known now; nothing is moved by that."""
        self.rig = self.rig.knowing(name, value)
        self._setpoint, self.in_force = self._setpoint.knowing(self.rig.stock), self.in_force.knowing(self.rig.stock)

    def follow(self, in_force: Setpoint) -> None:
        """Other values are in force now: whoever has dialled nothing sees those, what was dialled stays."""
        if self._setpoint == self.in_force:
            self._setpoint = in_force
        self.in_force = in_force
