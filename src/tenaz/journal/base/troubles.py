"""What happened to a book, in words that say what to do."""

import errno
import sqlite3
from collections.abc import Callable

from tenaz.core.base.errors import BookError

NO_ANSWER = ("refused", "failed", "closed", "timeout", "could not", "terminat")
NOT_LET_IN = ("permission denied", "authentication failed", "does not exist", "no password")


def _full(text: str, cause: BaseException) -> bool:
    code = getattr(cause, "sqlite_errorcode", None)
    full = code == sqlite3.SQLITE_FULL or getattr(cause, "errno", None) == errno.ENOSPC
    return full or "disk is full" in text or "no space left" in text.lower()


def _says(*words: str) -> Callable[[str, BaseException], bool]:
    return lambda text, _: any(word in text.lower() for word in words)


TROUBLES: tuple[tuple[Callable[[str, BaseException], bool], str], ...] = (
    (
        _full,
        "The book {place} could not be written: the disk is full. Everything written before is kept; make room and go "
        "on.",
    ),
    (
        lambda _, cause: isinstance(cause, ImportError),
        "{place} cannot be opened: {first}. Install the driver: pip install 'tenaz[server]'.",
    ),
    (
        _says("certificate", "ssl is required", "does not support ssl", "ssl error"),
        "The server of the book {place} is not known for certain ({first}). Put the certificate of its authority in "
        "~/.postgresql/root.crt, or name it in the address: ?sslrootcert=FILE; only in a network that is yours alone: "
        "?sslmode=disable.",
    ),
    (
        _says("not a database", "malformed"),
        "{place} cannot be read as a book ({text}). It was not touched; name another with --book, or restore it from a "
        "copy.",
    ),
    (
        lambda text, _: any(word in text.lower() for word in NOT_LET_IN) and "sqlite" not in text.lower(),
        "The server does not let this user at the book {place} ({first}). Check its name, the user and the password.",
    ),
    (
        lambda text, _: "connection" in text.lower() and any(word in text.lower() for word in NO_ANSWER),
        "The server of the book {place} does not answer ({first}). Everything committed before is kept there; see that "
        "it runs and can be reached, then go on.",
    ),
    (_says("locked"), "The book {place} is held by another program ({text}). Close that, then try again."),
    (
        _says("readonly", "read-only", "unable to open"),
        "The book {place} cannot be opened for writing ({text}). Check its folder's permissions, or name another with "
        "--book.",
    ),
)


def book_trouble(place: str, error: BaseException) -> BookError:
    """Say what happened to the book and what to do, from what the database said."""
    cause = getattr(error, "orig", None) or error
    text = str(cause)
    if isinstance(cause, OSError) and cause.strerror and not isinstance(cause, ImportError):
        text = cause.strerror
    first = (text.splitlines() or [""])[0]
    for fits, words in TROUBLES:
        if fits(text, cause):
            return BookError(words.format(place=place, text=text, first=first))
    return BookError(f"The book {place} could not be read or written: {text}.")
