"""Setpoints saved by name, and notes on values."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    """Make room for both."""
    op.create_table(
        "setpoints",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("setpoint", sa.JSON(), nullable=False),
        sa.Column("text", sa.Text(), nullable=False),
        sa.Column("at_utc", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name=op.f("fk_setpoints_rig_id_rigs")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_setpoints")),
        sa.UniqueConstraint("rig_id", "name", name=op.f("uq_setpoints_rig_id")),
    )
    op.create_table(
        "value_notes",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("knob", sa.String(80), nullable=False),
        sa.Column("value", sa.JSON(), nullable=False),
        sa.Column("kind", sa.String(16), nullable=False),
        sa.Column("text", sa.Text(), nullable=False),
        sa.Column("settled", sa.Boolean(), nullable=False),
        sa.Column("at_utc", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name=op.f("fk_value_notes_rig_id_rigs")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_value_notes")),
    )
    op.create_index("ix_value_notes_rig_id", "value_notes", ["rig_id"])


def downgrade() -> None:
    """Both are dropped."""
    op.drop_index("ix_value_notes_rig_id", "value_notes")
    op.drop_table("value_notes")
    op.drop_table("setpoints")
