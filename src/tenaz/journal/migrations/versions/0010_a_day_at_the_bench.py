"""Routines of one's own, trials to come, and the runs in which they were made."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"


def upgrade() -> None:
    """Room for them; an older book has none."""
    op.create_table(
        "routines",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=80), nullable=False),
        sa.Column("text", sa.Text(), nullable=False),
        sa.Column("at_utc", sa.DateTime(timezone=True), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_routines")),
        sa.UniqueConstraint("name", name=op.f("uq_routines_name")),
    )
    op.create_table(
        "planned",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("bench", sa.String(length=16), nullable=False),
        sa.Column("place", sa.Integer(), nullable=False),
        sa.Column("setpoint", sa.JSON(), nullable=False),
        sa.Column("load", sa.JSON(), nullable=False),
        sa.Column("why", sa.Text(), nullable=False),
        sa.Column("state", sa.String(length=16), nullable=False),
        sa.Column("search_id", sa.Integer(), nullable=True),
        sa.Column("trial_id", sa.Integer(), nullable=True),
        sa.Column("at_utc", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name=op.f("fk_planned_rig_id_rigs")),
        sa.ForeignKeyConstraint(["search_id"], ["searches.id"], name=op.f("fk_planned_search_id_searches")),
        sa.ForeignKeyConstraint(["trial_id"], ["trials.id"], name=op.f("fk_planned_trial_id_trials")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_planned")),
    )
    op.create_index(op.f("ix_planned_rig_id"), "planned", ["rig_id"])
    op.create_table(
        "plan_runs",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("bench", sa.String(length=16), nullable=False),
        sa.Column("from_number", sa.Integer(), nullable=False),
        sa.Column("rule", sa.Text(), nullable=False),
        sa.Column("begun_utc", sa.DateTime(timezone=True), nullable=False),
        sa.Column("ended_utc", sa.DateTime(timezone=True), nullable=True),
        sa.Column("ended_why", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name=op.f("fk_plan_runs_rig_id_rigs")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_plan_runs")),
    )
    op.create_index(op.f("ix_plan_runs_rig_id"), "plan_runs", ["rig_id"])


def downgrade() -> None:
    """They are forgotten."""
    op.drop_table("plan_runs")
    op.drop_table("planned")
    op.drop_table("routines")
