"""With a record, what its loads went over at least once."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    """Make room; of older trials it is not known."""
    with op.batch_alter_table("records") as table:
        table.add_column(sa.Column("covered", sa.JSON(), nullable=True))


def downgrade() -> None:
    """It is dropped."""
    with op.batch_alter_table("records") as table:
        table.drop_column("covered")
