"""The colours of the console: those of the workbench instead of its usual ones, so that brass is brass."""

from tenaz.pictures.drawing.roles import DARK, DARK_8, DARK_GROUND, READ_AS_TEXT


def palette() -> tuple[str, ...]:
    """Sixteen colours as six hexadecimal digits; the second eight are those of bold letters, and the same."""
    eight = [DARK_GROUND] * 8
    # What carries words comes last and stays where two roles share a colour.
    for role in sorted(DARK, key=lambda role: role in READ_AS_TEXT):
        eight[_number(DARK_8[role])] = DARK[role]
    return tuple(colour.removeprefix("#") for colour in (*eight, *eight))


def _number(colour: str) -> int:
    """Which of the eight dark colours of a terminal this is: a bit each for red, green and blue."""
    red, green, blue = (int(colour[at : at + 2], 16) for at in (1, 3, 5))
    return (red > 0x40) + 2 * (green > 0x40) + 4 * (blue > 0x40)


def setting() -> bytes:
    """What sets them, sent to the console; then a cleared screen, whose ground is the new one."""
    sets = "".join(f"\x1b]P{number:X}{colour}" for number, colour in enumerate(palette()))
    return f"{sets}\x1b[0m\x1b[2J\x1b[H".encode()
