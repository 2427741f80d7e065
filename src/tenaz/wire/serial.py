"""A serial line, opened without any manners of a terminal."""

import os
from pathlib import Path

from tenaz.core.base.errors import Refused

try:
    import termios
    import tty
except ImportError:
    # A system that has other ways to a serial line: none is known here.
    termios = None  # type: ignore[assignment]


def opened_raw(path: Path) -> int:
    """A serial line without any manners of a terminal.

    Raises:
        Refused: it cannot be opened.
    """
    if termios is None:
        raise Refused(f"{path} cannot be opened: a rig at the end of a serial line needs Linux here; reach it by ssh.")
    try:
        handle = os.open(path, os.O_RDWR | os.O_NOCTTY)
        tty.setraw(handle)
        settings = termios.tcgetattr(handle)
        settings[2] |= termios.CLOCAL | termios.CREAD
        settings[4] = settings[5] = termios.B115200
        settings[6][termios.VMIN], settings[6][termios.VTIME] = 1, 0
        termios.tcsetattr(handle, termios.TCSANOW, settings)
        termios.tcflush(handle, termios.TCIOFLUSH)
    except (OSError, termios.error) as error:
        raise Refused(f"{path} cannot be opened as a serial line: {error}. Name the right device.") from error
    return handle


def forget_what_waits(handle: int) -> None:
    """What was not sent yet, or not read, is let go of."""
    if termios is not None:
        termios.tcflush(handle, termios.TCIOFLUSH)
