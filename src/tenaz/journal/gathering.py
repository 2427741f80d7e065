"""Trials gathered from the tables that each of them is spread over."""

from typing import Any

from sqlalchemy import ColumnElement, Connection, RowMapping, select

from tenaz.core.trials import Trial
from tenaz.journal import tables as t
from tenaz.journal.database import Database
from tenaz.journal.trial_rows import trial_of

_TRIAL_QUERY: Any = (
    select(
        t.trials,
        t.rigs.c.name.label("rig"),
        t.heartbeats.c.elapsed_s.label("beat_elapsed_s"),
        t.heartbeats.c.boot_id.label("beat_boot_id"),
        t.heartbeats.c.at_utc.label("beat_at_utc"),
    )
    .join(t.rigs, t.rigs.c.id == t.trials.c.rig_id)
    .join(t.heartbeats, t.heartbeats.c.trial_id == t.trials.c.id, isouter=True)
)


def gather(database: Database, connection: Connection, which: ColumnElement[bool]) -> tuple[Trial, ...]:
    """Trials with their records, by number; damaged ones are named and passed over."""
    rows = connection.execute(_TRIAL_QUERY.where(which).order_by(t.trials.c.number)).mappings().all()
    if not rows:
        return ()
    latest, known_s = _records(database, connection, which)
    return database.readable(
        "trial", rows, lambda row: trial_of(row, latest.get(row["id"]), known_s.get(row["id"], 0.0))
    )


def _records(
    database: Database, connection: Connection, which: ColumnElement[bool]
) -> tuple[dict[int, RowMapping], dict[int, float]]:
    """The standing record of each trial, and the longest time that any of its records tells."""
    query = select(t.records).join(t.trials, t.trials.c.id == t.records.c.trial_id).where(which)
    latest: dict[int, RowMapping] = {}
    known_s: dict[int, float] = {}

    def take(record: RowMapping) -> None:
        known_s[record["trial_id"]] = max(known_s.get(record["trial_id"], 0.0), float(record["elapsed_s"]))
        if record["undone_utc"] is None:
            latest[record["trial_id"]] = record

    database.readable("record", connection.execute(query.order_by(t.records.c.id)).mappings().all(), take)
    return latest, known_s
