"""The store: every write is one transaction that is on the disk when the call returns."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime
from typing import Any

from sqlalchemy import Connection, RowMapping, func, insert, select, update

from tenaz.core.climbs import ClimbPlan
from tenaz.core.errors import BookError, Refused
from tenaz.core.guard import Said
from tenaz.core.loading import Covered, LoadKind, LoadPlan
from tenaz.core.loop import REOPENED_AT, Move, Station, after
from tenaz.core.outcomes import Outcome
from tenaz.core.ports import Clock, Step
from tenaz.core.rigs import BenchKind, Rig
from tenaz.core.setpoints import Setpoint
from tenaz.core.trials import Heartbeat, Trial
from tenaz.journal import tables as t
from tenaz.journal.codec import (
    as_utc,
    plan_from_json,
    plan_to_json,
    rig_from_json,
    rig_to_json,
    setpoint_from_json,
    setpoint_to_json,
)
from tenaz.journal.goldens import KeptGoldens
from tenaz.journal.sheets import Sheets
from tenaz.journal.under_load import UnderLoad

MOST_SECONDS = 1e10
"""No load has run for three centuries: what says so is damaged."""


class Store(UnderLoad, Sheets, KeptGoldens):
    """The book, open."""

    # -- rigs ----------------------------------------

    def rigs(self) -> tuple[Rig, ...]:
        """All rigs, in the order in which they came."""
        with self._reading() as connection:
            rows = connection.execute(select(t.rigs).order_by(t.rigs.c.id)).mappings()
            return self._readable("rig", rows, _rig_of)

    def rig(self, name: str) -> Rig:
        """One rig by name.

        Raises:
            Refused: naming the rigs that the book has.
        """
        known = self.rigs()
        for rig in known:
            if rig.name == name:
                return rig
        names = ", ".join(rig.name for rig in known) or "none yet"
        raise Refused(f"The book has no rig {name!r}; it has: {names}.")

    def put_rig(self, rig: Rig) -> None:
        """Add a rig, or replace the one of the same name."""
        with self._writing() as connection:
            changed = connection.execute(update(t.rigs).where(t.rigs.c.name == rig.name).values(data=rig_to_json(rig)))
            if changed.rowcount == 0:
                connection.execute(insert(t.rigs).values(name=rig.name, data=rig_to_json(rig)))

    # -- trials ----------------------------------------

    def begin_trial(
        self,
        rig: Rig,
        bench: BenchKind,
        setpoint: Setpoint,
        plan: LoadPlan,
        clock: Clock,
        climb_id: int | None = None,
        reason: str = "",
    ) -> Trial:
        """Commit that a trial begins, before anything is set or loaded."""
        with self._writing() as connection:
            rig_id = self._rig_id(connection, rig.name)
            last = connection.execute(select(func.max(t.trials.c.number)).where(t.trials.c.rig_id == rig_id)).scalar()
            trial_id = connection.execute(
                insert(t.trials).values(
                    rig_id=rig_id,
                    number=(last or 0) + 1,
                    climb_id=climb_id,
                    bench=bench.value,
                    setpoint=setpoint_to_json(setpoint),
                    load=plan_to_json(plan),
                    station=Station.SET.value,
                    begun_utc=clock.utc(),
                    boot_id=clock.boot_id(),
                    reason=reason,
                )
            ).inserted_primary_key
            assert trial_id is not None
            return self._trial(connection, int(trial_id[0]))

    def move(self, trial: Trial, step: Step, clock: Clock) -> Trial:
        """Commit a move along the loop; refuses one that the table does not hold."""
        station = after(trial.station, step.move)
        with self._writing() as connection:
            self._move(connection, trial.id, trial.station, step, station, clock)
            return self._trial(connection, trial.id)

    @staticmethod
    def _move(connection: Connection, trial_id: int, at: Station, step: Step, to: Station, clock: Clock) -> None:
        connection.execute(
            insert(t.moves).values(
                trial_id=trial_id,
                station=at.value,
                move=step.move.value,
                detail=step.detail,
                monotonic_s=clock.monotonic_s(),
                at_utc=clock.utc(),
            )
        )
        connection.execute(update(t.trials).where(t.trials.c.id == trial_id).values(station=to.value))

    def record(
        self,
        trial: Trial,
        outcome: Outcome,
        seen_by: str,
        clock: Clock,
        elapsed_s: float = 0.0,
        failed_after_s: float | None = None,
        errors: int = 0,
        detail: str = "",
        covered: Covered = (),
    ) -> Trial:
        """Record how a trial at station judge ended, and close it."""
        closed = after(trial.station, Move.JUDGED)
        with self._writing() as connection:
            connection.execute(
                insert(t.records).values(
                    trial_id=trial.id,
                    outcome=outcome.value,
                    seen_by=seen_by,
                    elapsed_s=elapsed_s,
                    failed_after_s=failed_after_s,
                    errors=errors,
                    detail=detail,
                    covered={kind.value: part for kind, part in covered},
                    at_utc=clock.utc(),
                )
            )
            self._move(connection, trial.id, trial.station, Step(Move.JUDGED, outcome.value), closed, clock)
            return self._trial(connection, trial.id)

    def undo_record(self, trial: Trial, clock: Clock) -> Trial:
        """Take back the record of a closed trial; the record stays in the book, marked undone, and so does its time.

        A trial by hand that never came to its load goes back to the station at which that was said; every other one
        waits at judge for another record.
        """
        with self._writing() as connection:
            left = Station(
                connection.execute(
                    select(t.moves.c.station)
                    .where(t.moves.c.trial_id == trial.id, t.moves.c.station != Station.JUDGE.value)
                    .where(t.moves.c.station != Station.CLOSED.value)
                    .order_by(t.moves.c.id.desc())
                    .limit(1)
                ).scalar()
                or Station.JUDGE
            )
            move = REOPENED_AT.get(left, Move.REOPENED) if trial.bench is BenchKind.HAND else Move.REOPENED
            connection.execute(
                update(t.records)
                .where(t.records.c.trial_id == trial.id, t.records.c.undone_utc.is_(None))
                .values(undone_utc=clock.utc())
            )
            self._move(connection, trial.id, trial.station, Step(move), after(trial.station, move), clock)
            return self._trial(connection, trial.id)

    def note(self, trial_id: int, text: str) -> None:
        """Put a note on a trial, in place of the one it had."""
        with self._writing() as connection:
            connection.execute(update(t.trials).where(t.trials.c.id == trial_id).values(note=text))

    def trials(self, rig: str) -> tuple[Trial, ...]:
        """All trials of a rig, oldest first."""
        with self._reading() as connection:
            rows = connection.execute(
                self._trial_query().where(t.rigs.c.name == rig).order_by(t.trials.c.number)
            ).mappings()
            return self._with_records(connection, list(rows))

    def trial(self, trial_id: int) -> Trial:
        """One trial as it stands in the book now."""
        with self._reading() as connection:
            return self._trial(connection, trial_id)

    def unfinished(self) -> tuple[Trial, ...]:
        """Trials of all rigs that were never judged, oldest first."""
        query = self._trial_query().where(t.trials.c.station != Station.CLOSED.value).order_by(t.trials.c.id)
        with self._reading() as connection:
            return self._with_records(connection, list(connection.execute(query).mappings()))

    def newest_trial(self) -> Trial | None:
        """The trial that was begun last, on any rig."""
        query = self._trial_query().order_by(t.trials.c.id.desc()).limit(1)
        with self._reading() as connection:
            found = self._with_records(connection, list(connection.execute(query).mappings()))
        return found[0] if found else None

    @staticmethod
    def _trial_query() -> Any:
        return (
            select(
                t.trials,
                t.rigs.c.name.label("rig"),
                t.heartbeats.c.elapsed_s.label("beat_elapsed_s"),
                t.heartbeats.c.boot_id.label("beat_boot_id"),
                t.heartbeats.c.at_utc.label("beat_at_utc"),
            )
            .join(t.rigs, t.rigs.c.id == t.trials.c.rig_id)
            .join(t.heartbeats, t.heartbeats.c.trial_id == t.trials.c.id, isouter=True)
        )

    def _trial(self, connection: Connection, trial_id: int) -> Trial:
        row = connection.execute(self._trial_query().where(t.trials.c.id == trial_id)).mappings().one()
        found = self._with_records(connection, [row])
        if not found:
            raise BookError(f"Trial {trial_id} of the book {self.place} cannot be read: {self.unread}.")
        return found[0]

    def _with_records(self, connection: Connection, rows: Sequence[RowMapping]) -> tuple[Trial, ...]:
        if not rows:
            return ()
        standing = (
            select(t.records)
            .where(t.records.c.trial_id.between(rows[0]["id"], rows[-1]["id"]))
            .order_by(t.records.c.id)
        )
        entered = set(
            connection.execute(
                select(t.moves.c.trial_id).where(
                    t.moves.c.move == Move.ENTERED.value,
                    t.moves.c.trial_id.between(rows[0]["id"], rows[-1]["id"]),
                )
            ).scalars()
        )
        latest: dict[int, RowMapping] = {}
        known_s: dict[int, float] = {}

        def take(record: RowMapping) -> None:
            ran_s = max(known_s.get(record["trial_id"], 0.0), float(record["elapsed_s"]))
            known_s[record["trial_id"]] = ran_s
            if record["undone_utc"] is None:
                latest[record["trial_id"]] = record

        self._readable("record", connection.execute(standing).mappings(), take)
        return self._readable(
            "trial",
            rows,
            lambda row: _trial_of(row, latest.get(row["id"]), known_s.get(row["id"], 0.0), row["id"] in entered),
        )

    # -- climbs ----------------------------------------

    def begin_climb(self, plan: ClimbPlan, clock: Clock) -> ClimbPlan:
        """Commit that a climb begins; gives it with its id."""
        with self._writing() as connection:
            key = connection.execute(
                insert(t.climbs).values(
                    rig_id=self._rig_id(connection, plan.rig),
                    bench=plan.bench.value,
                    knob=plan.knob,
                    base=setpoint_to_json(plan.base),
                    load=plan_to_json(plan.load),
                    strategy=plan.strategy,
                    reason=plan.reason,
                    begun_utc=clock.utc(),
                )
            ).inserted_primary_key
            assert key is not None
            return replace(plan, id=int(key[0]))

    def end_climb(self, climb_id: int, reason: str, clock: Clock) -> None:
        """Commit that a climb came to its advice."""
        with self._writing() as connection:
            connection.execute(
                update(t.climbs).where(t.climbs.c.id == climb_id).values(ended_utc=clock.utc(), ended_why=reason)
            )

    def reopen_climb(self, climb_id: int) -> None:
        """The climb goes on after all: a record on it was undone."""
        with self._writing() as connection:
            connection.execute(update(t.climbs).where(t.climbs.c.id == climb_id).values(ended_utc=None, ended_why=""))

    def climbs(self, rig: str) -> tuple[ClimbPlan, ...]:
        """All climbs of a rig, oldest first."""
        query = (
            select(t.climbs, t.rigs.c.name.label("rig"))
            .join(t.rigs, t.rigs.c.id == t.climbs.c.rig_id)
            .where(t.rigs.c.name == rig)
            .order_by(t.climbs.c.id)
        )
        with self._reading() as connection:
            return self._readable("climb", connection.execute(query).mappings(), _climb_of)

    # -- log ----------------------------------------

    def log(
        self, rig: str, trial_id: int | None, source: str, text: str, clock: Clock, said: Said | None = None
    ) -> None:
        """One line for the merged log; with what was said at a time of the load, when it is about that."""
        with self._writing() as connection:
            connection.execute(
                insert(t.log).values(
                    rig_id=self._rig_id(connection, rig),
                    trial_id=trial_id,
                    source=source,
                    text=text,
                    at_utc=clock.utc(),
                    load_s=said.at_s if said else None,
                    alarm=said.alarm.value if said else None,
                )
            )

    def log_lines(
        self, rig: str, most: int = 200, trial_id: int | None = None
    ) -> tuple[tuple[datetime, str, str], ...]:
        """The newest lines of a rig's log, or of one trial's, as (instant, source, text), oldest first."""
        query = (
            select(t.log.c.id, t.log.c.at_utc, t.log.c.source, t.log.c.text)
            .join(t.rigs, t.rigs.c.id == t.log.c.rig_id)
            .where(t.rigs.c.name == rig)
            .order_by(t.log.c.id.desc())
            .limit(most)
        )
        if trial_id is not None:
            query = query.where(t.log.c.trial_id == trial_id)
        with self._reading() as connection:
            rows = connection.execute(query).mappings().all()
            return self._readable(
                "log line", reversed(rows), lambda row: (as_utc(row["at_utc"]), str(row["source"]), str(row["text"]))
            )


def _number(value: object) -> int:
    """A number that counts from 1.

    Raises:
        ValueError: it is none.
    """
    if not isinstance(value, int) or value < 1:
        raise ValueError(f"no number: {value!r}")
    return value


def _seconds(value: object) -> float:
    """A time that was kept.

    Raises:
        ValueError: it is none.
    """
    seconds = float(str(value))
    if not 0 <= seconds < MOST_SECONDS:
        raise ValueError(f"no time: {value!r}")
    return seconds


def _rig_of(row: RowMapping) -> Rig:
    rig = rig_from_json(row["data"])
    if rig.name != row["name"]:
        raise ValueError(f"it is called {row['name']!r} in one place and {rig.name!r} in the other")
    return rig


def _climb_of(row: RowMapping) -> ClimbPlan:
    return ClimbPlan(
        id=row["id"],
        rig=row["rig"],
        bench=BenchKind(row["bench"]),
        knob=str(row["knob"]),
        base=setpoint_from_json(row["base"]),
        load=plan_from_json(row["load"]),
        strategy=row["strategy"],
        reason=str(row["reason"]),
        ended=row["ended_utc"] is not None,
    )


def _trial_of(row: RowMapping, record: RowMapping | None, known_s: float, entered: bool) -> Trial:
    beat = None
    if row["beat_elapsed_s"] is not None:
        beat = Heartbeat(float(row["beat_elapsed_s"]), str(row["beat_boot_id"]), as_utc(row["beat_at_utc"]))
    return Trial(
        id=row["id"],
        number=_number(row["number"]),
        rig=row["rig"],
        bench=BenchKind(row["bench"]),
        setpoint=setpoint_from_json(row["setpoint"]),
        plan=plan_from_json(row["load"]),
        station=Station(row["station"]),
        begun_utc=as_utc(row["begun_utc"]),
        boot_id=row["boot_id"],
        climb_id=row["climb_id"],
        outcome=Outcome(record["outcome"]) if record else None,
        elapsed_s=_seconds(record["elapsed_s"]) if record else max(known_s, beat.elapsed_s if beat else 0.0),
        failed_after_s=None if not record or record["failed_after_s"] is None else _seconds(record["failed_after_s"]),
        errors=int(record["errors"]) if record else 0,
        heartbeat=beat,
        note=str(row["note"]),
        reason=str(row["reason"]),
        seen_by=str(record["seen_by"]) if record else "",
        entered=entered,
        covered=tuple((LoadKind(kind), part) for kind, part in ((record["covered"] if record else None) or {}).items()),
    )
