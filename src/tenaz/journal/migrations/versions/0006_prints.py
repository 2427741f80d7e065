"""Of a wrong value also its core, its load, its physical address and the temperature; and goldens."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    """Make room; what older trials did not note stays unknown."""
    with op.batch_alter_table("mismatches") as table:
        table.add_column(sa.Column("physical", sa.String(16), nullable=True))
        table.add_column(sa.Column("temperature_c", sa.Float(), nullable=True))
        table.add_column(sa.Column("load", sa.String(16), nullable=True))
        table.add_column(sa.Column("core", sa.Integer(), nullable=True))
    op.create_table(
        "goldens",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("made_with", sa.Text(), nullable=False),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("digest", sa.String(64), nullable=False),
        sa.Column("at_utc", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name=op.f("fk_goldens_rig_id_rigs")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_goldens")),
        sa.UniqueConstraint("rig_id", "made_with", "name", name=op.f("uq_goldens_rig_id")),
    )


def downgrade() -> None:
    """Both are dropped."""
    op.drop_table("goldens")
    with op.batch_alter_table("mismatches") as table:
        for column in ("core", "load", "temperature_c", "physical"):
            table.drop_column(column)
