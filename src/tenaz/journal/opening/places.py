"""Where books are, without opening any."""

from hashlib import sha256
from pathlib import Path
from urllib.parse import parse_qsl, urlsplit

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


def working_file_of(place: str | None) -> Path:
    """The file in which a place's book is worked: itself, or this machine's copy of one on a server."""
    return file_of(place) or copy_at(str(default_place() if place is None else place))


def copy_at(address: str) -> Path:
    """Where this machine's copy of a book on a server lies: the same for the same database, whoever comes."""
    parts = urlsplit(address)
    asked = dict(parse_qsl(parts.query))
    try:
        port = parts.port or int(asked.get("port", "5432"))
    except ValueError:
        port = 0
    where = f"{parts.hostname or asked.get('host', '')}:{port}/{parts.path.strip('/')}"
    return user_data_path("tenaz", appauthor=False) / "copies" / f"{sha256(where.encode()).hexdigest()[:16]}.db"


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
