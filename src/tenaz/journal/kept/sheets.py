"""What the book keeps beside trials: setpoints saved by name, and notes on values."""

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import delete, insert, select, update

from tenaz.core.base.errors import Refused
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.ports.bench import Clock
from tenaz.core.rigs.notes import NoteKind, ValueNote
from tenaz.journal.base import tables as t
from tenaz.journal.base.codec import as_utc, value_from_json
from tenaz.journal.base.database import Database
from tenaz.journal.trials.rows import needed


@dataclass(frozen=True, slots=True)
class SavedSetpoint:
    """A setpoint under a name, with a line of text about it."""

    name: str
    setpoint: Setpoint
    text: str
    at_utc: datetime


class Sheets:
    """The part of the book that is written at the sheet."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def save(self, rig: str, name: str, setpoint: Setpoint, text: str, clock: Clock) -> None:
        """Keep a setpoint under a name that is not taken yet.

        Raises:
            Refused: no name, or one that is taken.
        """
        name = name.strip()
        if not name or len(name) > t.MOST_NAME:
            raise Refused(f"A setpoint needs a name of 1 to {t.MOST_NAME} letters.")
        with self._database.writing() as connection:
            rig_id = self._database.rig_id(connection, rig)
            mine = (t.setpoints.c.rig_id == rig_id) & (t.setpoints.c.name == name)
            if connection.execute(select(t.setpoints.c.id).where(mine)).scalar() is not None:
                raise Refused(
                    f"{rig} has a setpoint {name!r} already; choose another name, or take that one out with "
                    f"tenaz sheet --drop."
                )
            connection.execute(
                insert(t.setpoints).values(rig_id=rig_id, name=name, setpoint=setpoint, text=text, at_utc=clock.utc())
            )

    def drop(self, rig: str, name: str) -> None:
        """Forget a saved setpoint; trials made at it stay.

        Raises:
            Refused: there is none of that name.
        """
        with self._database.writing() as connection:
            mine = (t.setpoints.c.rig_id == self._database.rig_id(connection, rig)) & (t.setpoints.c.name == name)
            if connection.execute(delete(t.setpoints).where(mine)).rowcount == 0:
                raise Refused(f"{rig} has no setpoint {name!r}.")

    def saved(self, rig: str) -> tuple[SavedSetpoint, ...]:
        """Saved setpoints of a rig, oldest first."""
        query = (
            select(t.setpoints)
            .join(t.rigs, t.rigs.c.id == t.setpoints.c.rig_id)
            .where(t.rigs.c.name == rig)
            .order_by(t.setpoints.c.id)
        )
        with self._database.reading() as connection:
            return self._database.readable(
                "setpoint",
                connection.execute(query).mappings(),
                lambda row: SavedSetpoint(
                    str(row["name"]), needed(row["setpoint"]), str(row["text"]), as_utc(row["at_utc"])
                ),
            )

    def note(self, rig: str, note: ValueNote, clock: Clock) -> int:
        """Keep a note on a value; gives its id."""
        with self._database.writing() as connection:
            key = connection.execute(
                insert(t.value_notes).values(
                    rig_id=self._database.rig_id(connection, rig),
                    knob=note.knob,
                    value=note.value,
                    kind=note.kind.value,
                    text=note.text,
                    settled=note.settled,
                    at_utc=clock.utc(),
                )
            ).inserted_primary_key
            assert key is not None
            return int(key[0])

    def settle(self, note_id: int, settled: bool = True) -> None:
        """It needs no coming back to any more, or does after all; it stays in the book."""
        with self._database.writing() as connection:
            connection.execute(update(t.value_notes).where(t.value_notes.c.id == note_id).values(settled=settled))

    def drop_note(self, note_id: int) -> None:
        """Forget a note, as if it had never been put there."""
        with self._database.writing() as connection:
            connection.execute(delete(t.value_notes).where(t.value_notes.c.id == note_id))

    def notes(self, rig: str) -> tuple[ValueNote, ...]:
        """Notes on values of a rig, oldest first."""
        query = (
            select(t.value_notes)
            .join(t.rigs, t.rigs.c.id == t.value_notes.c.rig_id)
            .where(t.rigs.c.name == rig)
            .order_by(t.value_notes.c.id)
        )
        with self._database.reading() as connection:
            return self._database.readable(
                "note",
                connection.execute(query).mappings(),
                lambda row: ValueNote(
                    str(row["knob"]),
                    value_from_json(row["value"]),
                    NoteKind(row["kind"]),
                    str(row["text"]),
                    bool(row["settled"]),
                    row["id"],
                ),
            )
