"""The store: every write is one transaction that is on the disk when the call returns."""

import errno
import sqlite3
import zlib
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import replace
from datetime import datetime
from typing import Any

from sqlalchemy import Connection, Engine, RowMapping, func, insert, select, update
from sqlalchemy.exc import SQLAlchemyError

from tenaz.core.climbs import ClimbPlan
from tenaz.core.errors import BookError, Refused
from tenaz.core.loading import LoadPlan, Mismatch, MismatchKind
from tenaz.core.loop import Move, Station, after
from tenaz.core.outcomes import Outcome
from tenaz.core.ports import Clock, Step
from tenaz.core.rigs import BenchKind, Rig
from tenaz.core.setpoints import Setpoint
from tenaz.core.telemetry import Sensor, SensorKind
from tenaz.core.trace import TraceChunk
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


def book_trouble(place: str, error: Exception) -> BookError:
    """Say what happened to the book and what to do, from what the database said."""
    cause = getattr(error, "orig", None) or error
    text = str(cause)
    code = getattr(cause, "sqlite_errorcode", None)
    full = code == sqlite3.SQLITE_FULL or getattr(cause, "errno", None) == errno.ENOSPC or "disk is full" in text
    if full:
        return BookError(
            f"The book {place} could not be written: the disk is full. Everything written before is kept; make room "
            f"and go on."
        )
    if "not a database" in text or "malformed" in text:
        return BookError(
            f"{place} cannot be read as a book ({text}). It was not touched; name another with --book, or restore "
            f"it from a copy."
        )
    if "locked" in text:
        return BookError(f"The book {place} is held by another program ({text}). Close that, then try again.")
    if "readonly" in text or "read-only" in text or "unable to open" in text:
        return BookError(
            f"The book {place} cannot be opened for writing ({text}). Check its folder's permissions, or name "
            f"another with --book."
        )
    return BookError(f"The book {place} could not be read or written: {text}.")


