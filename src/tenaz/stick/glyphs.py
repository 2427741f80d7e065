"""Letters as bit patterns: read from the fonts of packages, or drawn, where they are made of straight parts."""

import gzip
import re
import struct
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

PSF1, PSF2 = b"\x36\x04", b"\x72\xb5\x4a\x86"


@dataclass(frozen=True, slots=True)
class Glyph:
    """``width`` × ``height`` points; each of ``rows`` a number whose highest bit is the leftmost point."""

    width: int
    height: int
    rows: tuple[int, ...]

    def doubled(self) -> "Glyph":
        """Twice as wide and as high."""
        wide = tuple(sum(3 << 2 * bit for bit in range(self.width) if row >> bit & 1) for row in self.rows)
        return Glyph(2 * self.width, 2 * self.height, tuple(row for row in wide for _ in range(2)))


def read_console_font(path: Path) -> dict[str, Glyph]:
    """The glyphs of a PC screen font, packed or not, by letter."""
    data = path.read_bytes()
    data = gzip.decompress(data) if path.suffix == ".gz" else data
    if data.startswith(PSF1):
        mode, height = data[2], data[3]
        count, width, at, size = 512 if mode & 1 else 256, 8, 4, height
    else:
        _, _, at, _, count, size, height, width = struct.unpack_from("<4sIIIIIII", data)
    found: dict[str, Glyph] = {}
    row_bytes = (width + 7) // 8
    glyphs = []
    for number in range(count):
        start = at + number * size
        rows = [
            int.from_bytes(data[start + row * row_bytes : start + (row + 1) * row_bytes], "big")
            for row in range(height)
        ]
        glyphs.append(Glyph(width, height, tuple(row >> (8 * row_bytes - width) for row in rows)))
    for number, letters in enumerate(_letters(data[at + count * size :], data.startswith(PSF1))):
        for letter in letters:
            found.setdefault(letter, glyphs[number])
    return found


def _letters(table: bytes, old: bool) -> list[list[str]]:
    """The letters of each glyph, without sequences."""
    if old:
        words = struct.unpack(f"<{len(table) // 2}H", table[: len(table) // 2 * 2])
        found: list[list[str]] = [[]]
        in_sequence = False
        for word in words:
            if word == 0xFFFF:
                found.append([])
                in_sequence = False
            elif word == 0xFFFE:
                in_sequence = True
            elif not in_sequence:
                found[-1].append(chr(word))
        return found[:-1]
    entries = table.split(b"\xff")[:-1]
    return [list(entry.split(b"\xfe")[0].decode("utf-8", "ignore")) for entry in entries]


def read_hex_font(path: Path, wanted: set[str]) -> dict[str, Glyph]:
    """The narrow glyphs (8 × 16) of a font of hexadecimal lines."""
    found = {}
    for line in path.read_text().splitlines():
        code, _, bits = line.partition(":")
        if not re.fullmatch("[0-9A-F]{32}", bits):
            continue
        letter = chr(int(code, 16))
        if letter in wanted:
            found[letter] = Glyph(8, 16, tuple(bytes.fromhex(bits)))
    return found


SHADES = "░▒▓"


def drawn(letter: str, width: int, height: int) -> Glyph | None:
    """Blocks, shades and patterns of dots, which must meet their neighbours without a gap; None: not one of them."""
    code = ord(letter)
    if 0x2581 <= code <= 0x2588:
        filled = round(height * (code - 0x2580) / 8)
        return _of(width, height, lambda _x, y: y >= height - filled)
    if 0x2589 <= code <= 0x258F:
        part = round(width * (0x2590 - code) / 8)
        return _of(width, height, lambda x, _y: x < part)
    if letter in "▀▐":
        return _of(width, height, lambda x, y: y < height // 2 if letter == "▀" else x >= width // 2)
    if letter in SHADES:
        step = width // 8
        return _of(width, height, lambda x, y: _shade(x // step, y // step, SHADES.index(letter)))
    if 0x2800 <= code <= 0x28FF:
        return _dots(code - 0x2800, width, height)
    return None


def _shade(x: int, y: int, dense: int) -> bool:
    return ((x + 2 * (y % 2)) % 4 == 0, (x + y) % 2 == 0, (x + 2 * (y % 2)) % 4 != 0)[dense]


DOTS = ((0, 0), (0, 1), (0, 2), (1, 0), (1, 1), (1, 2), (0, 3), (1, 3))
"""Column and row of each dot of a pattern of dots, lowest bit first (Unicode, block 2800)."""


def _dots(bits: int, width: int, height: int) -> Glyph:
    cell_x, cell_y, dot = width // 2, height // 4, width // 4
    set_ = {DOTS[bit] for bit in range(8) if bits >> bit & 1}
    left, top = (cell_x - dot) // 2, (cell_y - dot) // 2

    def inside(x: int, y: int) -> bool:
        at = (min(x // cell_x, 1), min(y // cell_y, 3))
        return at in set_ and left <= x % cell_x < left + dot and top <= y % cell_y < top + dot

    return _of(width, height, inside)


def _of(width: int, height: int, inside: Callable[[int, int], bool]) -> Glyph:
    rows = tuple(
        sum(1 << (width - 1 - x) for x in range(width) if inside(x, y)) for y in range(height)
    )  # fmt: skip
    return Glyph(width, height, rows)
