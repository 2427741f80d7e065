"""A setpoint: a full set of knob values that never changes; a new one is made instead."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property
from typing import Final

from tenaz.core.base.errors import Refused


class Auto(StrEnum):
    """What is no number: left to the firmware, or not known."""

    AUTO = "auto"
    UNKNOWN = "unknown"


AUTO: Final = Auto.AUTO
UNKNOWN: Final = Auto.UNKNOWN
"""Nobody could read it and nobody has said it: it is as the machine has it, whatever that is."""
Value = int | Auto
"""What a knob can stand at: a whole number in its unit, or automatic."""


@dataclass(frozen=True, slots=True)
class Change:
    """One line of the sheet that differs: knob name, value before and after."""

    knob: str
    before: Value
    after: Value


@dataclass(frozen=True)
class Setpoint(Mapping[str, Value]):
    """Values by knob name, each in its knob's unit. What is not named is automatic.

    Equal when the numbers are equal: what is automatic, not known or not named is all the same there. ``stood`` names
    values of a stock that were on auto until somebody said what they stand at: auto was that number all along.
    """

    items_by_name: tuple[tuple[str, Value], ...]
    stood: tuple[str, ...] = ()

    @classmethod
    def of(cls, values: Mapping[str, Value]) -> "Setpoint":
        """Make a setpoint; the order of names is kept for the sheet, but does not matter for equality."""
        return cls(tuple(values.items()))

    @cached_property
    def _by_name(self) -> dict[str, Value]:
        found: dict[str, Value] = {}
        for name, value in self.items_by_name:
            found.setdefault(name, value)
        return found

    @cached_property
    def key(self) -> int:
        """A number that equal setpoints share, within one run of the program. It is a sum over the knobs, so that what
        is left when one of them is taken out is as cheap as the whole: see :meth:`line_key`.
        """
        return sum(self._hashes.values())

    @cached_property
    def _hashes(self) -> dict[str, int]:
        return {name: hash((name, value)) for name, value in self._by_name.items() if not isinstance(value, Auto)}

    def line_key(self, name: str) -> int:
        """A number that all setpoints share which differ in nothing but this knob."""
        return self.key - self._hashes.get(name, 0)

    def line_keys(self) -> list[tuple[str, int]]:
        """Of each knob that is a number, its name and its :meth:`line_key`."""
        key = self.key
        return [(name, key - own) for name, own in self._hashes.items()]

    def __getitem__(self, name: str) -> Value:
        return self._by_name.get(name, AUTO)

    def __contains__(self, name: object) -> bool:
        return name in self._by_name

    def __iter__(self) -> Iterator[str]:
        return iter(key for key, _ in self.items_by_name)

    def __len__(self) -> int:
        return len(self.items_by_name)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Setpoint) and self.key == other.key and self.numbers() == other.numbers()

    def __hash__(self) -> int:
        return hash(self.key)

    def number(self, name: str) -> int:
        """A value that must be a number.

        Raises:
            Refused: it is automatic, or not known.
        """
        value = self[name]
        if value is UNKNOWN:
            raise Refused(f"{name} is not known: look it up in the firmware and type it first.")
        if isinstance(value, Auto):
            raise Refused(f"{name} is on auto; give it a number first.")
        return value

    def numbers(self) -> dict[str, int]:
        """The values that are numbers, in the sheet's order."""
        return {key: value for key, value in self.items_by_name if not isinstance(value, Auto)}

    def unknown(self) -> tuple[str, ...]:
        """Names of what nobody knows."""
        return tuple(key for key, value in self.items_by_name if value is UNKNOWN)

    def knowing(self, other: "Setpoint") -> "Setpoint":
        """The same setpoint, with what it does not know or name as the other has it: nobody could have moved that."""
        known = {name: other[name] for name in self.unknown() if other[name] is not AUTO}
        known |= {name: other[name] for name in other.stood if self._by_name.get(name) is AUTO}
        more = tuple((name, value) for name, value in other.items() if name not in self._by_name)
        if not known and not more:
            return self
        return Setpoint((*((key, known.get(key, value)) for key, value in self.items_by_name), *more))

    def replacing(self, name: str, value: Value) -> "Setpoint":
        """The same setpoint with one knob moved."""
        if name not in [key for key, _ in self.items_by_name]:
            return Setpoint((*self.items_by_name, (name, value)))
        return Setpoint(tuple((key, value if key == name else old) for key, old in self.items_by_name))

    def changes_from(self, before: "Setpoint") -> tuple[Change, ...]:
        """The step from ``before`` to this one, in this one's order."""
        mine, others = self._by_name, before._by_name
        return tuple(
            Change(name, others.get(name, AUTO), mine.get(name, AUTO))
            for name in (*mine, *(other for other in others if other not in mine))
            if others.get(name, AUTO) != mine.get(name, AUTO)
        )
