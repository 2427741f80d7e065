"""First light: rigs, climbs, trials with their moves, heartbeats and records, mismatches, the log."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    """Make the first tables."""
    op.create_table(
        "rigs",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=80), nullable=False),
        sa.Column("data", sa.JSON(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_rigs")),
        sa.UniqueConstraint("name", name=op.f("uq_rigs_name")),
    )
    op.create_table(
        "climbs",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("bench", sa.String(length=16), nullable=False),
        sa.Column("knob", sa.String(length=80), nullable=False),
        sa.Column("base", sa.JSON(), nullable=False),
        sa.Column("load", sa.JSON(), nullable=False),
        sa.Column("strategy", sa.String(length=40), nullable=False),
        sa.Column("reason", sa.Text(), nullable=False),
        sa.Column("begun_utc", sa.DateTime(timezone=True), nullable=False),
        sa.Column("ended_utc", sa.DateTime(timezone=True), nullable=True),
        sa.Column("ended_why", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name=op.f("fk_climbs_rig_id_rigs")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_climbs")),
    )
    op.create_table(
        "trials",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("climb_id", sa.Integer(), nullable=True),
        sa.Column("bench", sa.String(length=16), nullable=False),
        sa.Column("setpoint", sa.JSON(), nullable=False),
        sa.Column("load", sa.JSON(), nullable=False),
        sa.Column("station", sa.String(length=16), nullable=False),
        sa.Column("begun_utc", sa.DateTime(timezone=True), nullable=False),
        sa.Column("boot_id", sa.String(length=64), nullable=False),
        sa.Column("reason", sa.Text(), nullable=False),
        sa.Column("note", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(["climb_id"], ["climbs.id"], name=op.f("fk_trials_climb_id_climbs")),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name=op.f("fk_trials_rig_id_rigs")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_trials")),
        sa.UniqueConstraint("rig_id", "number", name=op.f("uq_trials_rig_id")),
    )
    op.create_index("ix_trials_climb", "trials", ["climb_id"], unique=False)
    op.create_table(
        "heartbeats",
        sa.Column("trial_id", sa.Integer(), nullable=False),
        sa.Column("elapsed_s", sa.Float(), nullable=False),
        sa.Column("boot_id", sa.String(length=64), nullable=False),
        sa.Column("at_utc", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["trial_id"], ["trials.id"], name=op.f("fk_heartbeats_trial_id_trials")),
        sa.PrimaryKeyConstraint("trial_id", name=op.f("pk_heartbeats")),
    )
    op.create_table(
        "log",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("trial_id", sa.Integer(), nullable=True),
        sa.Column("source", sa.String(length=24), nullable=False),
        sa.Column("text", sa.Text(), nullable=False),
        sa.Column("at_utc", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name=op.f("fk_log_rig_id_rigs")),
        sa.ForeignKeyConstraint(["trial_id"], ["trials.id"], name=op.f("fk_log_trial_id_trials")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_log")),
    )
    op.create_index(op.f("ix_log_rig_id"), "log", ["rig_id"], unique=False)
    op.create_table(
        "mismatches",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("trial_id", sa.Integer(), nullable=False),
        sa.Column("worker", sa.Integer(), nullable=False),
        sa.Column("at_s", sa.Float(), nullable=False),
        sa.Column("lap", sa.Integer(), nullable=False),
        sa.Column("address", sa.String(length=16), nullable=False),
        sa.Column("expected", sa.String(length=16), nullable=False),
        sa.Column("read", sa.String(length=16), nullable=False),
        sa.Column("read_again", sa.String(length=16), nullable=False),
        sa.Column("kind", sa.String(length=24), nullable=False),
        sa.Column("place", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(["trial_id"], ["trials.id"], name=op.f("fk_mismatches_trial_id_trials")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_mismatches")),
    )
    op.create_index(op.f("ix_mismatches_trial_id"), "mismatches", ["trial_id"], unique=False)
    op.create_table(
        "moves",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("trial_id", sa.Integer(), nullable=False),
        sa.Column("station", sa.String(length=16), nullable=False),
        sa.Column("move", sa.String(length=40), nullable=False),
        sa.Column("detail", sa.Text(), nullable=False),
        sa.Column("monotonic_s", sa.Float(), nullable=False),
        sa.Column("at_utc", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["trial_id"], ["trials.id"], name=op.f("fk_moves_trial_id_trials")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_moves")),
    )
    op.create_index(op.f("ix_moves_trial_id"), "moves", ["trial_id"], unique=False)
    op.create_table(
        "records",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("trial_id", sa.Integer(), nullable=False),
        sa.Column("outcome", sa.String(length=16), nullable=False),
        sa.Column("seen_by", sa.String(length=16), nullable=False),
        sa.Column("elapsed_s", sa.Float(), nullable=False),
        sa.Column("failed_after_s", sa.Float(), nullable=True),
        sa.Column("errors", sa.Integer(), nullable=False),
        sa.Column("detail", sa.Text(), nullable=False),
        sa.Column("at_utc", sa.DateTime(timezone=True), nullable=False),
        sa.Column("undone_utc", sa.DateTime(timezone=True), nullable=True),
        sa.ForeignKeyConstraint(["trial_id"], ["trials.id"], name=op.f("fk_records_trial_id_trials")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_records")),
    )
    op.create_index(op.f("ix_records_trial_id"), "records", ["trial_id"], unique=False)


def downgrade() -> None:
    """Before the first tables there was no book."""
    for name in ("log", "mismatches", "records", "heartbeats", "moves", "trials", "climbs", "rigs"):
        op.drop_table(name)
