"""What a strategy says about itself: its name, its parameters, how it begins."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, fields
from typing import Any

from tenaz.core.base.errors import Refused
from tenaz.core.searches.search import SearchGround, Strategy


@dataclass(frozen=True, slots=True)
class StrategyKind:
    """One strategy. ``parameters`` is a frozen dataclass of numbers and texts, each with a usual value, that refuses in
    ``__post_init__`` what makes no sense; ``make`` begins it on a ground with its parameters. ``most_knobs`` is how
    many it can move together.
    """

    name: str
    about: str
    parameters: type[Any]
    make: Callable[[SearchGround, Any], Strategy]
    most_knobs: int = 1
    climbs: bool = True
    """Whether it goes along one knob towards harder values."""
    from_auto: bool = False
    """Whether it knows where to begin with a knob that is left to the firmware."""
    goes_on: bool = False
    """Whether it takes trials one by one and heeds nothing but them: then it need not be played anew for one more."""

    alone: bool = False
    """Whether nobody need be there: it has its own end, and leaves the rig at what was proven."""
    maps: bool = False
    """Whether it tells of pairs of values, not of one line."""

    def check_knobs(self, count: int) -> None:
        """Refuse more knobs than it can move.

        Raises:
            Refused: none, or too many; says how many it moves.
        """
        if not 1 <= count <= self.most_knobs:
            raise Refused(f"{self.name} moves 1 to {self.most_knobs} knobs; {count} were named.")

    def typed(self, given: Mapping[str, object]) -> Any:
        """Its parameters out of plain values, as they stand in the book or were typed.

        Raises:
            Refused: a name that it does not have, or a value of another type; names what it has.
        """
        known = {field.name: field for field in fields(self.parameters)}
        for name, value in given.items():
            if name not in known:
                names = ", ".join(known) or "none"
                raise Refused(f"{self.name} has no parameter {name!r}; it has: {names}.")
            usual = known[name].default
            whole = isinstance(usual, float) and isinstance(value, int) and not isinstance(value, bool)
            if type(value) is not type(usual) and not whole:
                raise Refused(f"{self.name}: {name} is like {usual!r}, not {value!r}.")
        return self.parameters(**given)

    def begin(self, ground: SearchGround, given: Mapping[str, object]) -> Strategy:
        """A fresh strategy on this ground."""
        return self.make(ground, self.typed(given))
