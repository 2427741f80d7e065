"""What was heard over a wire of a machine just before it went."""

import sqlalchemy as sa
from alembic import op

revision = "0015"
down_revision = "0014"


def upgrade() -> None:
    """Room for it."""
    op.create_table(
        "last_seconds",
        sa.Column("trial_id", sa.Integer(), nullable=False),
        sa.Column("packed", sa.LargeBinary(), nullable=False),
        sa.ForeignKeyConstraint(["trial_id"], ["trials.id"], name=op.f("fk_last_seconds_trial_id_trials")),
        sa.PrimaryKeyConstraint("trial_id", name=op.f("pk_last_seconds")),
    )


def downgrade() -> None:
    """It is forgotten."""
    op.drop_table("last_seconds")
