"""Telemetry: stretches of samples, packed."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    """Make room for traces."""
    op.create_table(
        "traces",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("trial_id", sa.Integer(), nullable=False),
        sa.Column("sensors", sa.JSON(), nullable=False),
        sa.Column("samples", sa.Integer(), nullable=False),
        sa.Column("packed", sa.LargeBinary(), nullable=False),
        sa.ForeignKeyConstraint(["trial_id"], ["trials.id"], name=op.f("fk_traces_trial_id_trials")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_traces")),
    )
    op.create_index(op.f("ix_traces_trial_id"), "traces", ["trial_id"])


def downgrade() -> None:
    """Telemetry is dropped."""
    op.drop_table("traces")
