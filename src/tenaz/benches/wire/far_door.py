"""The kernel's door of a rig across a wire: what its agent may write there, asked from here."""

from collections.abc import Mapping

from tenaz.benches.wire.reached import Reached
from tenaz.core.rigs.offers import Offer, Raw, Up
from tenaz.wire.protocol import Stands


class FarKernelDoor:
    """A :class:`tenaz.core.ports.door.Door`, at the other end."""

    restarts = True

    def __init__(self, reached: Reached) -> None:
        self._reached = reached

    @property
    def text(self) -> str:
        """As it is typed, and where it is."""
        return f"kernel of {self._reached.line.way.text}"

    def offers(self) -> tuple[Offer, ...]:
        """What there is."""
        offers: tuple[Offer, ...] = self._reached.ask("offers")
        return offers

    def _stands(self) -> Stands:
        stands: Stands = self._reached.ask("stands")
        return stands

    def read(self) -> Mapping[str, Raw]:
        """What stands."""
        return self._stands().now

    def pending(self) -> Mapping[str, Raw]:
        """What waits for a start."""
        return self._stands().waits

    def write(self, values: Mapping[str, Raw]) -> None:
        """Set these there."""
        self._reached.ask("set", dict(values))

    def restart(self) -> None:
        """Have its system start anew."""
        self._reached.ask("restart")

    def up(self) -> Up:
        """Its system is heard, or it is not: the bench waits for it."""
        return Up.UNKNOWN

    def close(self) -> None:
        """The line is the bench's."""
