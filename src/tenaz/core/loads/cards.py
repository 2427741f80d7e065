"""Graphics cards as loads know them."""

import binascii
import zlib
from base64 import b64decode, b64encode
from dataclasses import dataclass
from enum import StrEnum


class CardKind(StrEnum):
    """Whose memory a card works in."""

    OWN_MEMORY = "memory of its own"
    SHARED_MEMORY = "memory shared with the processor"
    SOFTWARE = "software"

    @property
    def in_words(self) -> str:
        """What that means for its loads."""
        return {
            CardKind.OWN_MEMORY: "with memory of its own",
            CardKind.SHARED_MEMORY: "in the processor's memory",
            CardKind.SOFTWARE: "in software: the processor draws, no card is tried",
        }[self]


@dataclass(frozen=True, slots=True)
class Card:
    """One card: its number among those here, what it and its driver call themselves, its numbers on the PCI bus, and
    what its own memory holds, in bytes (None: the driver does not say, or it has none).
    """

    index: int
    name: str
    kind: CardKind
    vendor_id: int = 0
    device_id: int = 0
    driver: str = ""
    memory_bytes: int | None = None

    @property
    def own_memory(self) -> bool:
        """Whether its memory is not the processor's."""
        return self.kind is CardKind.OWN_MEMORY

    @property
    def spared_bytes(self) -> int:
        """What of its own memory is left to the desktop, and to programs and their answers."""
        return max(256 << 20, (self.memory_bytes or 0) // 10)

    @property
    def made_with(self) -> str:
        """What its results depend on: two cards of a kind are not compared with each other."""
        return f"card {self.index}, {self.name} ({self.vendor_id:04x}:{self.device_id:04x}), {self.driver}"


TILE_LETTERS = 20_000
"""What a tile may be long, packed: more is none that was made here."""


@dataclass(frozen=True, slots=True)
class Tile:
    """A small square of a picture as it should be and as it was, each pixel four bytes (red, green, blue, opacity), row
    by row, packed to be kept.
    """

    x: int
    y: int
    size: int
    expected: str
    read: str

    @classmethod
    def of(cls, x: int, y: int, size: int, expected: bytes, read: bytes) -> "Tile":
        """Of its pixels."""
        return cls(x, y, size, _packed(expected), _packed(read))

    @property
    def pixels(self) -> tuple[bytes, bytes]:
        """As it should be, and as it was; nothing where what was kept is none.

        Raises:
            ValueError: it does not unpack.
        """
        return _unpacked(self.expected, self.size), _unpacked(self.read, self.size)


@dataclass(frozen=True, slots=True)
class Drawn:
    """Where in a picture a pixel is wrong: the ``number`` of the picture, its ``side`` in pixels, the pixel from the
    upper left corner. ``tile`` is what lies around it, kept with the first wrong pixel of it.
    """

    number: int
    side: int
    x: int
    y: int
    tile: Tile | None = None


def _packed(pixels: bytes) -> str:
    return b64encode(zlib.compress(pixels, 9)).decode()


def _unpacked(text: str, size: int) -> bytes:
    try:
        pixels = zlib.decompressobj().decompress(b64decode(text[:TILE_LETTERS]), 4 * size * size + 1)
    except (zlib.error, binascii.Error) as error:
        raise ValueError("what was kept of a picture cannot be read") from error
    if len(pixels) != 4 * size * size:
        raise ValueError("what was kept of a picture is not all of it")
    return pixels
