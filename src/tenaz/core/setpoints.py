"""A setpoint: a full set of knob values that never changes; a new one is made instead."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Change:
    """One line of the sheet that differs: knob name, value before and after."""

    knob: str
    before: int
    after: int


@dataclass(frozen=True, slots=True)
class Setpoint(Mapping[str, int]):
    """Values by knob name, each in its knob's unit. Equal when the values are equal."""

    items_by_name: tuple[tuple[str, int], ...]

    @classmethod
    def of(cls, values: Mapping[str, int]) -> "Setpoint":
        """Make a setpoint; the order of names is kept for the sheet, but does not matter for equality."""
        return cls(tuple(values.items()))

    def __getitem__(self, name: str) -> int:
        for key, value in self.items_by_name:
            if key == name:
                return value
        raise KeyError(name)

    def __iter__(self) -> Iterator[str]:
        return iter(key for key, _ in self.items_by_name)

    def __len__(self) -> int:
        return len(self.items_by_name)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Setpoint) and dict(self) == dict(other)

    def __hash__(self) -> int:
        return hash(frozenset(self.items_by_name))

    def replacing(self, name: str, value: int) -> "Setpoint":
        """The same setpoint with one knob moved."""
        if name not in self:
            raise KeyError(name)
        return Setpoint(tuple((key, value if key == name else old) for key, old in self.items_by_name))

    def changes_from(self, before: "Setpoint") -> tuple[Change, ...]:
        """The step from ``before`` to this one, in this one's order."""
        return tuple(Change(name, before[name], value) for name, value in self.items_by_name if before[name] != value)

    def matches_except(self, other: "Setpoint", name: str) -> bool:
        """Whether both differ in nothing but the knob ``name``: they lie on one climb."""
        return all(change.knob == name for change in self.changes_from(other))
