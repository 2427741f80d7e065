"""What was in force beside what was asked, the facts of loads and stations, searches over any knobs, and changes."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    """Make room; of older trials what was in force is taken to be what was asked, since nobody kept more."""
    op.drop_index("ix_trials_climb", "trials")
    op.rename_table("climbs", "searches")
    op.execute("ALTER TABLE trials RENAME COLUMN climb_id TO search_id")
    # Columns are added and dropped, not altered: a table that trials refer to cannot be made anew.
    op.add_column("searches", sa.Column("knobs", sa.Text(), nullable=False, server_default=""))
    op.execute("UPDATE searches SET knobs = knob")
    op.drop_column("searches", "knob")
    op.add_column("searches", sa.Column("parameters", sa.JSON(), nullable=True))
    op.create_index("ix_searches_rig_id", "searches", ["rig_id"])
    op.add_column("trials", sa.Column("in_force", sa.JSON(), nullable=True))
    op.add_column("trials", sa.Column("sources", sa.JSON(), nullable=True))
    op.add_column("trials", sa.Column("fitted", sa.Text(), nullable=False, server_default=""))
    op.create_index("ix_trials_search", "trials", ["search_id"])
    op.create_index("ix_trials_station", "trials", ["station"])
    op.add_column("trials", sa.Column("stations", sa.JSON(), nullable=True))
    _fill_in_stations()
    op.add_column("records", sa.Column("facts", sa.JSON(), nullable=True))
    op.create_table(
        "changes",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("trial_id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name=op.f("fk_changes_rig_id_rigs")),
        sa.ForeignKeyConstraint(["trial_id"], ["trials.id"], name=op.f("fk_changes_trial_id_trials")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_changes")),
    )
    op.create_index("ix_changes_rig_id", "changes", ["rig_id", "id"])
    op.create_table(
        "readings",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("trial_id", sa.Integer(), nullable=False),
        sa.Column("data", sa.JSON(), nullable=False),
        sa.Column("at_utc", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["trial_id"], ["trials.id"], name=op.f("fk_readings_trial_id_trials")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_readings")),
    )
    op.create_index("ix_readings_trial_id", "readings", ["trial_id"])
    op.drop_index("ix_log_rig_id", "log")
    op.create_index("ix_log_rig_id", "log", ["rig_id", "id"])


def _fill_in_stations() -> None:
    """What happened before the load stands in the moves; what it took was not kept."""
    moves = sa.table("moves", *map(sa.column, ("id", "trial_id", "station", "move")))
    trials = sa.table("trials", sa.column("id"), sa.column("stations", sa.JSON()))
    connection, found = op.get_bind(), dict[int, list[dict[str, str]]]()
    query = sa.select(moves.c.trial_id, moves.c.station, moves.c.move).order_by(moves.c.id)
    for trial_id, station, move in connection.execute(query.where(moves.c.station.in_(("set", "boot")))):
        found.setdefault(trial_id, []).append({"station": station, "move": move})
    if found:
        connection.execute(
            trials.update().where(trials.c.id == sa.bindparam("trial")).values(stations=sa.bindparam("walked")),
            [{"trial": trial_id, "walked": walked} for trial_id, walked in found.items()],
        )


def downgrade() -> None:
    """All of it is dropped; searches keep their names."""
    op.drop_index("ix_log_rig_id", "log")
    op.create_index("ix_log_rig_id", "log", ["rig_id"])
    op.drop_table("readings")
    op.drop_table("changes")
    op.drop_column("records", "facts")
    op.drop_index("ix_trials_station", "trials")
    op.drop_index("ix_trials_search", "trials")
    for name in ("stations", "fitted", "sources", "in_force"):
        op.drop_column("trials", name)
    op.drop_index("ix_searches_rig_id", "searches")
    op.drop_column("searches", "parameters")
    op.add_column("searches", sa.Column("knob", sa.String(80), nullable=False, server_default=""))
    op.execute("UPDATE searches SET knob = knobs")
    op.drop_column("searches", "knobs")
    op.execute("ALTER TABLE trials RENAME COLUMN search_id TO climb_id")
    op.rename_table("searches", "climbs")
    op.create_index("ix_trials_climb", "trials", ["climb_id"])
