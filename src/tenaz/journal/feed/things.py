"""Things of a book as values that mean the same in any: identities in place of row numbers."""

from collections.abc import Iterable, Iterator, Sequence
from contextlib import suppress
from datetime import datetime
from typing import Any

from sqlalchemy import Connection, RowMapping, Table, delete, insert, select, update

from tenaz.journal.base import tables as t
from tenaz.journal.base.codec import as_utc
from tenaz.journal.base.columns import Damaged
from tenaz.journal.base.database import Database
from tenaz.journal.base.moving import changed
from tenaz.journal.feed.kinds import ATTACHED, GOLDENS, MACHINE, RIG, TRIAL, Kind

Thing = dict[str, Any]
"""Columns by name; of others' rows their identities, by ``rig``, ``search`` and ``trial``."""
REFERS = {"rig_id": ("rig", t.rigs), "search_id": ("search", t.searches), "trial_id": ("trial", t.trials)}
ASKED = 400


class Orphan(LookupError):
    """What a thing belongs to is not in this book."""


def portions(of: Sequence[Any], size: int = ASKED) -> Iterator[Sequence[Any]]:
    """Some at a time: a statement takes only so many."""
    for first in range(0, len(of), size):
        yield of[first : first + size]


class Side:
    """One of two books that meet, within a transaction."""

    def __init__(self, database: Database, connection: Connection) -> None:
        self.database, self.connection = database, connection
        self._uids: dict[str, dict[int, str]] = {}
        self._ids: dict[str, dict[str, int]] = {}
        self.damaged: set[tuple[str, str]] = set()

    # -- which row is which ----------------------------------------

    def uids(self, table: Table, ids: Iterable[int]) -> dict[int, str]:
        """Identities by row number."""
        known = self._uids.setdefault(table.name, {})
        for some in portions([one for one in set(ids) if one not in known]):
            found = self.connection.execute(select(table.c.id, table.c.uid).where(table.c.id.in_(some)))
            known.update((key, str(uid)) for key, uid in found if uid)
        return known

    def ids(self, table: Table, uids: Iterable[str]) -> dict[str, int]:
        """Row numbers by identity."""
        known = self._ids.setdefault(table.name, {})
        for some in portions([one for one in set(uids) if one not in known]):
            found = self.connection.execute(select(table.c.uid, table.c.id).where(table.c.uid.in_(some)))
            known.update((str(uid), key) for uid, key in found)
        return known

    def needs(self, kind: Kind, uids: Sequence[str]) -> dict[Table, set[str]]:
        """What things of a kind belong to: rows of other tables, by identity."""
        if kind in (GOLDENS, MACHINE):
            return {t.rigs: set(uids)}
        found: dict[Table, set[str]] = {}
        for column, (_, table) in REFERS.items():
            if column not in kind.table.c:
                continue
            for some in portions(uids):
                rows = select(kind.table.c[column]).where(kind.table.c.uid.in_(some))
                named = self.connection.execute(select(table.c.uid).where(table.c.id.in_(rows))).scalars()
                found.setdefault(table, set()).update(str(uid) for uid in named if uid)
        return found

    def forget(self, table: Table, uid: str) -> None:
        """A row is gone, or another one."""
        key = self._ids.get(table.name, {}).pop(uid, None)
        self._uids.get(table.name, {}).pop(key or 0, None)

    # -- read ----------------------------------------

    def things(self, kind: Kind, uids: Sequence[str]) -> dict[str, Thing]:
        """Things by identity; one that is not there is gone, one that cannot be read is named among the damaged."""
        if kind in (GOLDENS, MACHINE):
            return self._of_rigs(kind, uids)
        rows: list[RowMapping] = []
        for some in portions(uids):
            rows += self.connection.execute(select(kind.table).where(kind.table.c.uid.in_(some))).mappings().all()
        found = self._neutral(kind, rows)
        if kind is TRIAL:
            self._add_parts(found, {row["id"]: row["uid"] for row in rows if row["uid"] in found})
        return found

    def _neutral(self, kind: Kind, rows: Sequence[RowMapping]) -> dict[str, Thing]:
        refers = [(column, *REFERS[column]) for column in REFERS if column in kind.table.c]
        maps = {
            column: self.uids(table, (row[column] for row in rows if row[column] is not None))
            for column, _, table in refers
        }
        found: dict[str, Thing] = {}
        for row in rows:
            thing: Thing = {}
            for name, value in row.items():
                if name == "id":
                    continue
                if name in maps:
                    thing[REFERS[name][0]] = maps[name].get(value)
                else:
                    thing[name] = plain(value)
            if any(isinstance(value, Damaged) for value in thing.values()):
                self.damaged.add((kind.name, row["uid"]))
            else:
                found[row["uid"]] = thing
        return found

    def _add_parts(self, found: dict[str, Thing], uids: dict[int, str]) -> None:
        for thing in found.values():
            thing["records"] = {}
            thing.update((table.name, None) for table in ATTACHED)
        for some in portions(list(uids)):
            for table in (t.records, *ATTACHED):
                rows = self.connection.execute(select(table).where(table.c.trial_id.in_(some)))
                for row in rows.mappings():
                    part = {key: plain(value) for key, value in row.items() if key not in ("id", "trial_id")}
                    if any(isinstance(value, Damaged) for value in part.values()):
                        self.damaged.add(("trial", uids[row["trial_id"]]))
                    elif table is t.records:
                        found[uids[row["trial_id"]]]["records"][part["uid"]] = part
                    else:
                        found[uids[row["trial_id"]]][table.name] = part
        for name, uid in self.damaged:
            if name == "trial":
                found.pop(uid, None)

    def _of_rigs(self, kind: Kind, uids: Sequence[str]) -> dict[str, Thing]:
        ids = self.ids(t.rigs, uids)
        found: dict[str, Thing] = {}
        for uid in uids:
            if uid not in ids:
                continue
            mine = select(kind.table).where(kind.table.c.rig_id == ids[uid]).order_by(kind.table.c.id)
            rows = self.connection.execute(mine).mappings().all()
            if kind is MACHINE and rows:
                found[uid] = {"state": rows[0]["state"]}
            elif rows:
                found[uid] = {
                    f"{row['made_with']}{GOLDEN}{row['name']}": (row["digest"], plain(row["at_utc"])) for row in rows
                }
        return found

    # -- written ----------------------------------------

    def put(self, kind: Kind, uid: str, thing: Thing, still: bool = False) -> None:
        """Make a thing what is told of it; ``still``: a trial whose load only goes on, as no picture shows.

        Raises:
            Orphan: what it belongs to is not here.
        """
        if kind in (GOLDENS, MACHINE):
            self._put_of_rig(kind, uid, thing)
            return
        values = self._values(kind, thing)
        key = self.ids(kind.table, [uid]).get(uid)
        if key is None:
            made = self.connection.execute(insert(kind.table).values(**values)).inserted_primary_key
            assert made is not None
            key = int(made[0])
            self.ids(kind.table, [])[uid] = key
        else:
            self.connection.execute(update(kind.table).where(kind.table.c.id == key).values(**values))
        if kind is TRIAL:
            self._put_parts(key, thing)
            if not still:
                changed(self.connection, key)

    def put_new(self, kind: Kind, things: dict[str, Thing]) -> int:
        """Put many that are not here yet, a statement for each table; what belongs to nothing here is left out. Gives
        how many came.
        """
        for column, (name, table) in REFERS.items():
            if column in kind.table.c:
                self.ids(table, (thing[name] for thing in things.values() if thing.get(name) is not None))
        rows = []
        for thing in things.values():
            with suppress(Orphan):
                rows.append(self._values(kind, thing))
        if rows:
            self.connection.execute(insert(kind.table), rows)
        if kind is TRIAL and rows:
            self._put_new_parts(things)
        return len(rows)

    def _put_new_parts(self, trials: dict[str, Thing]) -> None:
        ids = self.ids(t.trials, trials)
        by_table: dict[Table, list[dict[str, Any]]] = {table: [] for table in (t.records, *ATTACHED, t.changes)}
        for uid, thing in trials.items():
            if uid not in ids:
                continue
            told = sorted(thing["records"].values(), key=lambda one: (one["at_utc"], one["uid"]))
            by_table[t.records] += [{**one, "trial_id": ids[uid]} for one in told]
            for table in ATTACHED:
                if thing.get(table.name) is not None:
                    by_table[table].append({**thing[table.name], "trial_id": ids[uid]})
            by_table[t.changes].append({"trial_id": ids[uid], "rig_id": self.ids(t.rigs, [thing["rig"]])[thing["rig"]]})
        for table, rows in by_table.items():
            if rows:
                self.connection.execute(insert(table), rows)

    def _values(self, kind: Kind, thing: Thing) -> dict[str, Any]:
        """The columns of its row here.

        Raises:
            Orphan: what it belongs to is not here.
        """
        values = {name: value for name, value in thing.items() if name in kind.table.c}
        for column, (name, table) in REFERS.items():
            if column in kind.table.c:
                values[column] = self._row_of(kind, column, table, thing.get(name))
        return values

    def _row_of(self, kind: Kind, column: str, table: Table, uid: str | None) -> int | None:
        if uid is None:
            return None
        key = self.ids(table, [uid]).get(uid)
        if key is None and not kind.table.c[column].nullable:
            raise Orphan(f"{table.name} {uid}")
        return key

    def _put_parts(self, trial_id: int, thing: Thing) -> None:
        here = self.connection
        mine = t.records.c.trial_id == trial_id
        known = dict(here.execute(select(t.records.c.uid, t.records.c.undone_utc).where(mine)).all())
        fresh = [{**one, "trial_id": trial_id} for uid, one in thing["records"].items() if uid not in known]
        if fresh:
            here.execute(insert(t.records), sorted(fresh, key=lambda one: (one["at_utc"], one["uid"])))
        for uid, one in thing["records"].items():
            if uid in known and plain(known[uid]) != one["undone_utc"]:
                here.execute(update(t.records).where(mine, t.records.c.uid == uid).values(undone_utc=one["undone_utc"]))
        gone = [uid for uid in known if uid not in thing["records"]]
        if gone:
            here.execute(delete(t.records).where(mine, t.records.c.uid.in_(gone)))
        for table in ATTACHED:
            part = thing.get(table.name)
            if part is not None:
                self.database.put(here, table, {"trial_id": trial_id}, part)

    def _put_of_rig(self, kind: Kind, uid: str, thing: Thing) -> None:
        rig_id = self.ids(t.rigs, [uid]).get(uid)
        if rig_id is None:
            raise Orphan(f"rigs {uid}")
        if kind is MACHINE:
            self.database.put(self.connection, t.machines, {"rig_id": rig_id}, {"state": thing["state"]})
            return
        self.connection.execute(delete(t.goldens).where(t.goldens.c.rig_id == rig_id))
        rows = []
        for key, (digest, at) in thing.items():
            made, _, name = key.partition(GOLDEN)
            rows.append({"rig_id": rig_id, "made_with": made, "name": name, "digest": digest, "at_utc": at})
        self.connection.execute(insert(t.goldens), rows)

    def drop(self, kind: Kind, uid: str) -> None:
        """Take a thing out, if it is there; a rig never is."""
        if kind is RIG:
            return
        if kind in (GOLDENS, MACHINE):
            rig_id = self.ids(t.rigs, [uid]).get(uid)
            self.connection.execute(delete(kind.table).where(kind.table.c.rig_id == rig_id))
            return
        key = self.ids(kind.table, [uid]).get(uid)
        if key is None:
            return
        if kind is TRIAL:
            self._drop_parts(key)
        if kind.table is t.searches:
            for table in (t.trials, t.planned):
                self.connection.execute(update(table).where(table.c.search_id == key).values(search_id=None))
        self.connection.execute(delete(kind.table).where(kind.table.c.id == key))
        self.forget(kind.table, uid)

    def _drop_parts(self, trial_id: int) -> None:
        for table in (t.moves, t.readings, t.mismatches, t.traces, t.records, t.changes, *ATTACHED):
            self.connection.execute(delete(table).where(table.c.trial_id == trial_id))
        for table in (t.log, t.planned):
            self.connection.execute(update(table).where(table.c.trial_id == trial_id).values(trial_id=None))


def goes_on(one: Thing | None, other: Thing) -> bool:
    """Whether two of a trial differ in nothing but the sign of life."""
    if one is None or "heartbeats" not in other:
        return False
    return {**one, "heartbeats": None} == {**other, "heartbeats": None}


def plain(value: Any) -> Any:
    """A value as it compares: every instant in UTC."""
    return as_utc(value) if isinstance(value, datetime) else value


GOLDEN = "\x1f"
"""Divides what a golden was made with from its name."""


def made_with(key: str) -> str:
    """What a golden was made with, from its key among the things of a rig."""
    return key.partition(GOLDEN)[0]
