"""The first look: what a book showed when it was closed, shown again at once, if nothing was written to it since.

Opening a book takes a second or two; where things stand is seen before that. Keys that are pressed meanwhile take their
turn when the book is open.
"""

import json
import os
from collections.abc import Mapping
from contextlib import suppress
from dataclasses import asdict, dataclass
from hashlib import sha256
from pathlib import Path

from platformdirs import user_cache_path

from tenaz import __version__
from tenaz.journal.opening.places import untouched_since
from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.marks import Role

Rows = list[list[tuple[str, str]]]
"""Lines of a panel: texts with their roles."""

SHOWN = ("pages", "tracks", "page", "evidence", "log")
MOST_BYTES = 10**6


@dataclass(frozen=True, slots=True)
class FirstLook:
    """Panels by name, for a window of this size; the rail's words, and the next step's."""

    size: tuple[int, int]
    panels: Mapping[str, Rows]
    rail: tuple[str, str, str]
    next_step: tuple[str, str]


def _place(book: Path) -> Path:
    name = sha256(str(book.absolute()).encode("utf-8", "surrogateescape")).hexdigest()[:32]
    return user_cache_path("tenaz", appauthor=False) / "looks" / f"{name}.json"


def keep(book: Path, look: FirstLook) -> None:
    """Keep the look of a book that was just closed, readable by its owner only; where that cannot be, there is none."""
    stamp = untouched_since(book)
    with suppress(OSError):
        place = _place(book)
        place.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
        beside = place.with_name(f"{place.name}.{os.getpid()}")
        handle = os.open(beside, os.O_WRONLY | os.O_CREAT | os.O_TRUNC | os.O_NOFOLLOW, 0o600)
        with os.fdopen(handle, "w", encoding="utf-8") as file:
            json.dump({"version": __version__, "stamp": stamp, **asdict(look)}, file)
        beside.replace(place)


def find(book: Path, size: tuple[int, int]) -> FirstLook | None:
    """The look of a book as it stands, for a window of this size; None where there is none that is certainly true."""
    stamp = untouched_since(book)
    if stamp is None:
        return None
    try:
        place = _place(book)
        if place.stat().st_size > MOST_BYTES:
            return None
        kept = json.loads(place.read_text("utf-8"))
        if (kept["version"], kept["stamp"], kept["size"]) != (__version__, list(stamp), list(size)):
            return None
        for rows in kept["panels"].values():
            for row in rows:
                for text, role in row:
                    Role(role)
                    text.encode()
        return FirstLook(size, kept["panels"], tuple(kept["rail"]), tuple(kept["next_step"]))
    except (OSError, ValueError, LookupError, TypeError, AttributeError, RecursionError):
        return None


def rows_of(cells: Cells) -> Rows:
    """A drawing as lines."""
    return [[(stretch.text, stretch.role.value) for stretch in row] for row in cells.rows()]


def drawn(rows: Rows, width: int, height: int) -> Cells:
    """Lines as a drawing."""
    cells = Cells(width, height)
    for y, row in enumerate(rows[:height]):
        column = 0
        for text, role in row:
            cells.put(column, y, text[: max(0, width - column)], Role(role))
            column += len(text)
    return cells
