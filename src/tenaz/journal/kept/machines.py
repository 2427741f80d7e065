"""The state of simulated machines, kept with the book: they live on between trials and between starts of Tenaz."""

from typing import TYPE_CHECKING

from sqlalchemy import select

from tenaz.journal.base import tables as t
from tenaz.journal.base.database import Database

if TYPE_CHECKING:
    from tenaz.simulated.state import State


class Machines:
    """The part of the book that holds them, one for each rig that has one."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def put(self, rig: str, state: "State") -> None:
        """Keep a state, in place of the one before."""
        from tenaz.simulated.state import state_to_json  # noqa: PLC0415 - only who has one pays for it

        with self._database.writing() as connection:
            rig_id = self._database.rig_id(connection, rig)
            self._database.put(connection, t.machines, {"rig_id": rig_id}, {"state": state_to_json(state)})

    def of(self, rig: str) -> "State | None":
        """The state of a rig's machine, a copy of its own; None when it has none yet, or none that can be read."""
        query = select(t.machines.c.state).join(t.rigs, t.rigs.c.id == t.machines.c.rig_id).where(t.rigs.c.name == rig)
        with self._database.reading() as connection:
            rows = connection.execute(query).mappings()
            found = self._database.readable("simulated machine", rows, lambda row: _state_of(row["state"]))
        return found[0] if found else None


def _state_of(data: object) -> "State":
    from tenaz.simulated.state import state_from_json  # noqa: PLC0415

    return state_from_json(data)
