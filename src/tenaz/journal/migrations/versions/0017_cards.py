"""Wrong values of graphics cards: on which card, and where in a picture."""

import sqlalchemy as sa
from alembic import op

revision = "0017"
down_revision = "0016"


def upgrade() -> None:
    """Older wrong values are of cores and of main memory."""
    op.add_column("mismatches", sa.Column("card", sa.Integer(), nullable=True))
    op.add_column("mismatches", sa.Column("drawn", sa.JSON(), nullable=True))


def downgrade() -> None:
    """They are forgotten."""
    op.drop_column("mismatches", "drawn")
    op.drop_column("mismatches", "card")
