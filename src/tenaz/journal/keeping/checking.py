"""Whether a book is whole: what its database says, what cannot be read, what does not fit together."""

from collections.abc import Callable, Iterator

from sqlalchemy import Connection, func, select

from tenaz.core.base.loop import Station
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.journal.base import tables as t
from tenaz.journal.feed.kinds import GOLDENS, KINDS, MACHINE
from tenaz.journal.store import Store

MOST_OF_ONE = 5
"""So many findings of one sort are told, then how many more."""


def check_book(store: Store, told: Callable[[str], None] = lambda _: None) -> tuple[str, ...]:
    """What is wrong with a book, a line each; nothing where it is whole. ``told`` hears what is looked at."""
    found: list[str] = []
    for what, look in (("the database", _database), ("how rows fit together", _rows), ("every value", _values)):
        told(what)
        findings = list(look(store))
        found += findings[:MOST_OF_ONE]
        if len(findings) > MOST_OF_ONE:
            found.append(f"and {len(findings) - MOST_OF_ONE} more like these")
    return tuple(found)


def _database(store: Store) -> Iterator[str]:
    """What SQLite says of its file; a server looks after its own."""
    if store.database.on_server:
        return
    with store.database.reading() as connection:
        for (line,) in connection.exec_driver_sql("PRAGMA integrity_check"):
            if line != "ok":
                yield f"the file is damaged: {str(line)[:120]}"
        for table, row, parent, _ in connection.exec_driver_sql("PRAGMA foreign_key_check"):
            yield f"row {row} of {table} belongs to a row of {parent} that is not there"


def _rows(store: Store) -> Iterator[str]:
    with store.database.reading() as connection:
        yield from _records(connection)
        for kind in KINDS:
            if kind in (GOLDENS, MACHINE):
                continue
            column = kind.table.c.uid
            nameless = connection.execute(select(func.count()).where(column.is_(None))).scalar() or 0
            if nameless:
                yield f"{nameless} rows of {kind.table.name} have no identity"
            query = select(column).group_by(column).having(func.count() > 1)
            for uid in connection.execute(query).scalars():
                yield f"{kind.words} {uid} is there twice"
            fed = select(t.feed.c.uid).where(t.feed.c.kind == kind.name)
            untold = select(func.count()).where(column.is_not(None), column.not_in(fed))
            if count := connection.execute(untold).scalar():
                yield f"{count} rows of {kind.table.name} stand in no feed: another book would never hear of them"


def _records(connection: Connection) -> Iterator[str]:
    standing = t.records.c.undone_utc.is_(None)
    counted = (
        select(t.trials.c.number, t.rigs.c.name, t.trials.c.station, func.count(t.records.c.id))
        .join(t.rigs, t.rigs.c.id == t.trials.c.rig_id)
        .join(t.records, (t.records.c.trial_id == t.trials.c.id) & standing, isouter=True)
        .group_by(t.trials.c.id, t.rigs.c.name)
    )
    closed = Station.CLOSED.value
    unfit = counted.having(
        ((t.trials.c.station == closed) & (func.count(t.records.c.id) != 1))
        | ((t.trials.c.station != closed) & (func.count(t.records.c.id) > 0))
    )
    for number, rig, station, records in connection.execute(unfit):
        yield f"trial {number} of {rig} is {station} with {records} records that stand"


def _values(store: Store) -> Iterator[str]:
    before = set(store.unread)
    for rig in store.rigs.all():
        _read_all(store, rig)
    for what, why in store.unread.items():
        if what not in before:
            yield f"{what} cannot be read: {why}"


def _read_all(store: Store, rig: Rig) -> None:
    """Read everything of a rig; what cannot be is named by the store."""
    name = rig.name
    for page in store.trials.pages(name):
        for trial in page:
            store.load.traces_of(trial.id)
            store.load.mismatches_of(trial.id)
            store.load.last_seconds_of(trial.id)
            store.load.snapshot(trial.id)
            store.trials.readings_of(trial.id)
    store.load.laid_of(name)
    store.searches.of(name)
    store.sheets.saved(name)
    store.sheets.notes(name)
    store.works.labels(name)
    store.reports.of(name)
    store.machines.of(name)
    for bench in BenchKind:
        store.works.of(name, bench)
        store.measures.of(name, bench)
        store.plans.waiting(name, bench)
