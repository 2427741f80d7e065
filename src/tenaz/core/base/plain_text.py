"""Text that came from outside (names, files, notes, programs, firmware), made fit to be shown.

A terminal obeys control signs wherever they come from; shown text has none.
"""

import unicodedata

INSTEAD = "\N{REPLACEMENT CHARACTER}"
HIDDEN = ("Cc", "Cf", "Cs", "Cn", "Co", "Zl", "Zp")
"""Kinds of signs that show nothing: controls, those that turn the direction of what follows, halves of pairs,
unassigned and private ones, breaks of lines.
"""


def plain(text: str) -> str:
    """The text without anything that a terminal or an SVG reader would obey; tabs become a space."""
    if text.isprintable():
        return text
    return "".join(_plain_sign(sign) for sign in text)


def plain_lines(text: str) -> str:
    """The same for text of several lines."""
    return "\n".join(plain(line) for line in text.split("\n"))


def _plain_sign(sign: str) -> str:
    if sign == "\t":
        return " "
    return INSTEAD if unicodedata.category(sign) in HIDDEN else sign
