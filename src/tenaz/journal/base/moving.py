"""What every change of a trial has in common, within one transaction."""

from sqlalchemy import Connection, func, insert, select, update

from tenaz.core.base.errors import BookError
from tenaz.core.base.loop import Station
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.ports.bench import Clock, StationReport
from tenaz.core.rigs.rig import Rig
from tenaz.core.trials.facts import StationFact
from tenaz.core.trials.trial import Trial
from tenaz.journal.base import tables as t
from tenaz.journal.base.database import Database
from tenaz.journal.trials.gathering import gather


def moved(connection: Connection, trial: Trial, report: StationReport, to: Station, clock: Clock) -> None:
    """Write down a move along the loop."""
    connection.execute(
        insert(t.moves).values(
            trial_id=trial.id,
            station=trial.station.value,
            move=report.move.value,
            detail=report.detail,
            monotonic_s=clock.monotonic_s(),
            at_utc=clock.utc(),
        )
    )
    values: dict[str, object] = {"station": to.value}
    if trial.station in (Station.SET, Station.BOOT):
        fact = StationFact(trial.station, report.move, report.seconds, report.by_hand)
        values["stations"] = (*trial.stations, fact)
    connection.execute(update(t.trials).where(t.trials.c.id == trial.id).values(**values))
    changed(connection, trial.id)


def held_rig(connection: Connection, rig: str) -> tuple[int, int]:
    """The row of a rig, and the number of its newest trial (0: it has none). The row is held to the transaction's end:
    two who begin at once on a server get two numbers.
    """
    held = select(t.rigs.c.id).where(t.rigs.c.name == rig).with_for_update()
    rig_id = connection.execute(held).scalar_one()
    return rig_id, last_number(connection, rig_id)


def grids_hold(connection: Connection, rig_id: int, *setpoints: Setpoint) -> None:
    """Take what was in force among the values of the rig's knobs, where it lies between them: evidence stands on it."""
    rig = connection.execute(select(t.rigs.c.data).where(t.rigs.c.id == rig_id)).scalar()
    if not isinstance(rig, Rig):
        return
    held = rig
    for setpoint in setpoints:
        held = held.holding(setpoint)
    if held is not rig:
        connection.execute(update(t.rigs).where(t.rigs.c.id == rig_id).values(data=held))


def last_number(connection: Connection, rig_id: int) -> int:
    """The number of a rig's newest trial; 0 where it has none."""
    return connection.execute(select(func.max(t.trials.c.number)).where(t.trials.c.rig_id == rig_id)).scalar() or 0


def undo_records(connection: Connection, trial_id: int, clock: Clock) -> None:
    """Mark what stands as a trial's record as undone; it stays in the book."""
    standing = (t.records.c.trial_id == trial_id) & t.records.c.undone_utc.is_(None)
    connection.execute(update(t.records).where(standing).values(undone_utc=clock.utc()))


def changed(connection: Connection, trial_id: int) -> None:
    """Say that a trial is no longer as it was."""
    of_rig = select(t.trials.c.rig_id).where(t.trials.c.id == trial_id).scalar_subquery()
    connection.execute(insert(t.changes).values(rig_id=of_rig, trial_id=trial_id))


def one_of(database: Database, connection: Connection, trial_id: int) -> Trial:
    """A trial as it stands within the transaction.

    Raises:
        BookError: its row cannot be read.
    """
    found = gather(database, connection, t.trials.c.id == trial_id)
    if not found:
        raise BookError(f"Trial {trial_id} of the book {database.place} cannot be read: {database.unread}.")
    return found[0]
