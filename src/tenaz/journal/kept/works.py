"""Work on parts, and the labels on them: what was done to a rig, and what is known of each part."""

from sqlalchemy import RowMapping, delete, func, insert, select

from tenaz.core.parts.fitting import Fitting
from tenaz.core.parts.works import AS_IT_CAME, PartLabel, PartState, Work
from tenaz.core.ports.bench import Clock
from tenaz.core.rigs.rig import BenchKind
from tenaz.journal.base import tables as t
from tenaz.journal.base.codec import as_utc
from tenaz.journal.base.database import Database
from tenaz.journal.base.moving import last_number
from tenaz.journal.base.sides import side_of
from tenaz.journal.trials.rows import needed


class Works:
    """Written, taken out, read. Every write is on the disk when the call returns."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def add(
        self, rig: str, bench: BenchKind, before: Fitting, text: str, told: str, minutes: float, after: Fitting,
        clock: Clock,
    ) -> int:  # fmt: skip
        """Commit a piece of work; the first keeps also how the parts stood before it. Gives its id."""
        with self._database.writing() as connection:
            rig_id, side = self._database.rig_id(connection, rig), side_of(bench.real)
            number = last_number(connection, rig_id)
            mine = (t.works.c.rig_id == rig_id) & (t.works.c.side == side)
            any_yet = connection.execute(select(func.count()).select_from(t.works).where(mine)).scalar()
            rows = [] if any_yet else [(AS_IT_CAME, "", 0.0, before, -1)]
            key = None
            for typed, words, spent, fitting, after_number in (*rows, (text, told, minutes, after, number)):
                values = {
                    "rig_id": rig_id, "side": side, "after_number": after_number, "text": typed, "told": words,
                    "minutes": spent, "fitting": fitting, "at_utc": clock.utc(),
                }  # fmt: skip
                key = connection.execute(insert(t.works).values(**values)).inserted_primary_key
            assert key is not None
            return int(key[0])

    def take_out(self, work_id: int) -> None:
        """As if it had never been done."""
        with self._database.writing() as connection:
            connection.execute(delete(t.works).where(t.works.c.id == work_id))

    def of(self, rig: str, bench: BenchKind) -> tuple[Work, ...]:
        """All work on a rig, the oldest first; before it how the parts came."""
        with self._database.reading() as connection:
            rig_id = self._database.rig_id(connection, rig)
            mine = (t.works.c.rig_id == rig_id) & (t.works.c.side == side_of(bench.real))
            rows = connection.execute(select(t.works).where(mine).order_by(t.works.c.id)).mappings()
            return self._database.readable("work on parts", rows, _work)

    def label(self, rig: str, label: PartLabel, clock: Clock) -> int:
        """Put a label on a part; the newest counts. Gives its id."""
        with self._database.writing() as connection:
            values = {
                "rig_id": self._database.rig_id(connection, rig), "kind": label.kind, "place": label.place,
                "state": label.state.value, "text": label.text, "at_utc": clock.utc(),
            }  # fmt: skip
            key = connection.execute(insert(t.part_labels).values(**values)).inserted_primary_key
            assert key is not None
            return int(key[0])

    def take_off(self, label_id: int) -> None:
        """Take a label off again."""
        with self._database.writing() as connection:
            connection.execute(delete(t.part_labels).where(t.part_labels.c.id == label_id))

    def labels(self, rig: str) -> tuple[PartLabel, ...]:
        """All labels, the oldest first: a part's history; its newest counts."""
        with self._database.reading() as connection:
            rig_id = self._database.rig_id(connection, rig)
            query = select(t.part_labels).where(t.part_labels.c.rig_id == rig_id).order_by(t.part_labels.c.id)
            return self._database.readable("label", connection.execute(query).mappings(), _label)


def _work(row: RowMapping) -> Work:
    return Work(
        row["id"], int(row["after_number"]), str(row["text"]), str(row["told"]), float(row["minutes"]),
        needed(row["fitting"]), as_utc(row["at_utc"]),
    )  # fmt: skip


def _label(row: RowMapping) -> PartLabel:
    return PartLabel(
        str(row["kind"]), str(row["place"]), PartState(row["state"]), str(row["text"]), as_utc(row["at_utc"])
    )
