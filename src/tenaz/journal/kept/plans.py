"""The plans of the book: trials to come, and the runs in which they were made."""

from collections.abc import Sequence
from datetime import datetime

from sqlalchemy import ColumnElement, Connection, RowMapping, delete, func, insert, select, update

from tenaz.core.ports.bench import Clock
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.searches.plans import Planned, PlanRun, PlanState, StopRule, parse_rule
from tenaz.journal.base import tables as t
from tenaz.journal.base.codec import as_utc
from tenaz.journal.base.database import Database
from tenaz.journal.base.moving import last_number
from tenaz.journal.trials.rows import needed


class Plans:
    """One plan a rig and a bench. Every write is on the disk when the call returns."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def add(self, rig: str, bench: BenchKind, planned: Sequence[Planned], clock: Clock) -> tuple[int, ...]:
        """Put trials at the plan's end; gives their ids."""
        with self._database.writing() as connection:
            mine = self._mine(connection, rig, bench)
            last = connection.execute(select(func.max(t.planned.c.place)).where(mine)).scalar() or 0
            ids = []
            for place, one in enumerate(planned, last + 1):
                key = connection.execute(
                    insert(t.planned).values(
                        rig_id=self._database.rig_id(connection, rig),
                        bench=bench.value,
                        place=place,
                        setpoint=one.setpoint,
                        load=one.load,
                        why=one.why,
                        search_id=one.search_id,
                        state=PlanState.WAITING.value,
                        at_utc=clock.utc(),
                    )
                ).inserted_primary_key
                assert key is not None
                ids.append(int(key[0]))
            return tuple(ids)

    def waiting(self, rig: str, bench: BenchKind) -> tuple[Planned, ...]:
        """What is still to come, in its order."""
        with self._database.reading() as connection:
            mine = self._mine(connection, rig, bench) & (t.planned.c.state == PlanState.WAITING.value)
            rows = connection.execute(select(t.planned).where(mine).order_by(t.planned.c.place)).mappings()
            return self._database.readable("planned trial", rows, _planned)

    def move(self, rig: str, bench: BenchKind, planned_id: int, step: int) -> None:
        """Move a waiting trial up (−1) or down (1) by one; at the end it stays."""
        ids = [one.id for one in self.waiting(rig, bench)]
        if planned_id not in ids or not 0 <= (at := ids.index(planned_id)) + step < len(ids):
            return
        with self._database.writing() as connection:
            pair = {ids[at], ids[at + step]}
            rows = connection.execute(select(t.planned.c.id, t.planned.c.place).where(t.planned.c.id.in_(pair))).all()
            (one, here), (other, there) = rows
            for key, place in ((one, there), (other, here)):
                connection.execute(update(t.planned).where(t.planned.c.id == key).values(place=place))

    def becomes(self, planned_id: int, state: PlanState, trial_id: int | None = None) -> None:
        """What became of a planned trial."""
        with self._database.writing() as connection:
            connection.execute(
                update(t.planned).where(t.planned.c.id == planned_id).values(state=state.value, trial_id=trial_id)
            )

    def take_out(self, ids: Sequence[int]) -> None:
        """Take trials out of the plan as if they had never been put there."""
        with self._database.writing() as connection:
            connection.execute(delete(t.planned).where(t.planned.c.id.in_(ids)))

    # -- runs ----------------------------------------

    def begin_run(self, rig: str, bench: BenchKind, rule: StopRule, clock: Clock) -> PlanRun:
        """Commit that the plan begins to run."""
        begun = clock.utc()
        with self._database.writing() as connection:
            rig_id = self._database.rig_id(connection, rig)
            first = last_number(connection, rig_id) + 1
            key = connection.execute(
                insert(t.plan_runs).values(
                    rig_id=rig_id,
                    bench=bench.value,
                    from_number=first,
                    rule=rule.show(),
                    begun_utc=begun,
                    ended_why="",
                )
            ).inserted_primary_key
            assert key is not None
            return PlanRun(int(key[0]), first, rule, begun)

    def end_run(self, run_id: int, why: str, at_utc: datetime) -> None:
        """Commit that a run ended, and why."""
        with self._database.writing() as connection:
            connection.execute(
                update(t.plan_runs).where(t.plan_runs.c.id == run_id).values(ended_utc=at_utc, ended_why=why)
            )

    def newest_run(self, rig: str, bench: BenchKind) -> PlanRun | None:
        """The run of the plan that was begun last."""
        with self._database.reading() as connection:
            rig_id = self._database.rig_id(connection, rig)
            query = select(t.plan_runs).where(t.plan_runs.c.rig_id == rig_id, t.plan_runs.c.bench == bench.value)
            rows = connection.execute(query.order_by(t.plan_runs.c.id.desc()).limit(1)).mappings()
            return next(iter(self._database.readable("run of the plan", rows, _run)), None)

    def _mine(self, connection: Connection, rig: str, bench: BenchKind) -> "ColumnElement[bool]":
        return (t.planned.c.rig_id == self._database.rig_id(connection, rig)) & (t.planned.c.bench == bench.value)


def _planned(row: RowMapping) -> Planned:
    return Planned(
        row["id"],
        needed(row["setpoint"]),
        needed(row["load"]),
        str(row["why"]),
        PlanState(row["state"]),
        row["search_id"],
        row["trial_id"],
    )


def _run(row: RowMapping) -> PlanRun:
    ended = row["ended_utc"]
    return PlanRun(
        row["id"],
        int(row["from_number"]),
        parse_rule(str(row["rule"])),
        as_utc(row["begun_utc"]),
        None if ended is None else as_utc(ended),
        str(row["ended_why"]),
    )
