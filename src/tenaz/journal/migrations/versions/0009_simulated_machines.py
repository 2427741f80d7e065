"""Simulated machines live on between trials and starts."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"


def upgrade() -> None:
    """Room for their states; machines of older books begin anew, set to what was last in force."""
    op.create_table(
        "machines",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("state", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name=op.f("fk_machines_rig_id_rigs")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_machines")),
        sa.UniqueConstraint("rig_id", name=op.f("uq_machines_rig_id")),
    )


def downgrade() -> None:
    """They are forgotten."""
    op.drop_table("machines")
