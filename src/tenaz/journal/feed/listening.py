"""What its home has told a book that is away: taken as it stands there, since the home has heard this book first."""

from collections.abc import Mapping, Sequence
from typing import Any

from sqlalchemy import func, literal, select, update

from tenaz.journal.base import tables as t
from tenaz.journal.feed.coming_home import Touched, with_needed
from tenaz.journal.feed.kinds import GOLDENS, KINDS, MACHINE, TRIAL, Kind
from tenaz.journal.feed.things import Orphan, Side, Thing, goes_on, portions

Heard = dict[str, tuple[dict[str, Thing], list[str]]]
"""By kind: things as they stand at home, and identities of those that were taken out there."""


def hear(
    home: Side,
    away: Side,
    things: Touched,
    told: set[tuple[str, str]],
    others: Sequence[tuple[str, str]] = (),
    whole: bool = True,
) -> Heard:
    """Read at home what was touched there, but for what this book told just now; where that is not the ``whole`` of it,
    with what it belongs to.
    """
    by_kind: dict[str, list[str]] = {}
    asked = [(name, uid) for _, name, uid in things if (name, uid) not in told]
    for name, uid in dict.fromkeys([*asked, *others]):
        by_kind.setdefault(name, []).append(uid)
    if not whole:
        with_needed(home, by_kind, lambda table, uid: uid in away.ids(table, [uid]))
    found: Heard = {}
    for kind in KINDS:
        uids = by_kind.get(kind.name, [])
        if uids:
            here = home.things(kind, uids)
            gone = [uid for uid in uids if uid not in here and (kind.name, uid) not in home.damaged]
            found[kind.name] = here, gone
    return found


class Listening:
    """One listening, within one transaction of the book that is away."""

    def __init__(self, away: Side) -> None:
        self._away = away

    def take(self, heard: Heard, aliases: Mapping[str, str]) -> int:
        """Make everything here what it is at home; gives how many things came."""
        for mine, homes in aliases.items():
            known = self._away.ids(t.rigs, [mine]).get(mine)
            if known is not None:
                self._away.connection.execute(update(t.rigs).where(t.rigs.c.id == known).values(uid=homes))
                for uid in (mine, homes):
                    self._away.forget(t.rigs, uid)
        came = 0
        for kind in KINDS:
            things, gone = heard.get(kind.name, ({}, []))
            # One that is here and cannot be read is not put a second time.
            present = {} if kind in (GOLDENS, MACHINE) else self._away.ids(kind.table, things)
            here = self._away.things(kind, list(things))
            differ = {uid: thing for uid, thing in things.items() if here.get(uid) != thing}
            self._make_room(kind, differ)
            if kind not in (GOLDENS, MACHINE):
                fresh = {uid: thing for uid, thing in differ.items() if uid not in present}
                came += self._away.put_new(kind, dict(sorted(fresh.items(), key=lambda one: one[1].get("number") or 0)))
                differ = {uid: thing for uid, thing in differ.items() if uid not in fresh}
            for uid in sorted(differ, key=lambda one: int(differ[one].get("number") or 0)):
                with self._away.connection.begin_nested():
                    try:
                        self._away.put(kind, uid, differ[uid], goes_on(here.get(uid), differ[uid]))
                    except Orphan:
                        continue
                came += 1
            came += len(gone)
        for kind in reversed(KINDS):
            for uid in heard.get(kind.name, ({}, []))[1]:
                self._away.drop(kind, uid)
        return came

    def _make_room(self, kind: Kind, things: Mapping[str, Thing]) -> None:
        """Give numbers and names that come to others here away first: each is one thing's."""
        here, table = self._away.connection, kind.table
        for column, unique in (("number", kind.numbered), ("name", kind.named)):
            if not unique or not things:
                continue
            wanted = {self._place(kind, thing, column): (uid, thing) for uid, thing in things.items()}
            of = table.c.rig_id if kind.of_a_rig else literal(None)
            for some in portions(list({place[1] for place in wanted})):
                query = select(table.c.id, table.c.uid, of, table.c[column]).where(table.c[column].in_(some))
                for key, other, rig_id, value in here.execute(query).all():
                    uid, thing = wanted.get((rig_id, value), (other, {}))
                    if uid != other:
                        aside = self._aside(kind, column, key, other in things, thing, things)
                        here.execute(update(table).where(table.c.id == key).values(**{column: aside}))

    def _place(self, kind: Kind, thing: Thing, column: str) -> tuple[int | None, Any]:
        """What only one thing may have: a number or a name, within a rig where it belongs to one."""
        return self._away.ids(t.rigs, [thing["rig"]]).get(thing["rig"]) if kind.of_a_rig else None, thing[column]

    def _aside(
        self, kind: Kind, column: str, key: int, comes_too: bool, thing: Thing, things: Mapping[str, Thing]
    ) -> int | str:
        if column == "name":
            return f"{thing['name'][:60]} aside {key}"
        if comes_too or kind is not TRIAL:
            return -key
        rig_id = self._away.ids(t.rigs, [thing["rig"]])[thing["rig"]]
        newest = select(func.max(t.trials.c.number)).where(t.trials.c.rig_id == rig_id)
        here = self._away.connection.execute(newest).scalar() or 0
        # What comes may have a number beyond all that are here.
        return max([here, *(int(one["number"]) for one in things.values() if one["rig"] == thing["rig"])]) + 1
