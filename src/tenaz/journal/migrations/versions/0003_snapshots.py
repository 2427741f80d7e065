"""What the screen showed when a run ended."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    """Make room for snapshots."""
    op.create_table(
        "snapshots",
        sa.Column("trial_id", sa.Integer(), nullable=False),
        sa.Column("text", sa.Text(), nullable=False),
        sa.Column("svg_packed", sa.LargeBinary(), nullable=False),
        sa.Column("at_utc", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["trial_id"], ["trials.id"], name=op.f("fk_snapshots_trial_id_trials")),
        sa.PrimaryKeyConstraint("trial_id", name=op.f("pk_snapshots")),
    )


def downgrade() -> None:
    """Snapshots are dropped."""
    op.drop_table("snapshots")
