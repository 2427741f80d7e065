"""Whatever a book holds has an identity of its own, and the book tells in what order things were touched: by that it
meets other books.
"""

import hashlib
import json
from collections import Counter
from typing import Any
from uuid import uuid4

import sqlalchemy as sa
from alembic import op

from tenaz.journal.feed.triggers import OF_A_RIG, SELF, server_statements, sqlite_triggers

revision = "0016"
down_revision = "0015"

SAID = {
    "rigs": "name, data",
    "searches": "begun_utc, knobs",
    "setpoints": "name, at_utc",
    "value_notes": "at_utc, knob",
    "works": "at_utc, text",
    "part_labels": "at_utc, place, state",
    "measures": "begun_utc, bench",
    "reports": "at_utc, bench",
    "routines": "name, at_utc",
    "planned": "at_utc, place, why",
    "plan_runs": "begun_utc, bench",
}
"""By what the rows of each table are told apart, whichever copy of a book they are in."""


def upgrade() -> None:
    """Older rows get their identities out of what they say, so that copies of a book agree on them."""
    for table in SAID:
        op.add_column(table, sa.Column("uid", sa.String(length=32), nullable=True))
    connection = op.get_bind()
    for table, columns in SAID.items():
        met: Counter[str] = Counter()
        rows = connection.execute(sa.text(f"SELECT id, {columns} FROM {table} ORDER BY id")).all()
        values = [{"key": row[0], "uid": _uid(table, [_said(one) for one in row[1:]], met)} for row in rows]
        if values:
            connection.execute(sa.text(f"UPDATE {table} SET uid = :uid WHERE id = :key"), values)
        op.create_index(op.f(f"ix_{table}_uid"), table, ["uid"])
    op.create_table(
        "feed",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(length=16), nullable=False),
        sa.Column("uid", sa.String(length=32), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_feed")),
        sa.UniqueConstraint("kind", "uid", name=op.f("uq_feed_kind")),
        sqlite_autoincrement=True,
    )
    op.create_table(
        "about",
        sa.Column("name", sa.String(length=40), nullable=False),
        sa.Column("value", sa.Text(), nullable=False),
        sa.PrimaryKeyConstraint("name", name=op.f("pk_about")),
    )
    op.create_table(
        "peers",
        sa.Column("uid", sa.String(length=32), nullable=False),
        sa.Column("state", sa.JSON(), nullable=False),
        sa.PrimaryKeyConstraint("uid", name=op.f("pk_peers")),
    )
    op.create_table(
        "conflicts",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=True),
        sa.Column("kind", sa.String(length=16), nullable=False),
        sa.Column("of_uid", sa.String(length=32), nullable=False),
        sa.Column("text", sa.Text(), nullable=False),
        sa.Column("data", sa.JSON(), nullable=True),
        sa.Column("at_utc", sa.DateTime(timezone=True), nullable=False),
        sa.Column("settled", sa.Boolean(), nullable=False),
        sa.Column("uid", sa.String(length=32), nullable=True),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name=op.f("fk_conflicts_rig_id_rigs")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_conflicts")),
    )
    op.create_index(op.f("ix_conflicts_uid"), "conflicts", ["uid"])
    connection.execute(sa.text("INSERT INTO about (name, value) VALUES ('uid', :uid)"), {"uid": uuid4().hex})
    for kind, table in SELF:
        own = f"SELECT DISTINCT '{kind}', uid FROM {table} WHERE uid IS NOT NULL"
        connection.execute(sa.text(f"INSERT INTO feed (kind, uid) {own}"))
    for kind, table in OF_A_RIG:
        of_rigs = f"SELECT DISTINCT '{kind}', rigs.uid FROM {table} JOIN rigs ON rigs.id = {table}.rig_id"
        connection.execute(sa.text(f"INSERT INTO feed (kind, uid) {of_rigs}"))
    on_server = connection.dialect.name == "postgresql"
    for statement in server_statements() if on_server else sqlite_triggers().values():
        connection.exec_driver_sql(statement)


def downgrade() -> None:
    """They are forgotten."""
    connection = op.get_bind()
    if connection.dialect.name == "postgresql":
        for way in ("own", "trial", "rig"):
            connection.exec_driver_sql(f"DROP FUNCTION tenaz_fed_{way}() CASCADE")
    else:
        for name in sqlite_triggers():
            connection.exec_driver_sql(f"DROP TRIGGER {name}")
    for table in ("conflicts", "peers", "about", "feed"):
        op.drop_table(table)
    for table in SAID:
        op.drop_index(op.f(f"ix_{table}_uid"), table)
        op.drop_column(table, "uid")


def _uid(table: str, said: list[str], met: "Counter[str]") -> str:
    """Of two that say the very same, the second is another one."""
    key = f"{table}|{said}"
    met[key] += 1
    return hashlib.sha256(f"{key}|{met[key]}".encode(errors="replace")).hexdigest()[:32]


def _said(value: Any) -> str:
    """The same text for the same value, whichever database it comes out of; of a rig only which machine it is."""
    if isinstance(value, str):
        try:
            value = json.loads(value)
        except ValueError:
            return str(value).replace("T", " ").split("+")[0].rstrip("0").rstrip(".") if value[:2] == "20" else value
    if isinstance(value, dict):
        value = value.get("machine")
    if hasattr(value, "isoformat"):
        return str(value).replace("T", " ").split("+")[0].rstrip("0").rstrip(".")
    return json.dumps(value, sort_keys=True, default=str)
