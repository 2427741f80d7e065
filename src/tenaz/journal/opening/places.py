"""Where books are, without opening any."""

from pathlib import Path

from platformdirs import user_data_path

from tenaz.settings.glimpse import glimpse


def default_place() -> str | Path:
    """Where the book is when nothing else is said: as set, a file or on a server; else in the user's folder for such
    files.
    """
    place = glimpse().get("book", {}).get("place")
    if isinstance(place, str) and place.strip():
        return place.strip() if "://" in place else Path(place.strip()).expanduser()
    return user_data_path("tenaz", appauthor=False) / "book.db"


def file_of(place: str | None) -> Path | None:
    """The file that a place means, where that can be told without asking anybody; None for a server."""
    where = default_place() if place is None else place
    return None if "://" in str(where) else Path(where)


def untouched_since(book: Path) -> tuple[int, int, int] | None:
    """What changes whenever anything is written to a closed book; None while it is open somewhere, or not there."""
    try:
        found = book.stat()
        wal = book.with_name(book.name + "-wal")
        if wal.exists() and wal.stat().st_size:
            return None
    except OSError:
        return None
    return found.st_ino, found.st_size, found.st_mtime_ns
