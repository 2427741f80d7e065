"""How much of anything is taken from outside: beyond that it is no rig, no sheet and no load."""

from tenaz.core.base.errors import Refused

LARGEST_NUMBER = 10**15
"""In anything that is typed or read from a file; memory in bytes is below it, and every unit of the trade."""

MOST_DIGITS = 13
"""Of a number that is typed; none of the trade has more."""

MOST_GRID_VALUES = 200_000
"""Of a knob; the longest of a standard has 65,536."""

MOST_KNOBS = 1_000
MOST_FILE_BYTES, MOST_TEXT_BYTES = 4 * 2**20, 2**20
"""Of a rig's file, and of a sheet's or a catalogue's."""
MOST_LIST_BYTES = 64 * 2**20
"""Of a list of trials."""
MOST_LINE_LETTERS = 20_000
MOST_DOTS_IN_A_KEY = 20
MOST_DEPTH = 40
"""Of values within values in a file."""

LONGEST_LOAD_S = 366 * 86400.0
MOST_TEXT_LETTERS = 10_000
"""Of a name, a note or a line that is typed."""

MOST_LOAD_LETTERS = 2_000
"""Of one load in words."""

MOST_LINE = 2_000
"""Of a trial, a record or a search that is typed in one line."""


def checked_line(text: str, most: int = MOST_LINE) -> str:
    """A line of a sane length.

    Raises:
        Refused: it is longer.
    """
    if len(text) > most:
        raise Refused(f"{len(text)} letters are too long for one line; give up to {most}.")
    return text


LOWEST_RATE_MTS, HIGHEST_RATE_MTS = 100, 100_000
"""Data rates between which clocks and nanoseconds mean anything."""
