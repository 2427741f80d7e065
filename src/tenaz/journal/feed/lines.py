"""Rows that only ever come to an end of their table: told on from where the other book ended."""

from collections.abc import Iterable, Sequence
from typing import Any

from sqlalchemy import RowMapping, Table, insert, select

from tenaz.journal.base import tables as t
from tenaz.journal.base.columns import Damaged
from tenaz.journal.feed.kinds import LINES
from tenaz.journal.feed.marks import Marks
from tenaz.journal.feed.things import Side, plain

MOST = 4000
"""Rows of a table in one round; of telemetry, which is heavy, fewer."""
MOST_HEAVY = 1000

Line = tuple[Table, dict[str, Any]]


def read_lines(
    side: Side, after: Marks, but: Sequence[tuple[Marks, Marks]] = ()
) -> tuple[list[Line], tuple[int, ...], bool]:
    """What came to the tables after some marks, but for what lies within others; up to where it was read of each, and
    whether there is more.
    """
    found: list[Line] = []
    upto, more = [], False
    for at, table in enumerate(LINES):
        most = MOST_HEAVY if table is t.traces else MOST
        query = select(table).where(table.c.id > after.lines[at])
        for first, last in but:
            query = query.where(~table.c.id.between(first.lines[at] + 1, last.lines[at]))
        rows = side.connection.execute(query.order_by(table.c.id).limit(most)).mappings().all()
        if len(rows) == most:
            more = True
            upto.append(int(rows[-1]["id"]))
        else:
            upto.append(max((int(row["id"]) for row in rows), default=after.lines[at]))
        found += _neutral(side, table, rows)
    return found, tuple(upto), more


def _neutral(side: Side, table: Table, rows: Sequence[RowMapping]) -> Iterable[Line]:
    trials = side.uids(t.trials, (row["trial_id"] for row in rows if row["trial_id"] is not None))
    rigs = side.uids(t.rigs, (row["rig_id"] for row in rows)) if "rig_id" in table.c else {}
    for row in rows:
        values = {key: plain(value) for key, value in row.items() if key not in ("id", "trial_id", "rig_id")}
        if any(isinstance(value, Damaged) for value in values.values()):
            side.damaged.add((table.name, str(row["id"])))
            continue
        values["trial"] = trials.get(row["trial_id"])
        if "rig_id" in table.c:
            values["rig"] = rigs.get(row["rig_id"])
        yield table, values


def write_lines(side: Side, lines: Sequence[Line], aliases: dict[str, str]) -> int:
    """Put them at the ends of the tables here; what belongs to nothing here is left out. Gives how many came."""
    trials = side.ids(t.trials, (one["trial"] for _, one in lines if one["trial"] is not None))
    asked = {str(one["rig"]) for _, one in lines if one.get("rig") is not None}
    rigs = side.ids(t.rigs, (aliases.get(uid, uid) for uid in asked))
    came = 0
    for table in LINES:
        rows = []
        for of, one in lines:
            if of is not table:
                continue
            values = {key: value for key, value in one.items() if key not in ("trial", "rig")}
            values["trial_id"] = trials.get(one["trial"]) if one["trial"] is not None else None
            if "rig_id" in table.c:
                values["rig_id"] = rigs.get(aliases.get(str(one["rig"]), str(one["rig"])))
                if values["rig_id"] is not None:
                    rows.append(values)
            elif values["trial_id"] is not None:
                rows.append(values)
        if rows:
            side.connection.execute(insert(table), rows)
            came += len(rows)
    return came
