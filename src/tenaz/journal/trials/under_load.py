"""What the book keeps of a load: signs of life, wrong values, events, telemetry, and what the screen showed."""

import zlib
from collections.abc import Sequence

from sqlalchemy import RowMapping, insert, select

from tenaz.core.loads.plan import LoadKind, Mismatch, MismatchKind, WorkerProgress
from tenaz.core.machine.physical_memory import Laid
from tenaz.core.ports.bench import Clock
from tenaz.core.sensors.guard import Said
from tenaz.core.sensors.last_seconds import LastSeconds
from tenaz.core.sensors.telemetry import Guards, Sample, Sensor, SensorKind
from tenaz.core.sensors.trace import TraceChunk, check, unpack
from tenaz.core.trials.trial import Heartbeat, Trial
from tenaz.journal.base import tables as t
from tenaz.journal.base.codec import (
    laid_from_bytes,
    laid_to_bytes,
    lanes_from_json,
    lanes_to_json,
    last_seconds_from_bytes,
    last_seconds_to_bytes,
)
from tenaz.journal.base.database import Database
from tenaz.journal.kept.log import log_row

_BEAT = t.heartbeats.c.trial_id == t.laid.c.trial_id


class UnderLoad:
    """The part of the book that is written while a load runs."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def heartbeat(self, trial_id: int, beat: Heartbeat, lanes: Sequence[WorkerProgress] = ()) -> None:
        """Commit a sign of life under load, with what each worker had come to by then."""
        values = {
            "elapsed_s": beat.elapsed_s,
            "boot_id": beat.boot_id,
            "at_utc": beat.at_utc,
            "lanes": lanes_to_json(lanes),
        }
        with self._database.writing() as connection:
            self._database.put(connection, t.heartbeats, {"trial_id": trial_id}, values)

    def lanes_of(self, trial_id: int) -> tuple[WorkerProgress, ...]:
        """What each worker of a trial had come to at its last sign of life; none when nobody wrote it down."""
        query = select(t.heartbeats.c.trial_id, t.heartbeats.c.lanes).where(t.heartbeats.c.trial_id == trial_id)
        with self._database.reading() as connection:
            rows = connection.execute(query).mappings()
            found = self._database.readable("lanes of trial", rows, lambda row: lanes_from_json(row["lanes"] or []))
        return found[0] if found else ()

    def laid(self, trial_id: int, laid: Laid) -> None:
        """Keep in which physical memory a load lies."""
        with self._database.writing() as connection:
            self._database.put(connection, t.laid, {"trial_id": trial_id}, {"packed": laid_to_bytes(laid)})

    def laid_of(self, rig: str, after_number: int = 0) -> tuple[tuple[Laid, tuple[float, ...]], ...]:
        """Where the loads of a rig's trials after some number lay, oldest first, each with the laps that its workers
        had done by their last sign of life.
        """
        query = (
            select(t.laid.c.trial_id, t.laid.c.packed, t.heartbeats.c.lanes)
            .select_from(t.laid.join(t.trials).join(t.rigs).join(t.heartbeats, isouter=True, onclause=_BEAT))
            .where(t.rigs.c.name == rig, t.trials.c.number > after_number)
            .order_by(t.laid.c.trial_id)
        )
        with self._database.reading() as connection:
            rows = connection.execute(query).mappings()
            return self._database.readable("memory of trial", rows, _laid_of)

    def wrong_places(self, rig: str, after_number: int = 0) -> tuple[int, ...]:
        """The physical addresses at which loads of a rig, after some trial, found something wrong; lowest first."""
        query = (
            select(t.mismatches.c.physical)
            .select_from(t.mismatches.join(t.trials).join(t.rigs))
            .where(t.rigs.c.name == rig, t.trials.c.number > after_number, t.mismatches.c.physical.is_not(None))
            .distinct()
        )
        with self._database.reading() as connection:
            rows = connection.execute(query).mappings()
            return tuple(sorted(self._database.readable("wrong value", rows, lambda row: int(row["physical"], 16))))

    def wrong(self, trial: Trial, found: Sequence[Mismatch], lines: Sequence[tuple[str, Said]], clock: Clock) -> None:
        """Keep wrong values in full, and what is said of each (source and words), in one commit."""
        with self._database.writing() as connection:
            if found:
                connection.execute(insert(t.mismatches), [_mismatch_row(trial.id, one) for one in found])
            if lines:
                rig_id = self._database.rig_id(connection, trial.rig)
                told = [log_row(rig_id, trial.id, source, said.show(), clock, said) for source, said in lines]
                connection.execute(insert(t.log), told)

    def mismatches_of_all(self, trial_ids: Sequence[int]) -> dict[int, list[Mismatch]]:
        """The wrong values of several trials, each in the order found."""
        query = select(t.mismatches).where(t.mismatches.c.trial_id.in_(trial_ids)).order_by(t.mismatches.c.id)
        found: dict[int, list[Mismatch]] = {}
        with self._database.reading() as connection:
            rows = connection.execute(query).mappings()
            for trial_id, one in self._database.readable(
                "wrong value", rows, lambda r: (r["trial_id"], _mismatch_of(r))
            ):
                found.setdefault(trial_id, []).append(one)
        return found

    def mismatches_of(self, trial_id: int) -> tuple[Mismatch, ...]:
        """The wrong values of a trial, in the order found."""
        query = select(t.mismatches).where(t.mismatches.c.trial_id == trial_id).order_by(t.mismatches.c.id)
        with self._database.reading() as connection:
            return self._database.readable("wrong value", connection.execute(query).mappings(), _mismatch_of)

    def trace(self, trial_id: int, chunk: TraceChunk) -> None:
        """Keep a stretch of telemetry."""
        sensors = [[sensor.id, sensor.label, sensor.kind.value, sensor.guards] for sensor in chunk.sensors]
        with self._database.writing() as connection:
            connection.execute(
                insert(t.traces).values(trial_id=trial_id, sensors=sensors, samples=chunk.samples, packed=chunk.packed)
            )

    def traces_of(self, trial_id: int) -> tuple[TraceChunk, ...]:
        """The telemetry of a trial, oldest stretch first."""
        query = select(t.traces).where(t.traces.c.trial_id == trial_id).order_by(t.traces.c.id)
        with self._database.reading() as connection:
            return self._database.readable("telemetry", connection.execute(query).mappings(), chunk_of)

    def samples_of(self, trial_id: int) -> tuple[Sample, ...]:
        """The telemetry of a trial, sample by sample; of the sensors that were watched last."""
        chunks = self.traces_of(trial_id)
        return tuple(sample for chunk in chunks if chunk.sensors == chunks[-1].sensors for sample in unpack(chunk))

    def last_seconds(self, trial_id: int, seconds: LastSeconds) -> None:
        """Keep what was heard of a machine just before it went."""
        with self._database.writing() as connection:
            packed = last_seconds_to_bytes(seconds)
            self._database.put(connection, t.last_seconds, {"trial_id": trial_id}, {"packed": packed})

    def last_seconds_of(self, trial_id: int) -> LastSeconds | None:
        """What was heard of a machine just before it went, in this trial; None: it did not go, or nobody heard."""
        query = select(t.last_seconds).where(t.last_seconds.c.trial_id == trial_id)
        with self._database.reading() as connection:
            rows = connection.execute(query).mappings()
            found = self._database.readable(
                "last seconds of trial", rows, lambda row: last_seconds_from_bytes(row["packed"])
            )
        return found[0] if found else None

    def put_snapshot(self, trial_id: int, text: str, svg: str, clock: Clock) -> None:
        """Keep what there was to see of a trial when it ended, as text and as a picture."""
        values = {"text": text, "svg_packed": zlib.compress(svg.encode()), "at_utc": clock.utc()}
        with self._database.writing() as connection:
            self._database.put(connection, t.snapshots, {"trial_id": trial_id}, values)

    def snapshot(self, trial_id: int) -> tuple[str, str] | None:
        """What there was to see of a trial when it ended, as (text, SVG); None: nothing was kept."""
        query = select(t.snapshots).where(t.snapshots.c.trial_id == trial_id)
        with self._database.reading() as connection:
            rows = connection.execute(query).mappings()
            found = self._database.readable(
                "picture of trial", rows, lambda row: (str(row["text"]), zlib.decompress(row["svg_packed"]).decode())
            )
        return found[0] if found else None


def _mismatch_row(trial_id: int, one: Mismatch) -> dict[str, object]:
    return {
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
        "physical": None if one.physical is None else f"{one.physical:016x}",
        "temperature_c": one.temperature_c,
        "load": one.load.value if one.load else None,
        "core": one.core,
        "card": one.card,
        "drawn": one.drawn,
    }


def _mismatch_of(row: RowMapping) -> Mismatch:
    return Mismatch(
        worker=int(row["worker"]),
        at_s=float(row["at_s"]),
        lap=int(row["lap"]),
        address=int(row["address"], 16),
        expected=int(row["expected"], 16),
        read=int(row["read"], 16),
        read_again=int(row["read_again"], 16),
        kind=MismatchKind(row["kind"]),
        where=str(row["place"]),
        physical=int(row["physical"], 16) if row["physical"] else None,
        temperature_c=None if row["temperature_c"] is None else float(row["temperature_c"]),
        load=LoadKind(row["load"]) if row["load"] else None,
        core=None if row["core"] is None else int(row["core"]),
        card=None if row["card"] is None else int(row["card"]),
        drawn=row["drawn"],
    )


def _laid_of(row: RowMapping) -> tuple[Laid, tuple[float, ...]]:
    return laid_from_bytes(row["packed"]), tuple(lane.laps for lane in lanes_from_json(row["lanes"] or []))


def chunk_of(row: RowMapping) -> TraceChunk:
    """A stretch of telemetry from its row.

    Raises:
        ValueError: bytes that no packing made.
    """
    chunk = TraceChunk(
        tuple(_sensor(*told) for told in row["sensors"]),
        int(row["samples"]),
        row["packed"],
    )
    check(chunk)
    return chunk


def _sensor(key: str, label: str, kind: str, part: str | None = None) -> Sensor:
    """A sensor as it is kept; older ones do not say what they guard."""
    return Sensor(str(key), str(label), SensorKind(kind), None if part is None else Guards(part))
