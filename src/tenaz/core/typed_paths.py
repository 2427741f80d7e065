"""Paths that people type."""

from pathlib import Path

from tenaz.core.errors import Refused


def typed_path(text: str) -> Path:
    """A path as typed, ``~`` for one's home.

    Raises:
        Refused: nobody's home, or nothing that a path can be.
    """
    try:
        path = Path(text.strip()).expanduser()
        path.exists()
    except (RuntimeError, OSError, ValueError) as error:
        why = error.strerror if isinstance(error, OSError) and error.strerror else str(error)
        raise Refused(f"{text.strip()[:80]!r} is no path here: {why}. Type another.") from error
    return path
