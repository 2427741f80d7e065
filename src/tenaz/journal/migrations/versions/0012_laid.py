"""In which physical memory a load lay."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"


def upgrade() -> None:
    """Room for it; of older trials nobody knows."""
    op.create_table(
        "laid",
        sa.Column("trial_id", sa.Integer(), nullable=False),
        sa.Column("packed", sa.LargeBinary(), nullable=False),
        sa.ForeignKeyConstraint(["trial_id"], ["trials.id"], name=op.f("fk_laid_trial_id_trials")),
        sa.PrimaryKeyConstraint("trial_id", name=op.f("pk_laid")),
    )


def downgrade() -> None:
    """It is forgotten."""
    op.drop_table("laid")
