"""The rigs of the book."""

from sqlalchemy import JSON, RowMapping, select, type_coerce

from tenaz.core.base.errors import Refused
from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.rigs.rig import Rig
from tenaz.journal.base import tables as t
from tenaz.journal.base.database import Database
from tenaz.journal.trials.rows import needed


class Rigs:
    """Added, replaced, never taken out."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def all(self) -> tuple[Rig, ...]:
        """All rigs, in the order in which they came."""
        with self._database.reading() as connection:
            rows = connection.execute(select(t.rigs).order_by(t.rigs.c.id)).mappings()
            return self._database.readable("rig", rows, _rig_of)

    def names(self) -> tuple[str, ...]:
        """The names of all rigs, in the order in which they came."""
        with self._database.reading() as connection:
            rows = connection.execute(select(t.rigs.c.id, t.rigs.c.name).order_by(t.rigs.c.id)).mappings()
            return self._database.readable("rig", rows, _name_of)

    def used_h(self, family: Family) -> dict[str, float]:
        """Of all rigs of a memory family the hours that they were in use, by name. Of one that says what memory it has
        nothing else is read: a workshop of years has hundreds.
        """
        data = type_coerce(t.rigs.c.data, JSON)
        query = select(t.rigs.c.name, data["memory"].as_string(), data["in_use_h"].as_float())
        with self._database.reading() as connection:
            rows = connection.execute(query.order_by(t.rigs.c.id)).all()
        silent = {str(name) for name, memory, _ in rows if not memory}
        whole = {rig.name: rig.family for rig in (self._some(silent) if silent else ())}
        return {
            str(name): float(hours or 0.0)
            for name, memory, hours in rows
            if (whole.get(name) if name in silent else Family.of(memory)) is family
        }

    def _some(self, names: set[str]) -> tuple[Rig, ...]:
        with self._database.reading() as connection:
            rows = connection.execute(select(t.rigs).where(t.rigs.c.name.in_(names))).mappings()
            return self._database.readable("rig", rows, _rig_of)

    def one(self, name: str) -> Rig:
        """One rig by name.

        Raises:
            Refused: naming the rigs that the book has.
        """
        with self._database.reading() as connection:
            rows = connection.execute(select(t.rigs).where(t.rigs.c.name == name)).mappings()
            found = self._database.readable("rig", rows, _rig_of)
        if found:
            return found[0]
        names = ", ".join(self.names()) or "none yet"
        raise Refused(f"The book has no rig {name!r}; it has: {names}.")

    def put(self, rig: Rig) -> None:
        """Add a rig, or replace the one of the same name."""
        with self._database.writing() as connection:
            self._database.put(connection, t.rigs, {"name": rig.name}, {"data": rig})


def _name_of(row: RowMapping) -> str:
    name = row["name"]
    if not isinstance(name, str):
        raise ValueError(f"no name: {name!r}")
    return name


def _rig_of(row: RowMapping) -> Rig:
    rig: Rig = needed(row["data"])
    if rig.name != row["name"]:
        raise ValueError(f"it is called {row['name']!r} in one place and {rig.name!r} in the other")
    return rig