class Store:
    """The book, open. With ``read_only`` (why, as text) every write is refused."""

    def __init__(self, engine: Engine, place: str, read_only: str = "") -> None:
        self._engine = engine
        self.place = place
        self.read_only = read_only

    def close(self) -> None:
        """Let go of the database."""
        self._engine.dispose()

    @contextmanager
    def _writing(self) -> Iterator[Connection]:
        if self.read_only:
            raise BookError(f"Nothing can be written: {self.read_only}")
        try:
            with self._engine.begin() as connection:
                yield connection
        except (SQLAlchemyError, OSError) as error:
            raise book_trouble(self.place, error) from error

    @contextmanager
    def _reading(self) -> Iterator[Connection]:
        try:
            with self._engine.connect() as connection:
                yield connection
        except SQLAlchemyError as error:
            raise book_trouble(self.place, error) from error

    # -- rigs ----------------------------------------

    def rigs(self) -> tuple[Rig, ...]:
        """All rigs, in the order in which they came."""
        with self._reading() as connection:
            rows = connection.execute(select(t.rigs.c.data).order_by(t.rigs.c.id)).scalars()
            return tuple(rig_from_json(data) for data in rows)

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

    @staticmethod
    def _rig_id(connection: Connection, name: str) -> int:
        return int(connection.execute(select(t.rigs.c.id).where(t.rigs.c.name == name)).scalar_one())

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

    def heartbeat(self, trial_id: int, beat: Heartbeat) -> None:
        """Commit a sign of life under load."""
        values = {"elapsed_s": beat.elapsed_s, "boot_id": beat.boot_id, "at_utc": beat.at_utc}
        with self._writing() as connection:
            changed = connection.execute(
                update(t.heartbeats).where(t.heartbeats.c.trial_id == trial_id).values(**values)
            )
            if changed.rowcount == 0:
                connection.execute(insert(t.heartbeats).values(trial_id=trial_id, **values))

    def mismatches(self, trial_id: int, found: Sequence[Mismatch]) -> None:
        """Keep wrong values in full."""
        rows = [
            {
                "trial_id": trial_id,
                "worker": one.worker,
                "at_s": one.at_s,
                "lap": one.lap,
                "address": f"{one.address:016x}",
                "expected": f"{one.expected:016x}",
                "read": f"{one.read:016x}",
                "read_again": f"{one.read_again:016x}",
                "kind": one.kind.value,
                "place": one.where,
            }
            for one in found
        ]
        if rows:
            with self._writing() as connection:
                connection.execute(insert(t.mismatches), rows)

    def mismatches_of(self, trial_id: int) -> tuple[Mismatch, ...]:
        """The wrong values of a trial, in the order found."""
        query = select(t.mismatches).where(t.mismatches.c.trial_id == trial_id).order_by(t.mismatches.c.id)
        with self._reading() as connection:
            return tuple(
                Mismatch(
                    worker=row["worker"],
                    at_s=row["at_s"],
                    lap=row["lap"],
                    address=int(row["address"], 16),
                    expected=int(row["expected"], 16),
                    read=int(row["read"], 16),
                    read_again=int(row["read_again"], 16),
                    kind=MismatchKind(row["kind"]),
                    where=row["place"],
                )
                for row in connection.execute(query).mappings()
            )

    def trace(self, trial_id: int, chunk: TraceChunk) -> None:
        """Keep a stretch of telemetry."""
        sensors = [[sensor.id, sensor.label, sensor.kind.value] for sensor in chunk.sensors]
        with self._writing() as connection:
            connection.execute(
                insert(t.traces).values(trial_id=trial_id, sensors=sensors, samples=chunk.samples, packed=chunk.packed)
            )

    def traces_of(self, trial_id: int) -> tuple[TraceChunk, ...]:
        """The telemetry of a trial, oldest stretch first."""
        query = select(t.traces).where(t.traces.c.trial_id == trial_id).order_by(t.traces.c.id)
        with self._reading() as connection:
            return tuple(
                TraceChunk(
                    tuple(Sensor(key, label, SensorKind(kind)) for key, label, kind in row["sensors"]),
                    row["samples"],
                    row["packed"],
                )
                for row in connection.execute(query).mappings()
            )

    def put_snapshot(self, trial_id: int, text: str, svg: str, clock: Clock) -> None:
        """Keep what the screen showed when a trial's run ended, as text and as a picture."""
        values = {"text": text, "svg_packed": zlib.compress(svg.encode()), "at_utc": clock.utc()}
        with self._writing() as connection:
            changed = connection.execute(update(t.snapshots).where(t.snapshots.c.trial_id == trial_id).values(**values))
            if changed.rowcount == 0:
                connection.execute(insert(t.snapshots).values(trial_id=trial_id, **values))

    def snapshot(self, trial_id: int) -> tuple[str, str] | None:
        """What the screen showed when the trial's run ended, as (text, SVG); None when nobody had a screen."""
        query = select(t.snapshots).where(t.snapshots.c.trial_id == trial_id)
        with self._reading() as connection:
            row = connection.execute(query).mappings().first()
        return None if row is None else (row["text"], zlib.decompress(row["svg_packed"]).decode())

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
                    at_utc=clock.utc(),
                )
            )
            self._move(connection, trial.id, trial.station, Step(Move.JUDGED, outcome.value), closed, clock)
            return self._trial(connection, trial.id)

    def undo_record(self, trial: Trial, clock: Clock) -> Trial:
        """Take back the record of a closed trial; the record stays in the book, marked undone, and so does its time."""
        judged_again = after(trial.station, Move.REOPENED)
        with self._writing() as connection:
            connection.execute(
                update(t.records)
                .where(t.records.c.trial_id == trial.id, t.records.c.undone_utc.is_(None))
                .values(undone_utc=clock.utc())
            )
            self._move(connection, trial.id, trial.station, Step(Move.REOPENED), judged_again, clock)
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
        return self._with_records(connection, [row])[0]

    @staticmethod
    def _with_records(connection: Connection, rows: Sequence[RowMapping]) -> tuple[Trial, ...]:
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
        for record in connection.execute(standing).mappings():
            known_s[record["trial_id"]] = max(known_s.get(record["trial_id"], 0.0), record["elapsed_s"])
            if record["undone_utc"] is None:
                latest[record["trial_id"]] = record
        return tuple(
            _trial_of(row, latest.get(row["id"]), known_s.get(row["id"], 0.0), row["id"] in entered) for row in rows
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
            return tuple(
                ClimbPlan(
                    id=row["id"],
                    rig=row["rig"],
                    bench=BenchKind(row["bench"]),
                    knob=row["knob"],
                    base=setpoint_from_json(row["base"]),
                    load=plan_from_json(row["load"]),
                    strategy=row["strategy"],
                    reason=row["reason"],
                    ended=row["ended_utc"] is not None,
                )
                for row in connection.execute(query).mappings()
            )

    # -- log ----------------------------------------

    def log(self, rig: str, trial_id: int | None, source: str, text: str, clock: Clock) -> None:
        """One line for the merged log."""
        with self._writing() as connection:
            connection.execute(
                insert(t.log).values(
                    rig_id=self._rig_id(connection, rig),
                    trial_id=trial_id,
                    source=source,
                    text=text,
                    at_utc=clock.utc(),
                )
            )

    def log_lines(self, rig: str, most: int = 200) -> tuple[tuple[datetime, str, str], ...]:
        """The newest lines of a rig's log as (instant, source, text), oldest first."""
        query = (
            select(t.log.c.at_utc, t.log.c.source, t.log.c.text)
            .join(t.rigs, t.rigs.c.id == t.log.c.rig_id)
            .where(t.rigs.c.name == rig)
            .order_by(t.log.c.id.desc())
            .limit(most)
        )
        with self._reading() as connection:
            rows = connection.execute(query).all()
        return tuple((as_utc(row[0]), row[1], row[2]) for row in reversed(rows))


def _trial_of(row: RowMapping, record: RowMapping | None, known_s: float, entered: bool) -> Trial:
    beat = None
    if row["beat_elapsed_s"] is not None:
        beat = Heartbeat(row["beat_elapsed_s"], row["beat_boot_id"], as_utc(row["beat_at_utc"]))
    return Trial(
        id=row["id"],
        number=row["number"],
        rig=row["rig"],
        bench=BenchKind(row["bench"]),
        setpoint=setpoint_from_json(row["setpoint"]),
        plan=plan_from_json(row["load"]),
        station=Station(row["station"]),
        begun_utc=as_utc(row["begun_utc"]),
        boot_id=row["boot_id"],
        climb_id=row["climb_id"],
        outcome=Outcome(record["outcome"]) if record else None,
        elapsed_s=record["elapsed_s"] if record else max(known_s, beat.elapsed_s if beat else 0.0),
        failed_after_s=record["failed_after_s"] if record else None,
        errors=record["errors"] if record else 0,
        heartbeat=beat,
        note=row["note"],
        reason=row["reason"],
        seen_by=record["seen_by"] if record else "",
        entered=entered,
    )
