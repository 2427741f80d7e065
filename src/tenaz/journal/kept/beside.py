"""What gave way when two books met that had changed the same thing: kept beside what stands, until somebody looked."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import RowMapping, func, select, update

from tenaz.core.base.errors import Refused
from tenaz.journal.base import tables as t
from tenaz.journal.base.codec import as_utc
from tenaz.journal.base.columns import Coded
from tenaz.journal.base.database import Database
from tenaz.journal.feed.kinds import KINDS


@dataclass(frozen=True, slots=True)
class KeptBeside:
    """One of them: whose it is (empty: the workshop's), in words, when the books met, and whether it can be taken in
    place of what stands.
    """

    id: int
    rig: str
    text: str
    at_utc: datetime
    takes: bool
    settled: bool


class Beside:
    """Read, taken after all, or left."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def waiting(self) -> int:
        """How many nobody has looked at."""
        with self._database.reading() as connection:
            query = select(func.count()).select_from(t.conflicts).where(t.conflicts.c.settled.is_(False))
            return int(connection.execute(query).scalar_one())

    def all(self) -> tuple[KeptBeside, ...]:
        """All, the oldest first."""
        query = select(t.conflicts, t.rigs.c.name).join(t.rigs, isouter=True).order_by(t.conflicts.c.id)
        with self._database.reading() as connection:
            return self._database.readable("kept beside", connection.execute(query).mappings(), _one)

    def settle(self, kept_id: int) -> None:
        """What stands is right.

        Raises:
            Refused: there is no such one.
        """
        with self._database.writing() as connection:
            mine = t.conflicts.c.id == kept_id
            if connection.execute(update(t.conflicts).where(mine).values(settled=True)).rowcount == 0:
                raise Refused(f"Nothing was kept beside under {kept_id}; tenaz book beside lists what was.")

    def take(self, kept_id: int) -> None:
        """What was kept beside stands from now on.

        Raises:
            Refused: there is no such one, or it is told in words only, or what it belongs to is gone.
        """
        with self._database.writing() as connection:
            mine = select(t.conflicts).where(t.conflicts.c.id == kept_id)
            row = connection.execute(mine).mappings().one_or_none()
            if row is None or not row["data"]:
                raise Refused(f"There is nothing under {kept_id} that could be taken; tenaz book beside lists what is.")
            table = next(kind.table for kind in KINDS if kind.name == row["kind"])
            values = {name: _decoded(table.c[name].type, value) for name, value in row["data"].items()}
            changed = connection.execute(update(table).where(table.c.uid == row["of_uid"]).values(**values))
            if changed.rowcount == 0:
                raise Refused("What it belongs to is no longer in the book.")
            connection.execute(update(t.conflicts).where(t.conflicts.c.id == kept_id).values(settled=True))


def _decoded(kind: Any, value: Any) -> Any:
    if isinstance(kind, Coded) and value is not None:
        return kind.decode(value)
    if isinstance(value, str) and kind.__class__.__name__ == "Instant":
        return as_utc(datetime.fromisoformat(value))
    return value


def _one(row: RowMapping) -> KeptBeside:
    return KeptBeside(
        int(row["id"]), str(row["name"] or ""), str(row["text"]), as_utc(row["at_utc"]), bool(row["data"]),
        bool(row["settled"]),
    )  # fmt: skip
