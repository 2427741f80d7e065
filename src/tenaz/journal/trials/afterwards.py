"""What is written of a trial when it is over: a record corrected, and trials that were made elsewhere."""

from collections.abc import Sequence

from sqlalchemy import Connection, delete, func, insert, select, update

from tenaz.core.base.errors import Refused
from tenaz.core.base.loop import Move, Station, after
from tenaz.core.base.typed import with_code
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.ports.bench import Clock, StationReport
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.trials.facts import LoadFacts, facts_by_lanes, read_off
from tenaz.core.trials.past_trials import ENTERED_LATER, PastTrial
from tenaz.core.trials.record_text import SeenRecord
from tenaz.core.trials.trial import Trial
from tenaz.journal.base import tables as t
from tenaz.journal.base.database import Database
from tenaz.journal.base.moving import changed, grids_hold, held_rig, moved, one_of, undo_records
from tenaz.journal.trials.gathering import gather

Batch = tuple[Rig, BenchKind, Sequence[PastTrial]]
"""Trials of one rig, and the bench that they count on."""
MOST_ASKED = 500
"""Identities looked up with one statement."""


class Afterwards:
    """Every write is one transaction that is on the disk when the call returns."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def correct(
        self, trial: Trial, record: SeenRecord, in_force: Setpoint, facts: LoadFacts, seen_by: str, clock: Clock
    ) -> Trial:
        """Another record in place of a closed trial's, and perhaps other values that it ran at; the record before stays
        in the book, marked undone.
        """
        reopened = StationReport(Move.REOPENED, f"corrected: it was {trial.outcome}")
        judge = after(trial.station, Move.REOPENED)
        with self._database.writing() as connection:
            moved(connection, trial, reopened, judge, clock)
            undo_records(connection, trial.id, clock)
            if in_force != trial.setpoint:
                grids_hold(connection, self._database.rig_id(connection, trial.rig), in_force)
                values = None if in_force == trial.asked else in_force
                connection.execute(update(t.trials).where(t.trials.c.id == trial.id).values(in_force=values))
            connection.execute(
                insert(t.records).values(
                    trial_id=trial.id,
                    outcome=record.outcome.value,
                    seen_by=seen_by,
                    elapsed_s=record.elapsed_s,
                    failed_after_s=record.failed_after_s,
                    errors=record.errors,
                    detail=with_code("corrected", record.code),
                    facts=facts,
                    at_utc=clock.utc(),
                )
            )
            judged = one_of(self._database, connection, trial.id)
            closed = after(judge, Move.JUDGED)
            moved(connection, judged, StationReport(Move.JUDGED, record.outcome.value), closed, clock)
            return one_of(self._database, connection, trial.id)

    def enter(self, batches: Sequence[Batch], clock: Clock) -> tuple[Trial, ...]:
        """Trials that were made elsewhere or before, all or none: numbered behind those that are there, closed, and
        marked as entered later.
        """
        with self._database.writing() as connection:
            ids = [self._enter(connection, rig, bench, one, clock) for rig, bench, past in batches for one in past]
            return gather(self._database, connection, t.trials.c.id.in_(ids))

    def known(self, uids: Sequence[str]) -> set[str]:
        """Those of these identities that the book has."""
        with self._database.reading() as connection:
            found: set[str] = set()
            for first in range(0, len(uids), MOST_ASKED):
                asked = uids[first : first + MOST_ASKED]
                found |= set(connection.execute(select(t.trials.c.uid).where(t.trials.c.uid.in_(asked))).scalars())
            return found

    def _enter(self, connection: Connection, rig: Rig, bench: BenchKind, one: PastTrial, clock: Clock) -> int:
        rig_id, last = held_rig(connection, rig.name)
        number, record = last + 1, one.record
        if rig.holding(one.setpoint) is not rig:
            grids_hold(connection, rig_id, one.setpoint)
        key = connection.execute(
            insert(t.trials).values(
                rig_id=rig_id,
                number=number,
                bench=bench.value,
                setpoint=one.setpoint,
                fitted=rig.fitted,
                load=one.plan,
                station=Station.CLOSED.value,
                begun_utc=one.at_utc or clock.utc(),
                boot_id="",
                reason=one.uncertain,
                note=one.note,
                **({"uid": one.uid} if one.uid else {}),
            )
        ).inserted_primary_key
        assert key is not None
        loads = facts_by_lanes(one.plan, record.elapsed_s, (), rig.cores_known, rig.memory_bytes, by_hand=True)
        connection.execute(
            insert(t.records).values(
                trial_id=int(key[0]),
                outcome=record.outcome.value,
                seen_by=ENTERED_LATER,
                elapsed_s=record.elapsed_s,
                failed_after_s=record.failed_after_s,
                errors=record.errors,
                detail=with_code(one.uncertain, record.code),
                facts=LoadFacts(
                    loads if record.elapsed_s else (), read_off(record.hottest_c, record.wall_w), room_c=rig.room_c
                ),
                at_utc=clock.utc(),
            )
        )
        changed(connection, int(key[0]))
        return int(key[0])

    def take_out(self, trials: Sequence[Trial]) -> None:
        """Take trials that were entered later, and should not have been, out of the book; only the newest of their rig,
        so that no number is missing.

        Raises:
            Refused: something was recorded behind them, or they were made here.
        """
        ids = [trial.id for trial in trials]
        with self._database.writing() as connection:
            for trial in trials:
                of_rig = t.trials.c.rig_id == self._database.rig_id(connection, trial.rig)
                mine = [one.id for one in trials if one.rig == trial.rig]
                last = connection.execute(select(func.max(t.trials.c.id)).where(of_rig)).scalar()
                if trial.seen_by != ENTERED_LATER or last != max(mine):
                    raise Refused(f"Trial {trial.number} cannot be taken out: it was made here, or others follow it.")
            for table in (t.changes, t.records, t.snapshots):
                connection.execute(delete(table).where(table.c.trial_id.in_(ids)))
            # A log only grows: by its end another book knows how much of it is new.
            connection.execute(update(t.log).where(t.log.c.trial_id.in_(ids)).values(trial_id=None))
            connection.execute(delete(t.trials).where(t.trials.c.id.in_(ids)))
