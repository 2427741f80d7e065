"""Trials and records have an identity of their own, by which they are the same in whatever book they come to."""

import hashlib
import json
from collections import Counter
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"


def upgrade() -> None:
    """Older ones get theirs out of what they say, so that copies of a book agree on it."""
    for table in ("trials", "records"):
        op.add_column(table, sa.Column("uid", sa.String(length=32), nullable=True))
    connection = op.get_bind()
    first: dict[int, str] = {}
    records = connection.execute(sa.text("SELECT id, trial_id, outcome, elapsed_s, seen_by FROM records ORDER BY id"))
    rows = [tuple(row) for row in records]
    for _, trial_id, *said in rows:
        first.setdefault(trial_id, _plain(said))
    uids: dict[int, str] = {}
    met: Counter[str] = Counter()
    trials = connection.execute(sa.text("SELECT id, boot_id, begun_utc, setpoint, load FROM trials ORDER BY id"))
    for trial_id, boot_id, begun, setpoint, load in trials.all():
        said = [boot_id, _instant(begun)]
        # What was typed in has no boot, and a minute for its time: it is told apart by what it says.
        said += [] if boot_id else [_plain(setpoint), _plain(load), first.get(trial_id, "")]
        uids[trial_id] = _uid(said, met)
    _write(connection, "trials", uids)
    of_records, met = {}, Counter()
    for record_id, trial_id, *said in rows:
        of_records[record_id] = _uid([uids.get(trial_id, str(trial_id)), *said], met)
    _write(connection, "records", of_records)
    for table in ("trials", "records"):
        op.create_index(op.f(f"ix_{table}_uid"), table, ["uid"])


def downgrade() -> None:
    """They are forgotten."""
    for table in ("trials", "records"):
        op.drop_index(op.f(f"ix_{table}_uid"), table)
        op.drop_column(table, "uid")


def _uid(said: list[Any], met: "Counter[str]") -> str:
    """Of two that say the very same, the second is another one."""
    key = _plain(said)
    met[key] += 1
    return hashlib.sha256(f"{key}|{met[key]}".encode(errors="replace")).hexdigest()[:32]


def _plain(value: Any) -> str:
    """The same text for the same value, whichever database it comes out of."""
    if isinstance(value, str):
        try:
            value = json.loads(value)
        except ValueError:
            return str(value)
    return json.dumps(value, sort_keys=True, default=str)


def _instant(value: Any) -> str:
    """Without a zone: one database tells it, the other does not."""
    return str(value).replace("T", " ").split("+")[0].rstrip("0").rstrip(".")


def _write(connection: Any, table: str, uids: dict[int, str]) -> None:
    if uids:
        values = [{"key": key, "uid": uid} for key, uid in uids.items()]
        connection.execute(sa.text(f"UPDATE {table} SET uid = :uid WHERE id = :key"), values)
