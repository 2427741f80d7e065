"""The searches of the book."""

from dataclasses import replace

from sqlalchemy import RowMapping, Select, func, insert, select, update

from tenaz.core.ports.bench import Clock
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.searches.search import SearchPlan
from tenaz.journal.base import tables as t
from tenaz.journal.base.database import Database
from tenaz.journal.trials.rows import needed, sound


class Searches:
    """Begun, ended, reopened; and read again."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def begin(self, plan: SearchPlan, clock: Clock) -> SearchPlan:
        """Commit that a search begins; gives it with its id."""
        with self._database.writing() as connection:
            key = connection.execute(
                insert(t.searches).values(
                    rig_id=self._database.rig_id(connection, plan.rig),
                    bench=plan.bench.value,
                    knobs=" ".join(plan.knobs),
                    base=plan.base,
                    load=plan.load,
                    strategy=plan.strategy,
                    parameters=dict(plan.parameters),
                    reason=plan.reason,
                    begun_utc=clock.utc(),
                )
            ).inserted_primary_key
            assert key is not None
            return replace(plan, id=int(key[0]))

    def end(self, search_id: int, reason: str, clock: Clock) -> None:
        """Commit that a search came to its advice."""
        with self._database.writing() as connection:
            connection.execute(
                update(t.searches).where(t.searches.c.id == search_id).values(ended_utc=clock.utc(), ended_why=reason)
            )

    def reopen(self, search_id: int) -> None:
        """The search goes on after all: a record on it was undone."""
        with self._database.writing() as connection:
            connection.execute(
                update(t.searches).where(t.searches.c.id == search_id).values(ended_utc=None, ended_why="")
            )

    def of(self, rig: str) -> tuple[SearchPlan, ...]:
        """All searches of a rig, oldest first."""
        return self._found(_QUERY.where(t.rigs.c.name == rig).order_by(t.searches.c.id))

    def one(self, search_id: int) -> SearchPlan | None:
        """One search by its id."""
        return next(iter(self._found(_QUERY.where(t.searches.c.id == search_id))), None)

    def going(self, rig: str, bench: BenchKind) -> SearchPlan | None:
        """The newest search that is not finished, on a bench."""
        query = _QUERY.where(t.rigs.c.name == rig, t.searches.c.bench == bench.value, t.searches.c.ended_utc.is_(None))
        return next(iter(self._found(query.order_by(t.searches.c.id.desc()).limit(1))), None)

    def some(self, ids: set[int]) -> dict[int, SearchPlan]:
        """Searches by their ids."""
        return {plan.id: plan for plan in self._found(_QUERY.where(t.searches.c.id.in_(ids)))} if ids else {}

    def all_going(self) -> tuple[SearchPlan, ...]:
        """Every search that is not finished, oldest first."""
        return self._found(_QUERY.where(t.searches.c.ended_utc.is_(None)).order_by(t.searches.c.id))

    def newest_along(self, rig: str, real: bool) -> dict[str, SearchPlan]:
        """The newest search along each knob, of the rig itself or of its simulated stand-in."""
        benches = [kind.value for kind in BenchKind if kind.real is real]
        newest = (
            select(func.max(t.searches.c.id))
            .join(t.rigs, t.rigs.c.id == t.searches.c.rig_id)
            .where(t.rigs.c.name == rig, t.searches.c.bench.in_(benches))
            .group_by(t.searches.c.knobs)
        )
        found = self._found(_QUERY.where(t.searches.c.id.in_(newest)).order_by(t.searches.c.id))
        return {plan.knob: plan for plan in found if len(plan.knobs) == 1}

    def _found(self, query: "Select[tuple[object, ...]]") -> tuple[SearchPlan, ...]:
        with self._database.reading() as connection:
            return self._database.readable("search", connection.execute(query).mappings(), _search_of)


_QUERY: "Select[tuple[object, ...]]" = select(t.searches, t.rigs.c.name.label("rig")).join(
    t.rigs, t.rigs.c.id == t.searches.c.rig_id
)


def _search_of(row: RowMapping) -> SearchPlan:
    knobs = tuple(str(row["knobs"]).split())
    if not knobs:
        raise ValueError("it moves no knob")
    return SearchPlan(
        id=row["id"],
        rig=row["rig"],
        bench=BenchKind(row["bench"]),
        knobs=knobs,
        base=needed(row["base"]),
        load=needed(row["load"]),
        strategy=row["strategy"],
        parameters=dict(sound(row["parameters"]) or {}),
        reason=str(row["reason"]),
        ended=row["ended_utc"] is not None,
        ended_why=str(row["ended_why"] or ""),
    )
