"""Stand-ins for signs that the Linux console's own font does not have, a cell each.

What is left alone is in that font: the old line-drawing set, with its arrows, shades and a few marks.
"""

STAND_INS = str.maketrans(
    {
        # outcomes and what is under way
        "●": "•",
        "✗": "x",
        "▣": "◘",
        "↻": "§",
        "⊠": "¶",
        "▨": "▒",
        "∅": "φ",
        "◐": "◙",
        "◇": "♦",
        "⊘": "Θ",
        "◌": "°",
        # pointing and lines
        "▸": "►",
        "▾": "▼",
        "▴": "^",
        "◂": "◄",
        "▮": "█",
        "⇕": "↕",
        "⇑": "↑",
        "⇓": "↓",
        "┝": "├",
        "┥": "┤",
        "┃": "│",
        "╋": "┼",
        "╴": "-",
        "┄": "-",
        "┈": ".",
        "╌": "-",
        "━": "═",
        "╎": ":",
        "┊": ":",
        "┆": ":",
        "╏": ":",
        "▁": "_",
        "▂": "_",
        "▃": "▄",
        "▅": "▄",
        "▆": "█",
        "▇": "█",
        "▉": "█",
        "▊": "█",
        "▋": "▌",
        "▍": "▌",
        "▎": "▌",
        "▏": "│",
        # keys and letters
        "⏎": "◄",
        "⇧": "^",
        "⇥": "→",
        "›": ">",
        "␣": "_",
        "⌫": "←",
        "…": "~",
        "−": "-",
        "–": "-",
        "≠": "#",
        "∥": "║",
        "×": "x",
        "χ": "X",
        "λ": "l",
        "⁹": "9",
        "⅓": "/",
        "⅔": "/",
        "⌈": "[",
        "⌉": "]",
        "\N{REPLACEMENT CHARACTER}": "?",
    }
)


def plain_signs(text: str) -> str:
    """A text in signs that the console has."""
    return text if text.isascii() else text.translate(STAND_INS)


ASCII = str.maketrans(
    {
        **dict.fromkeys("─═╌┄", "-"),
        **dict.fromkeys("│║┆╎", "|"),
        **dict.fromkeys("┌┐└┘├┤┬┴┼╔╗╚╝╠╣╦╩╬", "+"),
        **dict.fromkeys("█▓▒■▀▄▌▐", "#"),
        **dict.fromkeys("░·•°", "."),
        "→": ">",
        "←": "<",
        "↑": "^",
        "↓": "v",
        "►": ">",
        "◄": "<",
        "▲": "^",
        "▼": "v",
        "≥": ">",
        "≤": "<",
        "±": "~",
        "µ": "u",
        "»": ">",
        "«": "<",
        "\N{LEFT DOUBLE QUOTATION MARK}": '"',
        "\N{RIGHT DOUBLE QUOTATION MARK}": '"',
        "\N{RIGHT SINGLE QUOTATION MARK}": "'",
    }
)
"""For an encoding that has letters only."""


def ascii_signs(text: str) -> str:
    """A text in letters and signs that every encoding has; what has no stand-in is a question mark."""
    return text.translate(ASCII).encode("ascii", "replace").decode("ascii")
