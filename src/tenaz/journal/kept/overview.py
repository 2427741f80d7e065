"""All rigs of a book at a glance: what is told of each in a line, asked of the book in a few statements whatever their
number.
"""

import json
from collections import Counter
from dataclasses import dataclass

from sqlalchemy import JSON, Text, cast, func, select, type_coerce

from tenaz.core.base.outcomes import Outcome
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.searches.plans import PlanState
from tenaz.core.searches.search import SearchPlan
from tenaz.core.trials.trial import Trial
from tenaz.journal.base import tables as t
from tenaz.journal.base.database import Database
from tenaz.journal.kept.searches import Searches
from tenaz.journal.trials.gathering import gather


@dataclass(frozen=True, slots=True)
class Tally:
    """Of one rig: trials by how they ended, and seconds for which each load held."""

    outcomes: tuple[tuple[str, int], ...]
    held_s: tuple[tuple[str, float], ...]


class Overview:
    """Read only."""

    def __init__(self, database: Database, searches: Searches) -> None:
        self._database, self._searches = database, searches

    def newest(self) -> dict[str, Trial]:
        """The newest trial of each rig that has one."""
        last = select(t.trials.c.rig_id, func.max(t.trials.c.number).label("last")).group_by(t.trials.c.rig_id)
        of = last.subquery()
        ids = select(t.trials.c.id).join(of, (t.trials.c.rig_id == of.c.rig_id) & (t.trials.c.number == of.c.last))
        with self._database.reading() as connection:
            found = gather(self._database, connection, t.trials.c.id.in_(ids))
        return {trial.rig: trial for trial in found}

    def searches(self, ids: set[int]) -> dict[int, SearchPlan]:
        """Searches by their ids."""
        return self._searches.some(ids)

    def going(self) -> dict[tuple[str, BenchKind], SearchPlan]:
        """The newest search that is not finished, by rig and bench."""
        return {(plan.rig, plan.bench): plan for plan in self._searches.all_going()}

    def waiting(self) -> dict[tuple[str, BenchKind], int]:
        """How many trials are planned, by rig and bench."""
        query = (
            select(t.rigs.c.name, t.planned.c.bench, func.count())
            .join(t.rigs, t.rigs.c.id == t.planned.c.rig_id)
            .where(t.planned.c.state == PlanState.WAITING.value)
            .group_by(t.rigs.c.name, t.planned.c.bench)
        )
        with self._database.reading() as connection:
            return {(str(rig), BenchKind(bench)): int(count) for rig, bench, count in connection.execute(query)}

    def goals(self) -> dict[str, str]:
        """The exercise that a rig's simulated machine sets, of each that has one (empty: it sets none)."""
        goal = type_coerce(t.machines.c.state, JSON())["goal"].as_string()
        query = select(t.rigs.c.name, goal).join(t.rigs, t.rigs.c.id == t.machines.c.rig_id)
        with self._database.reading() as connection:
            return {str(rig): str(found or "") for rig, found in connection.execute(query)}

    def tallies(self) -> dict[str, Tally]:
        """By rig: how many trials ended in which way, and for how long loads held."""
        load = cast(t.trials.c.load, Text)
        joined = t.records.join(t.trials, t.records.c.trial_id == t.trials.c.id)
        joined = joined.join(t.rigs, t.trials.c.rig_id == t.rigs.c.id)
        query = (
            select(t.rigs.c.name, t.records.c.outcome, load, func.count(), func.sum(t.records.c.elapsed_s))
            .select_from(joined)
            .where(t.records.c.undone_utc.is_(None))
            .group_by(t.rigs.c.name, t.records.c.outcome, load)
        )
        counts: dict[str, Counter[str]] = {}
        held: dict[str, dict[str, float]] = {}
        with self._database.reading() as connection:
            for rig, outcome, plan, count, seconds in connection.execute(query):
                counts.setdefault(rig, Counter())[outcome] += count
                if outcome == Outcome.HELD.value:
                    kind = str(json.loads(plan).get("kind", "?"))
                    mine = held.setdefault(rig, {})
                    mine[kind] = mine.get(kind, 0.0) + float(seconds or 0.0)
        return {
            rig: Tally(tuple(sorted(found.items())), tuple(sorted(held.get(rig, {}).items())))
            for rig, found in counts.items()
        }
