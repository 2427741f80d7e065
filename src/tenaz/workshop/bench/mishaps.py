"""What went wrong that nobody foresaw: a line for whoever works, the whole story in a file for whoever mends it."""

import os
import traceback
from contextlib import suppress
from pathlib import Path

from platformdirs import user_state_path

MOST_WORDS = 300


def told(error: BaseException, what_stays: str) -> str:
    """One line about an error of the program itself; the traceback is kept beside."""
    words = f"{type(error).__name__}: {' '.join(str(error).split())}"[:MOST_WORDS]
    place = keep(error)
    where = f" The whole story is in {place}." if place else ""
    return f"Something went wrong in Tenaz itself ({words}). {what_stays}{where}"


def keep(error: BaseException) -> Path | None:
    """Write the traceback where it can be found, readable by its owner only; None where nothing can be written."""
    with suppress(OSError, RuntimeError):
        folder = user_state_path("tenaz", appauthor=False)
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        place = folder / "last-mishap.txt"
        handle = os.open(place, os.O_WRONLY | os.O_CREAT | os.O_TRUNC | os.O_NOFOLLOW, 0o600)
        with os.fdopen(handle, "w", encoding="utf-8", errors="replace") as file:
            file.write("".join(traceback.format_exception(error)))
        return place
    return None
