"""Which book a file is, and whose copy."""

import platform
import uuid
from pathlib import Path

from sqlalchemy import Connection, select, update

from tenaz.core.base.errors import BookError
from tenaz.journal.base import tables as t
from tenaz.journal.base.database import Database
from tenaz.journal.feed.marks import identity_of

MACHINE_ID = Path("/etc/machine-id")


class AnotherBook(BookError):
    """What answers is another book than the one that was copied."""


def own_identity(database: Database, path: Path) -> None:
    """See that the copy is the one that it says it is: one that was copied is another, with an identity of its own."""
    machine = MACHINE_ID.read_text().strip() if MACHINE_ID.exists() else platform.node()
    lies = f"{machine}:{path.stat().st_ino}"
    with database.reading() as connection:
        before = _said(connection, "lies")
    if before == lies:
        return
    with database.writing() as connection:
        database.put(connection, t.about, {"name": "lies"}, {"value": lies})
        if before is not None:
            connection.execute(update(t.about).where(t.about.c.name == "uid").values(value=uuid.uuid4().hex))


def identity(database: Database) -> str:
    """The identity of a book."""
    with database.reading() as connection:
        return identity_of(connection)


def home_of(database: Database) -> tuple[str, str] | None:
    """Identity and address of the home of a book; None: it is nobody's copy."""
    with database.reading() as connection:
        uid, address = _said(connection, "home"), _said(connection, "home_address")
    return None if uid is None else (uid, address or "")


def has_home(copy: Database, home: Database, address: str) -> None:
    """Remember whose copy it is.

    Raises:
        AnotherBook: it is another's: the database there was made anew since.
    """
    with home.reading() as connection:
        uid = identity_of(connection)
    known = home_of(copy)
    if known is not None and known[0] != uid:
        raise AnotherBook(
            f"The book at {address} is another than the one of which {copy.place} is the working copy: it was made "
            f"anew. Nothing was mixed. If the new one is meant, move {copy.place} away; bring what it has that "
            f"never came home with: tenaz book merge {copy.place}"
        )
    if known is None or known[1] != address:
        with copy.writing() as connection:
            copy.put(connection, t.about, {"name": "home"}, {"value": uid})
            copy.put(connection, t.about, {"name": "home_address"}, {"value": address})


def _said(connection: Connection, name: str) -> str | None:
    found = connection.execute(select(t.about.c.value).where(t.about.c.name == name)).scalar()
    return None if found is None else str(found)
