"""What the book keeps of goldens."""

from sqlalchemy import delete, insert, select

from tenaz.core.loads.goldens import Goldens
from tenaz.core.ports.bench import Clock
from tenaz.journal.base import tables as t
from tenaz.journal.base.database import Database


class KeptGoldens:
    """The part of the book that holds goldens."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def put(self, rig: str, goldens: Goldens, clock: Clock) -> None:
        """Keep goldens of a rig, in place of those made with the same instructions and libraries."""
        with self._database.writing() as connection:
            rig_id = self._database.rig_id(connection, rig)
            for made_with, digests in goldens.items():
                connection.execute(
                    delete(t.goldens).where(t.goldens.c.rig_id == rig_id, t.goldens.c.made_with == made_with)
                )
                rows = [
                    {"rig_id": rig_id, "made_with": made_with, "name": name, "digest": digest, "at_utc": clock.utc()}
                    for name, digest in digests.items()
                ]
                connection.execute(insert(t.goldens), rows)

    def of(self, rig: str) -> Goldens:
        """Goldens of a rig; empty when none were taken."""
        query = (
            select(t.goldens.c.made_with, t.goldens.c.name, t.goldens.c.digest)
            .join(t.rigs, t.rigs.c.id == t.goldens.c.rig_id)
            .where(t.rigs.c.name == rig)
        )
        found: Goldens = {}
        with self._database.reading() as connection:
            for made_with, name, digest in connection.execute(query):
                found.setdefault(made_with, {})[name] = digest
        return found
