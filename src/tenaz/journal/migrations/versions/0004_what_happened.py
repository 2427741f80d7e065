"""What happened at which time of a load, and what each worker had come to at the last sign of life."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"


def upgrade() -> None:
    """Make room for load times and lanes; earlier lines and trials have none."""
    op.add_column("log", sa.Column("load_s", sa.Float(), nullable=True))
    op.add_column("log", sa.Column("alarm", sa.String(24), nullable=True))
    op.create_index("ix_log_trial_id", "log", ["trial_id"])
    op.add_column("heartbeats", sa.Column("lanes", sa.JSON(), nullable=True))


def downgrade() -> None:
    """Load times and lanes are dropped."""
    op.drop_column("heartbeats", "lanes")
    op.drop_index("ix_log_trial_id", "log")
    op.drop_column("log", "alarm")
    op.drop_column("log", "load_s")
