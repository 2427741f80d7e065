"""Copies of a book: kept aside, put back, taken along."""

import os
import sqlite3
import tempfile
import uuid
from collections.abc import Callable
from contextlib import closing, suppress
from datetime import UTC, datetime
from pathlib import Path

from sqlalchemy import delete, update

from tenaz.core.base.errors import BookError, Refused
from tenaz.journal.base import tables as t
from tenaz.journal.base.troubles import book_trouble
from tenaz.journal.feed.meeting import Met
from tenaz.journal.opening.identity import has_home, home_of, own_identity
from tenaz.journal.opening.opening import copy_into, open_book, open_file
from tenaz.journal.store import Store


def back_up(store: Store, out: Path) -> int:
    """Write all of a book in a file into another, whole or not at all, and see that it reads; gives its bytes.

    Raises:
        Refused: something is there already.
        BookError: it cannot be written, or does not read.
    """
    if out.exists():
        raise Refused(f"{out} is there already; name another file, or move that one away.")
    handle, name = -1, ""
    try:
        handle, name = tempfile.mkstemp(dir=out.absolute().parent, prefix=f".{out.name[:40]}.")
        os.close(handle)
        copy_into(Path(name), sqlite3.connect(store.place))
        with closing(sqlite3.connect(name)) as copied:
            (said,) = copied.execute("PRAGMA quick_check").fetchone()
        if said != "ok":
            raise BookError(f"The copy does not read ({said[:80]}): nothing was kept. See tenaz book check.")
        with Path(name).open("rb") as file:
            os.fsync(file.fileno())
        Path(name).replace(out)
    except (OSError, sqlite3.Error) as error:
        raise book_trouble(str(out), error) from error
    finally:
        for end in ("", "-journal"):
            with suppress(OSError):
                Path(name + end).unlink()
    return out.stat().st_size


def put_back(saved: Path, place: Path) -> None:
    """Make a book of what was kept aside; it is a book of its own from then on.

    Raises:
        Refused: a book is there already.
        BookError: what was kept is none, or it cannot be written.
    """
    if place.exists() and place.stat().st_size:
        raise Refused(
            f"There is a book at {place} already: nothing was put back over it. Move it away first, or bring what was "
            f"kept into it: tenaz book merge {saved}"
        )
    opened = open_book(saved, read_only=True)
    try:
        place.unlink(missing_ok=True)
        place.parent.mkdir(parents=True, exist_ok=True)
        back_up(opened.store, place)
    finally:
        opened.close()
    made = open_file(place, read_only=False)
    try:
        its_own(made.store)
    finally:
        made.close()


def its_own(store: Store) -> None:
    """Let a copy be a book of its own: with another identity, and no home."""
    with store.database.writing() as connection:
        connection.execute(update(t.about).where(t.about.c.name == "uid").values(value=uuid.uuid4().hex))
        connection.execute(delete(t.about).where(t.about.c.name != "uid"))
        connection.execute(delete(t.peers))


def put_back_on_server(saved: Path, home: Store, heard: Callable[[Met], None]) -> None:
    """Bring all that was kept aside to a server that has nothing yet.

    Raises:
        Refused: it has something.
    """
    if home.rigs.names():
        raise Refused(
            f"The book {home.place} holds rigs already: nothing was put back over it. Name an empty database, or bring "
            f"what was kept into it: tenaz book merge {saved}"
        )
    with tempfile.TemporaryDirectory(prefix="tenaz-back-") as folder:
        copy = Path(folder) / "book.db"
        put_back(saved, copy)
        opened = open_file(copy, read_only=False)
        try:
            meet(opened.store, home, heard)
        finally:
            opened.close()


def take_along(home: Store, out: Path, address: str, heard: Callable[[Met], None]) -> None:
    """Make a copy of a book that is worked on away from it, and comes home.

    Raises:
        Refused: something is there already.
    """
    if out.exists():
        raise Refused(f"{out} is there already; name another file. One that was taken along comes home by: {COMES}")
    opened = open_file(out, read_only=False)
    try:
        own_identity(opened.store.database, out)
        has_home(opened.store.database, home.database, address)
        meet(opened.store, home, heard)
    except BaseException:
        # Half a copy is none: it is made anew once there is room.
        opened.close()
        for end in ("", "-wal", "-shm", "-journal"):
            out.with_name(out.name + end).unlink(missing_ok=True)
        raise
    opened.close()


COMES = "tenaz --book FILE book home"


def address_of_home(store: Store) -> str:
    """Where the home of a book that is away is.

    Raises:
        Refused: it has none.
    """
    known = home_of(store.database)
    if known is None:
        raise Refused(
            "This book has no home: it was not taken along from another. To bring it into one: tenaz book merge."
        )
    return known[1]


def meet(away: Store, home: Store, heard: Callable[[Met], None] = lambda _: None) -> list[Met]:
    """Let a book that is away and its home tell each other all."""
    if home_of(away.database) is None:
        has_home(away.database, home.database, home.place)
    return away.meeting_with(home).until_quiet(lambda: datetime.now(UTC), heard)
