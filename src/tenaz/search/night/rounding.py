"""What a firmware makes of values that it does not take: it keeps multiples of a number that nobody was told."""

import math
from collections.abc import Iterable, Sequence

from tenaz.core.knobs.knob import Harder, Knob
from tenaz.core.knobs.setpoint import Setpoint


class RoundedByFirmware:
    """By knob: what was asked and what was in force instead, and what was taken as it was asked."""

    def __init__(self) -> None:
        self._made: dict[str, dict[int, int]] = {}
        self._taken: dict[str, set[int]] = {}

    @property
    def knobs(self) -> Iterable[str]:
        """Of which something is known."""
        return self._made

    def took(self, setpoint: Setpoint, told: Sequence[str] = ()) -> None:
        """It was in force as it was asked, but for what was only ``told``: nobody read that."""
        for name, value in setpoint.numbers().items():
            if name not in told:
                self._taken.setdefault(name, set()).add(value)

    def learn(self, asked: Setpoint, got: Setpoint) -> bool:
        """Something else was in force; whether that was not known."""
        new = False
        for change in got.changes_from(asked):
            if isinstance(change.before, int) and isinstance(change.after, int):
                made = self._made.setdefault(change.knob, {})
                new |= made.get(change.before) != change.after
                made[change.before] = change.after
        return new

    def asked(self, knob: Knob, value: int) -> int:
        """What to ask for instead of a value: what is taken and no harder; the value itself where nothing is known, or
        where that would lie above the advised ceiling.
        """
        made = self._made.get(knob.name)
        if not made or value in self._taken.get(knob.name, ()):
            return value
        multiple = _multiple(made)
        easier = math.ceil if knob.harder is Harder.DOWN else math.floor
        found = easier(value / multiple) * multiple
        highest = knob.grid.last if knob.advised_ceiling is None else knob.advised_ceiling
        return found if found in knob.grid and found <= max(value, highest) else value


def _multiple(made: dict[int, int]) -> int:
    """The least number of which all that was in force are multiples, and that explains how far they are off."""
    common = math.gcd(*made.values())
    most = max(abs(asked - got) for asked, got in made.items())
    return next((one for one in range(most + 1, common + 1) if common % one == 0), 1)
