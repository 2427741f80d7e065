"""Runs the migrations over the connection that the opener hands in."""

from alembic import context

from tenaz.journal.base.tables import metadata

context.configure(
    connection=context.config.attributes["connection"],
    target_metadata=metadata,
    render_as_batch=True,
    # All of them, or none: the opener's transaction is around everything.
    transactional_ddl=True,
    transaction_per_migration=False,
)
with context.begin_transaction():
    context.run_migrations()
