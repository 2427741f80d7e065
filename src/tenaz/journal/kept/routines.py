"""Routines of the workshop's own: loads in turn under a name, as they were typed."""

from sqlalchemy import delete, insert, select

from tenaz.core.base.errors import Refused
from tenaz.core.ports.bench import Clock
from tenaz.journal.base import tables as t
from tenaz.journal.base.database import Database


class Routines:
    """Kept, dropped, read."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def save(self, name: str, text: str, clock: Clock) -> None:
        """Keep a routine under a name, in place of one that had it."""
        with self._database.writing() as connection:
            connection.execute(delete(t.routines).where(t.routines.c.name == name))
            connection.execute(insert(t.routines).values(name=name, text=text, at_utc=clock.utc()))

    def drop(self, name: str) -> None:
        """Forget a routine; trials that it made stay.

        Raises:
            Refused: there is none of that name.
        """
        with self._database.writing() as connection:
            if connection.execute(delete(t.routines).where(t.routines.c.name == name)).rowcount == 0:
                raise Refused(f"There is no routine {name!r} of your own.")

    def saved(self) -> dict[str, str]:
        """Texts by name, in the order in which they came."""
        with self._database.reading() as connection:
            rows = connection.execute(select(t.routines).order_by(t.routines.c.id)).mappings()
            return dict(self._database.readable("routine", rows, lambda row: (str(row["name"]), str(row["text"]))))
