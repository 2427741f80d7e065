"""The console's own font and palette: every mark that is used, and brass is brass."""

import gzip
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

import tenaz
from tenaz.core.base.errors import Refused
from tenaz.pictures.drawing.marks import MARKS, Role
from tenaz.pictures.drawing.roles import DARK, DARK_8, DARK_GROUND, READ_AS_TEXT
from tenaz.stick.font import MOST_GLYPHS, PLAIN, console_font, marks_used, packed
from tenaz.stick.glyphs import Glyph, drawn, read_console_font
from tenaz.stick.palette import palette, setting


@pytest.fixture
def fonts(tmp_path: Path) -> tuple[Path, Path]:
    """Fonts with a pattern of its own for every letter below U+3000: small ones of eight, large ones of sixteen."""
    letters = [chr(code) for code in (*range(0x20, 0x7F), *range(0xA1, 0x17F))]
    for name, width, height in (("16", 8, 16), ("32x16", 16, 32)):
        glyphs = [
            (Glyph(width, height, (ord(one) & 0xFF,) * 9 + (ord(one) >> 8,) * (height - 9)), [one]) for one in letters
        ]
        (tmp_path / f"Uni2-Terminus{name}.psf.gz").write_bytes(gzip.compress(packed(glyphs, width, height)))
    lines = [f"{code:04X}:{code & 0xFF:02X}{'18' * 15}" for code in (*range(0x390, 0x3D0), *range(0x2000, 0x3000))]
    (tmp_path / "font.hex").write_text("\n".join(lines))
    return tmp_path, tmp_path / "font.hex"


@pytest.mark.parametrize("doubled", [False, True])
def test_every_mark_that_is_used_is_in_it(fonts: tuple[Path, Path], tmp_path: Path, doubled: bool) -> None:
    marks = marks_used(Path(tenaz.__file__).parent)
    assert {mark.sign for mark in MARKS.values() if ord(mark.sign) > 0x7E} <= marks
    made = tmp_path / "made.psf"
    made.write_bytes(console_font(marks - {"　"}, *fonts, doubled))
    found = read_console_font(made)
    assert set(PLAIN) <= set(found)
    assert marks - set(found) - {"　"} == set()
    assert found["█"].rows == ((1 << found["█"].width) - 1,) * found["█"].height
    assert len(set(found.values())) <= MOST_GLYPHS


def test_plain_letters_stand_at_their_own_numbers(fonts: tuple[Path, Path]) -> None:
    data = console_font({"●", "é"}, *fonts, False)
    for letter in "@ A~":
        at = 32 + 16 * ord(letter)
        assert data[at : at + 9] == bytes([ord(letter)]) * 9


def test_a_mark_without_a_glyph_is_refused(fonts: tuple[Path, Path]) -> None:
    with pytest.raises(Refused, match=r"U\+4E2D"):
        console_font({"中"}, *fonts, False)
    with pytest.raises(Refused, match="the console holds 512"):
        console_font({chr(code) for code in range(0x2100, 0x2400)} | set(map(chr, range(0xC0, 0x17F))), *fonts, False)


@given(st.integers(0x2800, 0x28FF))
def test_dots_are_as_many_as_were_asked_for(code: int) -> None:
    glyph = drawn(chr(code), 8, 16)
    assert glyph is not None
    assert sum(row.bit_count() for row in glyph.rows) == 4 * (code - 0x2800).bit_count()
    assert glyph.doubled().width == 16


def test_brass_is_brass_and_bold_changes_nothing() -> None:
    colours = palette()
    assert colours[:8] == colours[8:]
    assert colours[0] == DARK_GROUND.removeprefix("#")
    assert DARK[Role.LIT].removeprefix("#") in colours
    # What carries words has its own colour, but for two kinds of ash.
    by_code = {DARK_8[role] for role in READ_AS_TEXT if role is not Role.UNKNOWN}
    assert len(by_code) == len([role for role in READ_AS_TEXT if role is not Role.UNKNOWN])
    assert setting().startswith(b"\x1b]P0191512")
