"""An open door of a machine: documented, its own, through which values are set without hands."""

from collections.abc import Mapping
from typing import Protocol

from tenaz.core.base.errors import Refused
from tenaz.core.rigs.offers import Offer, Raw, Up


class Unanswered(Refused):
    """No whole answer came; whether what was asked was done is not known."""


class Door(Protocol):
    """A way to set values. Its calls block, with limits of time; each may raise Refused, in words of ours."""

    @property
    def text(self) -> str:
        """As it is typed, without any secret."""
        ...

    @property
    def restarts(self) -> bool:
        """Whether it can start the machine anew."""
        ...

    def offers(self) -> tuple[Offer, ...]:
        """What it offers, with what stands now."""
        ...

    def read(self) -> Mapping[str, Raw]:
        """What is in force, by attribute, as far as it tells."""
        ...

    def pending(self) -> Mapping[str, Raw]:
        """What waits for the next start."""
        ...

    def write(self, values: Mapping[str, Raw]) -> None:
        """Set these, all or none: at once, or with the next start.

        Raises:
            Refused: the machine does not take them; nothing is pending then.
        """
        ...

    def restart(self) -> None:
        """Start the machine anew.

        Raises:
            Refused: it cannot.
        """
        ...

    def up(self) -> Up:
        """How the machine stands."""
        ...

    def close(self) -> None:
        """Let go of it."""
        ...
