"""Little-endian fields out of bytes that may be short or wrong: a field that is not there is None, never an error."""


class Fields:
    """A view on bytes. Offsets are those of the standard that describes them."""

    def __init__(self, data: bytes) -> None:
        self.data = data

    def whole(self, offset: int, size: int) -> int | None:
        """An unsigned number of ``size`` bytes; None when the bytes end before it does."""
        if offset < 0 or offset + size > len(self.data):
            return None
        return int.from_bytes(self.data[offset : offset + size], "little")

    def byte(self, offset: int) -> int | None:
        """One byte."""
        return self.whole(offset, 1)

    def signed_byte(self, offset: int) -> int | None:
        """One byte in two's complement."""
        value = self.byte(offset)
        return None if value is None else value - 256 if value > 127 else value

    def word(self, offset: int) -> int | None:
        """Two bytes."""
        return self.whole(offset, 2)

    def double_word(self, offset: int) -> int | None:
        """Four bytes."""
        return self.whole(offset, 4)

    def quad_word(self, offset: int) -> int | None:
        """Eight bytes."""
        return self.whole(offset, 8)

    def bits(self, offset: int, high: int, low: int) -> int | None:
        """Bits ``high`` to ``low`` of one byte."""
        value = self.byte(offset)
        return None if value is None else value >> low & ((1 << high - low + 1) - 1)

    def ascii(self, offset: int, size: int) -> str:
        """Printable text, padding taken off; what cannot be printed is left out."""
        raw = self.data[offset : offset + size] if offset >= 0 else b""
        return "".join(chr(b) for b in raw if 32 <= b < 127).strip()
