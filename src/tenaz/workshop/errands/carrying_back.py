"""What a stick brought back: its book found on it, its rigs recognised, everything taken over once."""

from collections.abc import Sequence
from datetime import UTC, datetime
from pathlib import Path

from tenaz.core.base.errors import Refused
from tenaz.core.machine.recognising import free_name, same_machine
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.journal.keeping.copying import COMES
from tenaz.journal.merging import Merged
from tenaz.journal.opening.identity import home_of, identity
from tenaz.journal.opening.opening import open_book
from tenaz.journal.store import Store

NAMES = ("book.db", "tenaz/book.db")


def book_on(place: Path) -> Path:
    """The book at a place: itself, or the one on a mounted stick.

    Raises:
        Refused: there is none; says what to name.
    """
    if place.is_dir():
        found = next((place / name for name in NAMES if (place / name).is_file()), None)
        if found is None:
            raise Refused(f"There is no book in {place}: name the folder where the stick's part TENAZ is mounted.")
        return found
    if not place.exists():
        raise Refused(f"There is nothing at {place}: name the folder where the stick is mounted, or its book.")
    if place.is_block_device() or place.suffix == ".img":
        raise Refused(f"{place} must be mounted first: its part TENAZ holds a copy of the book. Name that folder.")
    return place


def merge_book(place: Path, into: Store) -> tuple[Merged, ...]:
    """Bring the book of a stick into this one.

    Raises:
        Refused: there is none, or it is this very book.
        BookError: one of the two cannot be read or written.
    """
    book = book_on(place)
    if Path(into.place).exists() and book.resolve() == Path(into.place).resolve():
        raise Refused(f"{book} is the book that it would be brought into.")
    opened = open_book(book, read_only=True)
    try:
        home = home_of(opened.store.database)
        if home is not None and home[0] == identity(into.database):
            raise Refused(f"{book} was taken along from this book: it comes home by itself, both ways. {COMES}")
        here = list(into.rigs.all())
        return into.merge(opened.store, lambda rig: name_here(rig, here), datetime.now(UTC))
    finally:
        opened.close()


def name_here(rig: Rig, here: Sequence[Rig]) -> str:
    """Which rig of this book it is, by its serials; else a name that is free here. A rig that stands beside, or is
    simulated, is the one of its name.
    """
    if BenchKind.HERE not in rig.benches:
        return rig.name
    known = next((one.name for one in here if same_machine(one.machine, rig.machine)), None)
    if known is not None:
        return known
    return free_name({one.name for one in here}, rig.name if rig.name != "this machine" else "from the stick")
