"""Trials gathered from the tables that each of them is spread over."""

import gc
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

from sqlalchemy import ColumnElement, Connection, select
from sqlalchemy.exc import OperationalError

from tenaz.core.trials.trial import Trial
from tenaz.journal.base import tables as t
from tenaz.journal.base.database import Database
from tenaz.journal.trials.rows import OF_A_RECORD, OF_A_TRIAL, RecordRow, record_of, trial_of

MANY = 5_000
"""Trials that a book does not hold by accident."""

_TRIAL_QUERY: Any = (
    select(*OF_A_TRIAL)
    .join_from(t.trials, t.rigs, t.rigs.c.id == t.trials.c.rig_id)
    .join(t.heartbeats, t.heartbeats.c.trial_id == t.trials.c.id, isouter=True)
)


def gather(database: Database, connection: Connection, which: ColumnElement[bool]) -> tuple[Trial, ...]:
    """Trials with their records, by number; damaged ones are named and passed over."""
    with _nothing_collected():
        found = _read_strictly(connection, lambda: _gathered(database, connection, which))
    if len(found) > MANY:
        # What stays for as long as the book is open need not be gone through again and again.
        gc.freeze()
    return found


def _gathered(database: Database, connection: Connection, which: ColumnElement[bool]) -> tuple[Trial, ...]:
    rows = connection.execute(_TRIAL_QUERY.where(which).order_by(t.trials.c.number)).all()
    if not rows:
        return ()
    latest, known_s = _records(database, connection, which)
    return database.readable("trial", rows, lambda row: trial_of(row, latest.get(row[0]), known_s.get(row[0], 0.0)))


def _read_strictly(connection: Connection, read: Callable[[], tuple[Trial, ...]]) -> tuple[Trial, ...]:
    """Read text by the shortest way first; where some is damaged, once more so that the rest of it is seen."""
    raw = connection.connection.driver_connection
    if not isinstance(raw, sqlite3.Connection):
        return read()
    forgiving, raw.text_factory = raw.text_factory, str
    try:
        return read()
    except OperationalError as error:
        if "decode" not in str(error):
            raise
    finally:
        raw.text_factory = forgiving
    return read()


@contextmanager
def _nothing_collected() -> Iterator[None]:
    """What is read makes no circles: looking for some every few rows takes a third of the time of a large book."""
    enabled = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if enabled:
            gc.enable()


def _records(
    database: Database, connection: Connection, which: ColumnElement[bool]
) -> tuple[dict[int, RecordRow], dict[int, float]]:
    """The standing record of each trial, and the longest time that any record that was undone tells."""
    query = select(*OF_A_RECORD, t.records.c.undone_utc).join(t.trials, t.trials.c.id == t.records.c.trial_id)
    latest: dict[int, RecordRow] = {}
    known_s: dict[int, float] = {}

    def take(row: Any) -> None:
        *said, undone = row
        record = record_of(said)
        if undone is None:
            latest[row[0]] = record
        else:
            known_s[row[0]] = max(known_s.get(row[0], 0.0), record.elapsed_s)

    database.readable("record", connection.execute(query.where(which).order_by(t.records.c.id)).all(), take)
    return latest, known_s
