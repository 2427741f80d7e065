"""One wrong value: where it was found, what was expected, what was read, and what a second look showed."""

from dataclasses import dataclass
from enum import StrEnum

from tenaz.core.loads.cards import Drawn
from tenaz.core.loads.kinds import LoadKind


class MismatchKind(StrEnum):
    """What a second look at a wrong value showed."""

    STORED = "stored wrong"
    ON_THE_WAY = "wrong on the way"
    COMPARED = "compared wrong"
    COMPUTED = "computed wrong"


@dataclass(frozen=True, slots=True)
class Mismatch:
    """One wrong value.

    ``expected``, ``read`` and ``read_again`` are 64-bit words (for a CPU load: the bits of a double, or a digest);
    ``address`` is virtual in the worker, ``physical`` where the system grants that; ``lap`` counts from 1; ``at_s`` is
    seconds from the load's start. ``temperature_c`` is the hottest sensor's at that moment. None: not known.
    """

    worker: int
    at_s: float
    lap: int
    address: int
    expected: int
    read: int
    read_again: int
    kind: MismatchKind
    where: str = ""
    physical: int | None = None
    temperature_c: float | None = None
    load: LoadKind | None = None
    core: int | None = None
    card: int | None = None
    drawn: Drawn | None = None

    @property
    def of_main_memory(self) -> bool:
        """Whether it is a word of the machine's own memory."""
        return bool(self.address) and self.card is None

    @property
    def wrong_bits(self) -> tuple[int, ...]:
        """Bit lanes that differ, lowest first."""
        return tuple(bit for bit in range(64) if (self.expected ^ self.read) >> bit & 1)

    def show(self) -> str:
        """One line for the log."""
        if self.drawn is not None:
            return self._show_drawn(self.drawn)
        if not self.address and (self.card is None or self.kind is MismatchKind.COMPUTED):
            return f"{self.kind}: {self.where or 'somewhere'} in lap {self.lap}"
        lanes = self.wrong_bits
        bits = (
            f"bit{'s' if len(lanes) > 1 else ''} {', '.join(map(str, lanes))}"
            if len(lanes) <= 4
            else f"{len(lanes)} bits"
        )
        place = "" if self.physical is None else f" (physical {self.physical:#x})"
        at = f"address {self.address:#014x}" if self.card is None else f"card {self.card}, {self.address:#012x}"
        return (
            f"{at}{place}: expected {self.expected:016x}, read {self.read:016x}, again "
            f"{self.read_again:016x} ({self.kind}; {bits}) in lap {self.lap}{f', {self.where}' if self.where else ''}"
        )

    def _show_drawn(self, drawn: Drawn) -> str:
        return (
            f"card {self.card}, picture {drawn.number}: pixel {drawn.x},{drawn.y} of {drawn.side}²: expected "
            f"{colour_text(self.expected)}, drawn {colour_text(self.read)} ({self.kind})"
            f"{f', {self.where}' if self.where else ''}"
        )


def colour_text(pixel: int) -> str:
    """A pixel's red, green, blue and opacity, as people write colours."""
    return "#" + (pixel & 0xFFFFFFFF).to_bytes(4, "little").hex()
