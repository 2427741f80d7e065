"""Measures of the book: what was measured of a rig, and when."""

from sqlalchemy import RowMapping, delete, func, insert, select, update

from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.ports.bench import Clock
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.scores.measure import Measured
from tenaz.core.scores.score import Circumstances, Measure
from tenaz.journal.base import tables as t
from tenaz.journal.base.codec import as_utc
from tenaz.journal.base.database import Database
from tenaz.journal.base.moving import held_rig
from tenaz.journal.trials.rows import needed

NEVER_ENDED = "never ended: the machine went down, or Tenaz was ended"


class Measures:
    """Begun, ended, read. Every write is on the disk when the call returns."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def begin(self, rig: str, bench: BenchKind, setpoint: Setpoint, clock: Clock, note: str = "") -> Measure:
        """Commit that a rig is about to be measured at a setpoint."""
        begun = clock.utc()
        with self._database.writing() as connection:
            rig_id, after = held_rig(connection, rig)
            mine = t.measures.c.rig_id == rig_id
            number = (connection.execute(select(func.max(t.measures.c.number)).where(mine)).scalar() or 0) + 1
            values = {
                "rig_id": rig_id, "number": number, "bench": bench.value, "setpoint": setpoint, "after_number": after,
                "begun_utc": begun, "note": note,
            }  # fmt: skip
            key = connection.execute(insert(t.measures).values(**values)).inserted_primary_key
            assert key is not None
            return Measure(number, rig, bench, setpoint, begun, after, note=note, id=int(key[0]))

    def end(self, measure_id: int, measured: Measured, clock: Clock) -> None:
        """Commit what came of it."""
        with self._database.writing() as connection:
            mine = t.measures.c.id == measure_id
            connection.execute(update(t.measures).where(mine).values(found=measured, ended_utc=clock.utc()))

    def take_out(self, measure_id: int) -> None:
        """As if it had never been measured."""
        with self._database.writing() as connection:
            connection.execute(delete(t.measures).where(t.measures.c.id == measure_id))

    def newest(self, rig: str) -> int:
        """A number that is another one whenever a measure was ended, or taken out."""
        with self._database.reading() as connection:
            mine = t.measures.c.rig_id == self._database.rig_id(connection, rig)
            ended = mine & t.measures.c.ended_utc.is_not(None)
            count, last = connection.execute(select(func.count(), func.max(t.measures.c.id)).where(ended)).one()
            return int(count) + 1000 * int(last or 0)

    def of(self, rig: str, bench: BenchKind) -> tuple[Measure, ...]:
        """All measures of a rig, the oldest first, on the same side: simulated, or the rig."""
        with self._database.reading() as connection:
            rig_id = self._database.rig_id(connection, rig)
            same = [one.value for one in BenchKind if one.real is bench.real]
            mine = (t.measures.c.rig_id == rig_id) & t.measures.c.bench.in_(same)
            rows = connection.execute(select(t.measures).where(mine).order_by(t.measures.c.number)).mappings()
            return self._database.readable("measure", rows, lambda row: _measure(row, rig))


def _measure(row: RowMapping, rig: str) -> Measure:
    found = row["found"] if row["ended_utc"] is not None else None
    told = needed(found) if found is not None else Measured((), Circumstances(), 0.0, NEVER_ENDED)
    return Measure(
        int(row["number"]), rig, BenchKind(row["bench"]), needed(row["setpoint"]), as_utc(row["begun_utc"]),
        int(row["after_number"]), told.scores, told.circumstances, told.seconds, str(row["note"]),
        None if row["ended_utc"] is None else as_utc(row["ended_utc"]), told.why, row["id"],
    )  # fmt: skip
