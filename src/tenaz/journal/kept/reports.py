"""Reports of the book: kept as they were given out."""

import zlib
from datetime import datetime

from sqlalchemy import RowMapping, delete, func, insert, select

from tenaz.core.rigs.rig import BenchKind
from tenaz.journal.base import tables as t
from tenaz.journal.base.database import Database
from tenaz.journal.base.moving import held_rig


class Reports:
    """Numbered by rig from 1. Every write is on the disk when the call returns."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def next_number(self, rig: str) -> int:
        """The number that the next one will have."""
        return max((number for number, _ in self.of(rig)), default=0) + 1

    def keep(self, rig: str, bench: BenchKind, number: int, data: bytes, at_utc: datetime) -> int:
        """Keep one; gives its id."""
        with self._database.writing() as connection:
            rig_id, _ = held_rig(connection, rig)
            taken = connection.execute(
                select(func.max(t.reports.c.number)).where(t.reports.c.rig_id == rig_id)
            ).scalar()
            values = {
                "rig_id": rig_id, "number": max(number, (taken or 0) + 1), "bench": bench.value,
                "packed": zlib.compress(data, 6), "at_utc": at_utc,
            }  # fmt: skip
            key = connection.execute(insert(t.reports).values(**values)).inserted_primary_key
            assert key is not None
            return int(key[0])

    def take_out(self, report_id: int) -> None:
        """As if it had never been made."""
        with self._database.writing() as connection:
            connection.execute(delete(t.reports).where(t.reports.c.id == report_id))

    def of(self, rig: str) -> tuple[tuple[int, bytes], ...]:
        """All of a rig, the oldest first: number, and what it says."""
        with self._database.reading() as connection:
            mine = t.reports.c.rig_id == self._database.rig_id(connection, rig)
            rows = connection.execute(select(t.reports).where(mine).order_by(t.reports.c.number)).mappings()
            return self._database.readable("report", rows, _report)


def _report(row: RowMapping) -> tuple[int, bytes]:
    return int(row["number"]), zlib.decompress(row["packed"])
