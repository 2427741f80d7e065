"""Work on a rig's parts, and the labels on them."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"


def upgrade() -> None:
    """Room for them; an older book has none."""
    op.create_table(
        "works",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("side", sa.String(length=16), nullable=False),
        sa.Column("after_number", sa.Integer(), nullable=False),
        sa.Column("text", sa.Text(), nullable=False),
        sa.Column("told", sa.Text(), nullable=False),
        sa.Column("minutes", sa.Float(), nullable=False),
        sa.Column("fitting", sa.JSON(), nullable=False),
        sa.Column("at_utc", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name=op.f("fk_works_rig_id_rigs")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_works")),
    )
    op.create_index(op.f("ix_works_rig_id"), "works", ["rig_id"])
    op.create_table(
        "part_labels",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(length=16), nullable=False),
        sa.Column("place", sa.String(length=80), nullable=False),
        sa.Column("state", sa.String(length=16), nullable=False),
        sa.Column("text", sa.Text(), nullable=False),
        sa.Column("at_utc", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name=op.f("fk_part_labels_rig_id_rigs")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_part_labels")),
    )
    op.create_index(op.f("ix_part_labels_rig_id"), "part_labels", ["rig_id"])


def downgrade() -> None:
    """They are forgotten."""
    op.drop_table("part_labels")
    op.drop_table("works")
