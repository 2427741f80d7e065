"""A console font of its own: at most 512 glyphs, made from the marks that this Tenaz really uses."""

import struct
import tokenize
from collections.abc import Iterable
from pathlib import Path

from tenaz.core.base.errors import Refused
from tenaz.stick.glyphs import PSF2, Glyph, drawn, read_console_font, read_hex_font

MOST_GLYPHS = 512
"""What the console of the kernel holds."""
PLAIN = "".join(map(chr, range(0x20, 0x7F)))
NAMES = "".join(map(chr, (*range(0xA1, 0x180), 0x218, 0x219, 0x21A, 0x21B)))
"""Letters of names, as far as there is room."""
FRAMES = "─│┌┐└┘├┤┬┴┼━┃┏┓┗┛┣┫┳┻╋╭╮╯╰╴╵╶╷═║╔╗╚╝▀▄█▌▐░▒▓▔▁▂▃▅▆▇▏▎▍▋▊▉▕"
"""What the toolkit of the screen draws with."""
INSTEAD = {" ": " ", "⏎": "↵", "‑": "-", "–": "-", "—": "-", "−": "-", "’": "'", "“": '"', "”": '"', "　": " "}
"""Letters that may look like others."""


def marks_used(folder: Path) -> set[str]:
    """Every letter beyond ASCII in the strings of the programs below a folder."""
    found: set[str] = set()
    for path in sorted(folder.rglob("*.py")):
        with tokenize.open(path) as file:
            for token in tokenize.generate_tokens(file.readline):
                if token.type in (tokenize.STRING, getattr(tokenize, "FSTRING_MIDDLE", tokenize.STRING)):
                    found |= {letter for letter in token.string if ord(letter) > 0x7E}
    return found


def console_font(marks: Iterable[str], consolefonts: Path, hexfont: Path, doubled: bool) -> bytes:
    """A PC screen font (version 2) of 8 × 16 points, or of 16 × 32, with all marks.

    Raises:
        Refused: a mark has no glyph in any of the fonts, or there are too many.
    """
    width, height = (16, 32) if doubled else (8, 16)
    name = "32x16" if doubled else "16"
    sets = [
        read_console_font(consolefonts / f"{group}-Terminus{name}.psf.gz")
        for group in ("Uni2", "Uni1", "Uni3", "CyrAsia", "FullGreek", "Lat15")
        if (consolefonts / f"{group}-Terminus{name}.psf.gz").is_file()
    ]
    wanted = {letter for letter in marks if ord(letter) > 0x7E and not 0xFE00 <= ord(letter) <= 0xFE0F}
    wanted |= set(FRAMES)
    rest = read_hex_font(hexfont, {INSTEAD.get(letter, letter) for letter in wanted} | set(NAMES))

    def glyph(letter: str) -> Glyph | None:
        if (straight := drawn(letter, width, height)) is not None:
            return straight
        for known in sets:
            if letter in known:
                return known[letter]
        if letter in rest:
            return rest[letter].doubled() if doubled else rest[letter]
        return None

    glyphs: dict[Glyph, list[str]] = {}
    missing = []
    for letter in (*PLAIN, *sorted(wanted)):
        found = glyph(INSTEAD.get(letter, letter))
        if found is None:
            missing.append(letter)
        else:
            glyphs.setdefault(found, []).append(letter)
    if missing:
        raise Refused(f"No font has these marks: {' '.join(f'{one} (U+{ord(one):04X})' for one in missing)}.")
    if len(glyphs) > MOST_GLYPHS:
        raise Refused(f"{len(glyphs)} different marks are used, and the console holds {MOST_GLYPHS}.")
    for letter in NAMES:
        found = glyph(letter)
        if found is not None and letter not in wanted and (found in glyphs or len(glyphs) < MOST_GLYPHS):
            glyphs.setdefault(found, []).append(letter)
    return packed(list(glyphs.items()), width, height)


def packed(glyphs: "list[tuple[Glyph, list[str]]]", width: int, height: int) -> bytes:
    """Glyphs with their letters as a PC screen font; always 512, so that one length serves."""
    row_bytes = (width + 7) // 8
    size = row_bytes * height
    head = struct.pack("<4sIIIIIII", PSF2, 0, 32, 1, MOST_GLYPHS, size, height, width)
    # Plain letters stand at their own numbers: what is on the screen when the font comes stays readable.
    at_home = {ord(names[0]): (glyph, names) for glyph, names in glyphs if names[0] in PLAIN}
    others = iter([one for one in glyphs if one[1][0] not in PLAIN])
    empty = (Glyph(width, height, (0,) * height), list[str]())
    placed = [at_home.get(number) or next(others, empty) for number in range(MOST_GLYPHS)]
    bodies = [b"".join(row.to_bytes(row_bytes, "big") for row in glyph.rows) for glyph, _ in placed]
    return head + b"".join(bodies) + b"".join("".join(names).encode() + b"\xff" for _, names in placed)
