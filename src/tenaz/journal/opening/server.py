"""A book on a database server: its tables made and brought up to date, many writers, each commit after the other."""

import time
from typing import Any

from sqlalchemy import Connection, Engine, create_engine, event, inspect, text
from sqlalchemy.exc import SQLAlchemyError

from tenaz.core.base.errors import BookError
from tenaz.journal.base.tables import metadata
from tenaz.journal.base.troubles import book_trouble
from tenaz.journal.opening.addresses import ServerAddress, without_secrets
from tenaz.journal.opening.migrating import HEAD_REVISION, known_revisions, migrate, revision_of
from tenaz.journal.opening.server_locks import ANSWERS_WITHIN_S, SILENT, called
from tenaz.journal.store import Store

MAKING_KEY = 0x54454E5A
"""Names the lock of whoever makes the tables, or brings them up to date."""

WRITING_KEY = MAKING_KEY + 1
"""Names the lock that one transaction of writing holds, so that none overlaps another writer's."""

MADE_WITHIN_S, LOOK_AGAIN_S = 20.0, 0.2
"""How long whoever may only look waits for another to make the tables, or to bring them up to date."""


def open_on_server(address: ServerAddress, read_only: bool = False) -> Store:
    """Open a book on a server itself, making its tables when there are none. Many may write: one commit comes after the
    other, and whoever reads has seen all that came before.

    Raises:
        BookError: other tables, a newer version's book, or a server that does not answer. Nothing is touched then.
    """
    try:
        return _open(server_engine(address), address.shown, read_only)
    except (SQLAlchemyError, ImportError) as error:
        raise BookError(without_secrets(str(book_trouble(address.shown, error)), address.url)) from None


def server_engine(address: ServerAddress) -> Engine:
    """An engine whose commits are on the server's disk when they return."""
    from psycopg.types.json import set_json_loads  # noqa: PLC0415 - a file's book does not pay for it

    arguments = {"connect_timeout": ANSWERS_WITHIN_S, "application_name": called(), **SILENT}
    engine = create_engine(address.url, pool_pre_ping=True, connect_args=arguments)

    @event.listens_for(engine, "connect")
    def durable(connection: Any, _: object) -> None:
        # A commit is on the server's disk before anything that may crash a machine is touched.
        cursor = connection.cursor()
        cursor.execute("SET synchronous_commit = on")
        cursor.close()
        connection.commit()
        # As text, as a file has it: what is written alike is read once.
        set_json_loads(as_text, connection)

    return engine


def as_text(told: str | bytes) -> str:
    """JSON as it came."""
    return told if isinstance(told, str) else told.decode()


def one_after_the_other(writing: Connection) -> None:
    """Wait until nobody else writes: whoever has read up to a row has read all before it."""
    writing.exec_driver_sql(f"SELECT pg_advisory_xact_lock({WRITING_KEY})")


def _open(engine: Engine, place: str, read_only: bool) -> Store:
    why = "the book was opened for reading only." if read_only else ""
    why = why or _may_only_look(engine)
    revision = _made_by_another(engine) if why else revision_of(engine)
    _refuse_what_is_no_book(engine, revision, place)
    if revision != HEAD_REVISION:
        if why:
            raise BookError(
                f"The book {place} is not made, or not brought up to date yet, and may only be read here: open it "
                f"once for writing."
            )
        _bring_up_to_date(engine, place)
    return Store(engine, place, why, one_after_the_other)


def _bring_up_to_date(engine: Engine, place: str) -> None:
    """Make the tables, or run the migrations that are missing, while nobody writes; one who is older than this finds
    out at his next word, and keeps what he has.

    Raises:
        BookError: this user may not.
    """
    with engine.connect() as holding:
        holding.exec_driver_sql(f"SELECT pg_advisory_lock({MAKING_KEY})")
        try:
            if revision_of(engine) != HEAD_REVISION:
                migrate(engine)
        except SQLAlchemyError as error:
            if "permission denied" in str(error) or "must be owner" in str(error):
                raise BookError(
                    f"The book {place} must be brought up to date first, and this user may not: whoever keeps the "
                    f"server opens it once with this version. What is written here meanwhile is kept here."
                ) from None
            raise
        finally:
            holding.exec_driver_sql(f"SELECT pg_advisory_unlock({MAKING_KEY})")


def _may_only_look(engine: Engine) -> str:
    """Why this user cannot write to the book; empty where it can, or where there is none yet."""
    asked = text(
        "SELECT current_user, current_setting('default_transaction_read_only') = 'on', CASE WHEN "
        "to_regclass('trials') IS NULL THEN TRUE ELSE has_table_privilege('trials', 'INSERT, UPDATE') END"
    )
    with engine.connect() as connection:
        user, looks_only, may_write = connection.execute(asked).one()
    if looks_only:
        return f"the server gives the user {user} this database for reading only."
    return "" if may_write else f"the user {user} may only read it; ask whoever keeps the server for more."


def _made_by_another(engine: Engine) -> str | None:
    """Up to which migration the database has come, once whoever is making it is done."""
    until = time.monotonic() + MADE_WITHIN_S
    while (revision := revision_of(engine)) != HEAD_REVISION and time.monotonic() < until:
        if revision is not None and revision not in known_revisions():
            break
        if revision is None and not _somebody_writes(engine):
            break
        time.sleep(LOOK_AGAIN_S)
    return revision


def _somebody_writes(engine: Engine) -> bool:
    with engine.connect() as connection:
        held = text("SELECT EXISTS (SELECT 1 FROM pg_locks WHERE locktype = 'advisory' AND objid = CAST(:key AS oid))")
        return bool(connection.execute(held, {"key": MAKING_KEY}).scalar())


def _refuse_what_is_no_book(engine: Engine, revision: str | None, place: str) -> None:
    names = set(inspect(engine).get_table_names())
    if revision is None and names:
        raise BookError(
            f"The database {place} holds other tables ({', '.join(sorted(names)[:3])}). It was not touched; name an "
            f"empty one."
        )
    if revision is not None and revision not in known_revisions():
        ours = "by a newer Tenaz" if names >= set(metadata.tables) - {"changes", "readings"} else "by another program"
        raise BookError(
            f"The book {place} was written {ours} (its format is {revision}, this one knows up to {HEAD_REVISION}). It "
            f"was not touched; use the newer Tenaz, or name an empty database."
        )
