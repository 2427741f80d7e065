"""The trials of the book: begun, moved along the loop, recorded, undone; and read again."""

from collections.abc import Iterator, Sequence

from sqlalchemy import case, func, insert, or_, select, update

from tenaz.core.base.loop import REOPENED_AT, Move, Station, after
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.knobs.readings import Reading, in_force_by, sources_of
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.parts.acts import CLEARS
from tenaz.core.ports.bench import Clock, StationReport
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.trials.alike import LATE_H, Alike
from tenaz.core.trials.facts import NO_FACTS, LoadFacts
from tenaz.core.trials.in_force import cleared, left_values
from tenaz.core.trials.narrowing import Narrow
from tenaz.core.trials.trial import Trial
from tenaz.journal.base import tables as t
from tenaz.journal.base.database import Database
from tenaz.journal.base.moving import changed, grids_hold, held_rig, last_number, moved, one_of, undo_records
from tenaz.journal.base.sides import side_of
from tenaz.journal.trials.gathering import gather
from tenaz.journal.trials.narrowing import condition_of
from tenaz.journal.trials.rows import needed

PAGE = 500
"""Trials that are read at once where all of them are gone through."""

LOOKED_BACK = 20
"""Trials that are read at once where the newest of some kind is looked for."""


class Trials:
    """Every write is one transaction that is on the disk when the call returns."""

    def __init__(self, database: Database) -> None:
        self._database = database

    # -- written ----------------------------------------

    def begin(
        self,
        rig: Rig,
        bench: BenchKind,
        setpoint: Setpoint,
        plan: LoadPlan,
        clock: Clock,
        search_id: int | None = None,
        reason: str = "",
    ) -> Trial:
        """Commit that a trial begins, before anything is set or loaded."""
        with self._database.writing() as connection:
            rig_id, last = held_rig(connection, rig.name)
            if rig.holding(setpoint) is not rig:
                grids_hold(connection, rig_id, setpoint)
            trial_id = connection.execute(
                insert(t.trials).values(
                    rig_id=rig_id,
                    number=last + 1,
                    search_id=search_id,
                    bench=bench.value,
                    setpoint=setpoint,
                    fitted=rig.fitted,
                    load=plan,
                    station=Station.SET.value,
                    begun_utc=clock.utc(),
                    boot_id=clock.boot_id(),
                    reason=reason,
                )
            ).inserted_primary_key
            assert trial_id is not None
            changed(connection, int(trial_id[0]))
            return one_of(self._database, connection, int(trial_id[0]))

    def move(self, trial: Trial, report: StationReport, clock: Clock, readings: Sequence[Reading] = ()) -> Trial:
        """Commit a move along the loop, with what was read where it was looked; refuses a move that the table does not
        hold.
        """
        station = after(trial.station, report.move)
        with self._database.writing() as connection:
            if readings:
                connection.execute(
                    insert(t.readings).values(trial_id=trial.id, data=tuple(readings), at_utc=clock.utc())
                )
                in_force = in_force_by(trial.asked, readings)
                if in_force != trial.asked:
                    grids_hold(connection, self._database.rig_id(connection, trial.rig), in_force)
                connection.execute(
                    update(t.trials)
                    .where(t.trials.c.id == trial.id)
                    .values(
                        in_force=None if in_force == trial.asked else in_force,
                        sources=sources_of(readings),
                    )
                )
            moved(connection, trial, report, station, clock)
            return one_of(self._database, connection, trial.id)

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
        facts: LoadFacts = NO_FACTS,
    ) -> Trial:
        """Record how a trial at station judge ended, with what its load really did, and close it."""
        closed = after(trial.station, Move.JUDGED)
        with self._database.writing() as connection:
            connection.execute(
                insert(t.records).values(
                    trial_id=trial.id,
                    outcome=outcome.value,
                    seen_by=seen_by,
                    elapsed_s=elapsed_s,
                    failed_after_s=failed_after_s,
                    errors=errors,
                    detail=detail,
                    facts=facts,
                    at_utc=clock.utc(),
                )
            )
            moved(connection, trial, StationReport(Move.JUDGED, outcome.value), closed, clock)
            return one_of(self._database, connection, trial.id)

    def undo(self, trial: Trial, clock: Clock) -> Trial:
        """Take back the record of a closed trial; the record stays in the book, marked undone, and so does its time.

        A trial whose load nobody of ours watched, and that never came to it, goes back to the station at which that was
        said; every other one waits at judge for another record.
        """
        with self._database.writing() as connection:
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
            move = REOPENED_AT.get(left, Move.REOPENED) if not trial.bench.traits.watches_load else Move.REOPENED
            undo_records(connection, trial.id, clock)
            moved(connection, trial, StationReport(move), after(trial.station, move), clock)
            return one_of(self._database, connection, trial.id)

    def record_again(self, trial: Trial, clock: Clock) -> Trial:
        """The record of a trial that was undone last, added once more; what was measured is as it was."""
        judge = trial.station if trial.station is Station.JUDGE else after(trial.station, Move.STOP)
        with self._database.writing() as connection:
            if trial.station is not judge:
                moved(connection, trial, StationReport(Move.STOP, "as it was told before"), judge, clock)
                trial = one_of(self._database, connection, trial.id)
            newest = select(t.records).where(t.records.c.trial_id == trial.id).order_by(t.records.c.id.desc()).limit(1)
            said = dict(connection.execute(newest).mappings().one())
            for name in ("id", "uid"):
                del said[name]
            connection.execute(insert(t.records).values(**said | {"undone_utc": None, "at_utc": clock.utc()}))
            closed = after(judge, Move.JUDGED)
            moved(connection, trial, StationReport(Move.JUDGED, said["outcome"]), closed, clock)
            return one_of(self._database, connection, trial.id)

    def note(self, trial_id: int, text: str) -> None:
        """Put a note on a trial, in place of the one it had."""
        with self._database.writing() as connection:
            connection.execute(update(t.trials).where(t.trials.c.id == trial_id).values(note=text))
            changed(connection, trial_id)

    # -- read ----------------------------------------

    def of(self, rig: str) -> tuple[Trial, ...]:
        """All trials of a rig, oldest first."""
        with self._database.reading() as connection:
            return gather(self._database, connection, t.trials.c.rig_id == self._database.rig_id(connection, rig))

    def numbered(self, rig: str, first: int, last: int) -> tuple[Trial, ...]:
        """The trials of a rig from one number to another, both among them, oldest first."""
        with self._database.reading() as connection:
            of_rig = t.trials.c.rig_id == self._database.rig_id(connection, rig)
            return gather(self._database, connection, of_rig & t.trials.c.number.between(first, last))

    def pages(self, rig: str) -> Iterator[tuple[Trial, ...]]:
        """All trials of a rig, oldest first, some at a time: however many there are, few are in memory."""
        for first in range(1, self.count(rig) + 1, PAGE):
            yield self.numbered(rig, first, first + PAGE - 1)

    def narrowed(self, narrow: Narrow, rigs: Sequence[str]) -> Iterator[tuple[Trial, ...]]:
        """Of some rigs, in their order, the trials of which all may be so that is looked for, oldest first, some at a
        time; of a large book little is read.
        """
        place = {name: at for at, name in enumerate(rigs)}
        query = select(t.trials.c.id, t.rigs.c.name, t.trials.c.number)
        query = query.join(t.rigs, t.rigs.c.id == t.trials.c.rig_id).where(condition_of(narrow))
        with self._database.reading() as connection:
            rows = [row for row in connection.execute(query) if row[1] in place]
        rows.sort(key=lambda row: (place[row[1]], row[2]))
        for first in range(0, len(rows), PAGE):
            wanted = {int(row[0]): at for at, row in enumerate(rows[first : first + PAGE])}
            with self._database.reading() as connection:
                found = gather(self._database, connection, t.trials.c.id.in_(list(wanted)))
            yield tuple(sorted(found, key=lambda trial: wanted[trial.id]))

    def since(self, rig: str, seen: int) -> tuple[int, tuple[Trial, ...]]:
        """The trials of a rig that changed after a change, with the newest change; all of them after none (0)."""
        with self._database.reading() as connection:
            rig_id = self._database.rig_id(connection, rig)
            newest = connection.execute(select(func.max(t.changes.c.id)).where(t.changes.c.rig_id == rig_id)).scalar()
            if seen == 0:
                return newest or -1, gather(self._database, connection, t.trials.c.rig_id == rig_id)
            after_it = (t.changes.c.rig_id == rig_id) & (t.changes.c.id > seen)
            ids = sorted(set(connection.execute(select(t.changes.c.trial_id).where(after_it)).scalars()))
            return newest or seen, gather(self._database, connection, t.trials.c.id.in_(ids)) if ids else ()

    def one(self, trial_id: int) -> Trial:
        """One trial as it stands in the book now."""
        with self._database.reading() as connection:
            return one_of(self._database, connection, trial_id)

    def unfinished(self) -> tuple[Trial, ...]:
        """Trials of all rigs that were never judged, oldest first."""
        stations = [station.value for station in Station if station is not Station.CLOSED]
        with self._database.reading() as connection:
            found = gather(self._database, connection, t.trials.c.station.in_(stations))
        return tuple(sorted(found, key=lambda trial: trial.id))

    def newest(self) -> Trial | None:
        """The trial that was begun last, on any rig."""
        with self._database.reading() as connection:
            last = connection.execute(select(func.max(t.trials.c.id))).scalar()
            found = gather(self._database, connection, t.trials.c.id == last) if last is not None else ()
        return found[0] if found else None

    def newest_of(self, rig: str) -> Trial | None:
        """The newest trial of a rig."""
        with self._database.reading() as connection:
            of_rig = t.trials.c.rig_id == self._database.rig_id(connection, rig)
            last = select(func.max(t.trials.c.number)).where(of_rig).scalar_subquery()
            found = gather(self._database, connection, of_rig & (t.trials.c.number == last))
        return found[0] if found else None

    def before(self, trial: Trial) -> Trial | None:
        """The newest trial before this one that left values in the rig, or cleared them, on the same side: simulated,
        or the rig.
        """
        return self.last_that_set(trial.rig, trial.bench, trial.number)

    def last_that_set(self, rig: str, bench: BenchKind, number: int | None = None) -> Trial | None:
        """The newest trial of a rig, before a ``number`` where one is given, that left values in it or cleared them, on
        the same side as a bench; read backwards, so that it costs no more in a book that has grown.
        """
        alike = [kind.value for kind in BenchKind if kind.real is bench.real]
        number = number if number is not None else self.count(rig) + 1
        cleared_after = self.cleared_after(rig, bench.real)
        with self._database.reading() as connection:
            of_rig = t.trials.c.rig_id == self._database.rig_id(connection, rig)
            while True:
                earlier = connection.execute(
                    select(t.trials.c.number)
                    .where(of_rig, t.trials.c.number < number, t.trials.c.bench.in_(alike))
                    .order_by(t.trials.c.number.desc())
                    .limit(LOOKED_BACK)
                ).scalars()
                numbers = list(earlier)
                if not numbers:
                    return None
                for found in reversed(gather(self._database, connection, of_rig & t.trials.c.number.in_(numbers))):
                    if found.number <= cleared_after:
                        return None
                    if cleared(found) or left_values(found):
                        return found
                number = numbers[-1]

    def cleared_after(self, rig: str, real: bool) -> int:
        """The number of the last trial before a rig's firmware was cleared by hand; 0: it never was."""
        words = or_(*(t.works.c.text.like(f"%{word}%") for word in CLEARS))
        with self._database.reading() as connection:
            mine = (t.works.c.rig_id == self._database.rig_id(connection, rig)) & (t.works.c.side == side_of(real))
            return connection.execute(select(func.max(t.works.c.after_number)).where(mine, words)).scalar() or 0

    def count(self, rig: str) -> int:
        """How many trials a rig has had."""
        with self._database.reading() as connection:
            return last_number(connection, self._database.rig_id(connection, rig))

    def shown_by(self, rigs: Sequence[str], real: bool) -> Alike:
        """For how long loads have held on some rigs, and how often they failed late; on this side: simulated, or the
        rigs.
        """
        alike = [kind.value for kind in BenchKind if kind.real is real]
        joined = t.records.join(t.trials, t.records.c.trial_id == t.trials.c.id)
        joined = joined.join(t.rigs, t.trials.c.rig_id == t.rigs.c.id)
        held = t.records.c.outcome == Outcome.HELD.value
        fails = [one.value for one in Outcome if one.verdict is Verdict.FAIL]
        late = t.records.c.outcome.in_(fails) & (t.records.c.elapsed_s >= LATE_H * 3600)
        clean_s = func.sum(case((held, t.records.c.elapsed_s), else_=0.0))
        query = select(clean_s, func.sum(case((late, 1), else_=0))).select_from(joined)
        query = query.where(
            t.rigs.c.name.in_(rigs), t.trials.c.bench.in_(alike), t.records.c.undone_utc.is_(None)
        )  # fmt: skip
        with self._database.reading() as connection:
            seconds, failures = connection.execute(query).one()
            return Alike(float(seconds or 0.0) / 3600, int(failures or 0))

    def readings_of(self, trial_id: int) -> tuple[tuple[Reading, ...], ...]:
        """What was read at each confirmation of a trial, in order."""
        query = select(t.readings).where(t.readings.c.trial_id == trial_id).order_by(t.readings.c.id)
        with self._database.reading() as connection:
            rows = connection.execute(query).mappings()
            return self._database.readable("reading", rows, lambda row: needed(row["data"]))
