"""Bringing a book's tables up to date: all migrations in one transaction, so that it is done or it is as it was."""

from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING

from sqlalchemy import Engine

if TYPE_CHECKING:
    from alembic.config import Config

HEAD_REVISION = "0017"
"""The newest migration; a test holds it to what the migrations folder says."""


def revision_of(engine: Engine) -> str | None:
    """Up to which migration a database has come; None for one without tables of ours."""
    with engine.connect() as connection:
        if not connection.dialect.has_table(connection, "alembic_version"):
            return None
        return connection.exec_driver_sql("SELECT version_num FROM alembic_version").scalar()


def migrate(engine: Engine, application_id: int | None = None) -> None:
    """Run the migrations that are missing; in a new SQLite file also leave our mark."""
    from alembic import command  # noqa: PLC0415 - only a book that lacks migrations pays for it

    with engine.begin() as connection:
        config = alembic_config()
        config.attributes["connection"] = connection
        command.upgrade(config, "head")
        if application_id is not None:
            connection.exec_driver_sql(f"PRAGMA application_id = {application_id}")


@cache
def known_revisions() -> frozenset[str]:
    """All migrations that this version has."""
    from alembic.script import ScriptDirectory  # noqa: PLC0415

    script = ScriptDirectory.from_config(alembic_config())
    return frozenset(revision.revision for revision in script.walk_revisions())


def alembic_config() -> "Config":
    """Where the migrations are."""
    from alembic.config import Config  # noqa: PLC0415 - only a book that lacks migrations pays for it

    config = Config()
    # Alembic reads % as a sign of its own.
    config.set_main_option("script_location", str(Path(__file__).parents[1] / "migrations").replace("%", "%%"))
    return config
