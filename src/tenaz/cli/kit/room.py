"""How wide what is printed may be: as the terminal is, as COLUMNS says, and where nobody looks as wide as it likes."""

import os
import shutil
import sys

LEAST, UNWRAPPED = 60, 240
"""Columns: nothing is drawn in less; what goes into a file or another program is not cut for a screen."""


def columns() -> int:
    """So many columns there are now."""
    told = os.environ.get("COLUMNS", "")
    if told.isdecimal() and int(told) > 0:
        return max(LEAST, int(told))
    if sys.stdout.isatty():
        return max(LEAST, shutil.get_terminal_size().columns)
    return UNWRAPPED
