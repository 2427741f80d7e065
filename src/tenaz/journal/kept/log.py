"""The merged log of the book."""

from datetime import datetime

from sqlalchemy import RowMapping, insert, select

from tenaz.core.ports.bench import Clock
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.sensors.guard import Alarm, Said
from tenaz.journal.base import tables as t
from tenaz.journal.base.codec import as_utc
from tenaz.journal.base.database import Database


class Log:
    """Lines, each with its instant, its source and, where it is about a load, the time of that."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def write(
        self, rig: str, trial_id: int | None, source: str, text: str, clock: Clock, said: Said | None = None
    ) -> None:
        """One line; with what was said at a time of the load, when it is about that."""
        with self._database.writing() as connection:
            rig_id = self._database.rig_id(connection, rig)
            connection.execute(insert(t.log).values(**log_row(rig_id, trial_id, source, text, clock, said)))

    def lines(self, rig: str, most: int = 200, trial_id: int | None = None) -> tuple[tuple[datetime, str, str], ...]:
        """The newest lines of a rig's log, or of one trial's, as (instant, source, text), oldest first."""
        return tuple(line[:3] for line in self.timed_lines(rig, most, trial_id))

    def timed_lines(
        self, rig: str, most: int = 200, trial_id: int | None = None
    ) -> tuple[tuple[datetime, str, str, bool], ...]:
        """The same, each with whether its time is a simulated rig's."""
        columns = (t.log.c.id, t.log.c.at_utc, t.log.c.source, t.log.c.text, t.trials.c.bench)
        with self._database.reading() as connection:
            query = select(*columns).where(t.log.c.rig_id == self._database.rig_id(connection, rig))
            query = query.join(t.trials, t.trials.c.id == t.log.c.trial_id, isouter=True)
            if trial_id is not None:
                query = query.where(t.log.c.trial_id == trial_id)
            rows = connection.execute(query.order_by(t.log.c.id.desc()).limit(most)).mappings().all()
            return self._database.readable("log line", reversed(rows), _line_of)

    def said_of(self, trial_id: int) -> tuple[Said, ...]:
        """What happened while a trial's load ran, in order, with its time."""
        query = (
            select(t.log.c.id, t.log.c.load_s, t.log.c.alarm, t.log.c.text)
            .where(t.log.c.trial_id == trial_id, t.log.c.load_s.is_not(None))
            .order_by(t.log.c.load_s, t.log.c.id)
        )
        with self._database.reading() as connection:
            return self._database.readable(
                "log line",
                connection.execute(query).mappings(),
                lambda row: Said(float(row["load_s"]), Alarm(row["alarm"]), str(row["text"])),
            )


def _line_of(row: RowMapping) -> tuple[datetime, str, str, bool]:
    simulated = row["bench"] == BenchKind.SIM.value
    return as_utc(row["at_utc"]), str(row["source"]), str(row["text"]), simulated


def log_row(
    rig_id: int, trial_id: int | None, source: str, text: str, clock: Clock, said: Said | None = None
) -> dict[str, object]:
    """A line as its row."""
    return {
        "rig_id": rig_id,
        "trial_id": trial_id,
        "source": source,
        "text": text,
        "at_utc": clock.utc(),
        "load_s": said.at_s if said else None,
        "alarm": said.alarm.value if said else None,
    }
