"""What was measured of a rig, and reports that were given out."""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"


def upgrade() -> None:
    """Room for both."""
    op.create_table(
        "measures",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("bench", sa.String(length=16), nullable=False),
        sa.Column("setpoint", sa.JSON(), nullable=False),
        sa.Column("after_number", sa.Integer(), nullable=False),
        sa.Column("begun_utc", sa.DateTime(timezone=True), nullable=False),
        sa.Column("ended_utc", sa.DateTime(timezone=True), nullable=True),
        sa.Column("found", sa.JSON(), nullable=True),
        sa.Column("note", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name=op.f("fk_measures_rig_id_rigs")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_measures")),
        sa.UniqueConstraint("rig_id", "number", name=op.f("uq_measures_rig_id")),
    )
    op.create_table(
        "reports",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("bench", sa.String(length=16), nullable=False),
        sa.Column("packed", sa.LargeBinary(), nullable=False),
        sa.Column("at_utc", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name=op.f("fk_reports_rig_id_rigs")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_reports")),
        sa.UniqueConstraint("rig_id", "number", name=op.f("uq_reports_rig_id")),
    )


def downgrade() -> None:
    """They are forgotten."""
    op.drop_table("reports")
    op.drop_table("measures")
