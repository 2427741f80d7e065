"""What a machine's own door offers: attributes, in its own words."""

from dataclasses import dataclass
from enum import StrEnum

Raw = int | str | bool
"""A value as a door has it: its own number, word, or yes and no."""


class Kind(StrEnum):
    """What a door's attribute takes."""

    NUMBER = "number"
    CHOICE = "choice"
    TEXT = "text"


@dataclass(frozen=True, slots=True)
class Offer:
    """One attribute that a door offers: its own name, what it says of it, what it stands at (None: not told), the
    numbers or words that it takes, whether it is only told, and whether it acts at once or with the next start.
    """

    name: str
    label: str
    kind: Kind
    current: Raw | None = None
    low: int | None = None
    high: int | None = None
    step: int = 1
    choices: tuple[str, ...] = ()
    read_only: bool = False
    at_once: bool = False

    def takes(self, raw: Raw) -> bool:
        """Whether it says that it takes this value."""
        if self.read_only:
            return False
        if self.kind is Kind.CHOICE:
            return str(raw) in self.choices
        if self.kind is Kind.NUMBER and isinstance(raw, int):
            low, high = self.low if self.low is not None else raw, self.high if self.high is not None else raw
            return low <= raw <= high and (raw - low) % max(1, self.step) == 0
        return self.kind is Kind.TEXT


class Up(StrEnum):
    """How a machine stands, by what its door tells."""

    RUNNING = "it is up"
    STARTING = "it is starting"
    FAILED = "it did not come up"
    OFF = "it is off"
    UNKNOWN = "the door does not tell"
