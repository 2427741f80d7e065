"""What a book that is away has, told to its home: each thing once, numbered among what came there meanwhile."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from typing import Any

from sqlalchemy import Connection, Table, func, insert, select

from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.machine.recognising import free_name, same_machine
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.journal.base import tables as t
from tenaz.journal.base.columns import Damaged
from tenaz.journal.base.moving import grids_hold, last_number
from tenaz.journal.feed.joining import join
from tenaz.journal.feed.kinds import KIND_OF, KINDS, RIG, TRIAL, Kind
from tenaz.journal.feed.marks import Marks, PeerAway
from tenaz.journal.feed.things import Orphan, Side, Thing, goes_on, portions

MOST_THINGS = 400
WORTH_IT = 8
"""From so many on they are put together."""
Touched = list[tuple[int, str, str]]
"""Place in the feed, kind, identity."""


@dataclass(slots=True)
class Told:
    """What came of it: how many things and lines, what gave way in words, trials with other numbers than they had."""

    things: int = 0
    lines: int = 0
    gave_way: list[str] = field(default_factory=list)
    renumbered: dict[tuple[str, int], int] = field(default_factory=dict)
    as_told: set[tuple[str, str]] = field(default_factory=set)
    """Things that stand at home just as they were told: nobody need tell them back."""
    places: dict[tuple[str, str], int] = field(default_factory=dict)
    """At which places of the home's feed these stand."""


def touched(connection: Connection, after: int, most: int = MOST_THINGS) -> Touched:
    """What was touched after a place in a feed, oldest first."""
    query = select(t.feed.c.id, t.feed.c.kind, t.feed.c.uid).where(t.feed.c.id > after).order_by(t.feed.c.id)
    return [(int(key), str(kind), str(uid)) for key, kind, uid in connection.execute(query.limit(most))]


def with_needed(side: Side, by_kind: dict[str, list[str]], there: Callable[[Table, str], bool]) -> None:
    """Add what these belong to and what is not ``there`` yet: it was touched after them, and is told with what comes
    later as well; but who comes without it would come as nobody's, or not at all.
    """
    for kind in reversed(KINDS):
        for table, uids in side.needs(kind, by_kind.get(kind.name, [])).items():
            known = by_kind.get(KIND_OF[table].name, [])
            missing = [uid for uid in sorted(uids - set(known)) if not there(table, uid)]
            if missing:
                by_kind[KIND_OF[table].name] = [*known, *missing]


class ComingHome:
    """One telling, within one transaction of the home."""

    def __init__(self, away: Side, home: Side, peer: PeerAway, seen: Marks, now: datetime) -> None:
        self._away, self._home, self._peer, self._seen, self._now = away, home, peer, seen, now
        self.told = Told()
        self._rigs: dict[str, tuple[str, Any]] | None = None

    def tell(self, things: Touched, whole: bool) -> None:
        """Bring over what was touched, in the order in which one needs the other; where that is not the ``whole`` of
        it, with what it belongs to.
        """
        by_kind: dict[str, list[str]] = {}
        for _, name, uid in things:
            by_kind.setdefault(name, []).append(uid)
        aliases = self._peer.aliases

        def at_home(table: Table, uid: str) -> bool:
            return aliases.get(uid, uid) in self._home.ids(table, [aliases.get(uid, uid)])

        if not whole:
            with_needed(self._away, by_kind, at_home)
        for kind in KINDS:
            if kind.name in by_kind:
                self._kind(kind, by_kind[kind.name])

    def _kind(self, kind: Kind, uids: Sequence[str]) -> None:
        of = {uid: self._peer.aliases.get(uid, uid) if kind.name in OF_RIGS else uid for uid in uids}
        theirs = self._away.things(kind, uids)
        mine = self._home.things(kind, list(of.values()))
        changed_there = self._changed_at_home(kind, list(of.values()))
        done = self._all_new(kind, {uid: one for uid, one in theirs.items() if of[uid] not in mine}, changed_there)
        for uid in sorted(uids, key=lambda one: _order(theirs.get(one))):
            if (kind.name, uid) in self._away.damaged or uid in done:
                continue
            key, thing = of[uid], theirs.get(uid)
            with self._home.connection.begin_nested():
                try:
                    told = None if thing is None else self._aliased(kind, key, thing)
                    self._one(kind, key, told, mine.get(key), key in changed_there)
                except Orphan:
                    continue
            self.told.things += 1

    def _all_new(self, kind: Kind, things: dict[str, Thing], changed_there: set[str]) -> set[str]:
        """Put things that the home has not, and that fit as they are, a statement for each table; gives which."""
        if kind.named or kind.name in OF_RIGS or len(things) < WORTH_IT:
            return set()
        told = {uid: self._aliased(kind, uid, one) for uid, one in things.items() if uid not in changed_there}
        known = self._home.ids(kind.table, told)
        told = {uid: one for uid, one in told.items() if uid not in known and not self._counted_anew(kind, one)}
        if kind.numbered:
            taken = self._numbers(kind, told)
            # Once one must be numbered anew its followers may have to be, too: they are looked at one by one.
            crowded = {one["rig"] for one in told.values() if (one["rig"], one["number"]) in taken}
            told = {uid: one for uid, one in told.items() if one["rig"] not in crowded}
        with self._home.connection.begin_nested():
            self._home.put_new(kind, dict(sorted(told.items(), key=lambda one: _order(one[1]))))
        if kind is TRIAL:
            self._hold_grids(told.values())
        for uid in told:
            self.told.as_told.add((kind.name, uid))
        self.told.things += len(told)
        return set(told)

    def _counted_anew(self, kind: Kind, thing: Thing) -> bool:
        """Whether a number of trials in it is another one here."""
        return bool(kind.counts) and (thing["rig"], thing[kind.counts]) in self.told.renumbered

    def _numbers(self, kind: Kind, things: dict[str, Thing]) -> set[tuple[str, int]]:
        """Numbers of rigs that are taken already."""
        rigs = self._home.ids(t.rigs, {one["rig"] for one in things.values()})
        names = {rig_id: uid for uid, rig_id in rigs.items()}
        query = select(kind.table.c.rig_id, kind.table.c.number)
        found: set[tuple[str, int]] = set()
        for some in portions(sorted({one["number"] for one in things.values()})):
            rows = self._home.connection.execute(query.where(kind.table.c.number.in_(some)))
            found |= {(names[rig_id], number) for rig_id, number in rows if rig_id in names}
        return found

    def _hold_grids(self, trials: Iterable[Thing]) -> None:
        """Take what was in force among the values of the rigs' knobs."""
        in_force: dict[str, set[Setpoint]] = {}
        for one in trials:
            setpoint = one["in_force"] or one["setpoint"]
            if isinstance(setpoint, Setpoint):
                in_force.setdefault(one["rig"], set()).add(setpoint)
        for rig, setpoints in in_force.items():
            rig_id = self._home.ids(t.rigs, [rig]).get(rig)
            if rig_id is not None:
                grids_hold(self._home.connection, rig_id, *setpoints)

    def _changed_at_home(self, kind: Kind, uids: Sequence[str]) -> set[str]:
        """Which of these were touched at home since it was heard last, by anybody but this book."""
        found: set[str] = set()
        for some in portions(uids):
            query = select(t.feed.c.uid).where(t.feed.c.kind == kind.name, t.feed.c.uid.in_(some))
            query = query.where(t.feed.c.id > self._seen.feed)
            for first, last in self._peer.its:
                query = query.where(~t.feed.c.id.between(first.feed + 1, last.feed))
            found |= set(self._home.connection.execute(query).scalars())
        return found

    def _aliased(self, kind: Kind, key: str, thing: Thing) -> Thing:
        if kind is RIG:
            return {**thing, "uid": key}
        rig = thing.get("rig")
        return {**thing, "rig": self._peer.aliases.get(rig, rig)} if rig is not None else thing

    def _one(self, kind: Kind, uid: str, theirs: Thing | None, mine: Thing | None, changed_there: bool) -> None:
        if theirs is None:
            if mine is not None and changed_there:
                self._gave_way(kind, mine, uid, "it was taken out in the other book, and changed here: it stays", None)
            elif mine is not None:
                self._home.drop(kind, uid)
            return
        if mine is None:
            if changed_there:
                words = "it was taken out here, and changed in the other book: it stays"
                self._gave_way(kind, theirs, uid, words, None)
            self._put(kind, uid, theirs, None)
            return
        if mine == theirs:
            self.told.as_told.add((kind.name, uid))
            return
        if not changed_there:
            self._put(kind, uid, theirs, mine)
            return
        joined = join(kind, mine, {**theirs, **{name: mine[name] for name in ("number",) if name in mine}})
        if joined.gave_way:
            self._gave_way(kind, mine, uid, joined.gave_way, joined.data)
        if joined.thing != mine:
            self._home.put(kind, uid, joined.thing)

    def _put(self, kind: Kind, uid: str, theirs: Thing, mine: Thing | None) -> None:
        fits = self._fitted(kind, uid, dict(theirs), mine)
        if fits is None:
            return
        self._home.put(kind, uid, fits, goes_on(mine, fits))
        if kind is RIG:
            self._rigs_known()[uid] = fits["name"], fits["data"]
        if fits == theirs and uid not in self._peer.aliases.values():
            self.told.as_told.add((kind.name, uid))
        if kind is TRIAL:
            self._hold_grids([fits])

    def _fitted(self, kind: Kind, uid: str, thing: Thing, mine: Thing | None) -> Thing | None:
        """It with a name and a number that are free here; None: it is another's of the home."""
        here = self._home.connection
        if kind is RIG:
            return self._rig(uid, thing)
        rig_id = self._home.ids(t.rigs, [thing["rig"]]).get(thing["rig"]) if thing.get("rig") else None
        if kind.named:
            taken = here.execute(self._names(kind, rig_id).where(kind.table.c.uid != uid)).scalars().all()
            if thing["name"] in taken:
                given = free_name(set(taken), thing["name"])
                self._gave_way(kind, thing, uid, f"there was another {thing['name']} already: it is {given} now", None)
                thing["name"] = given
        if kind.numbered and rig_id is not None:
            same = kind.table.c.rig_id == rig_id
            if mine is not None:
                thing["number"] = mine["number"]
            elif here.execute(select(kind.table.c.id).where(same, kind.table.c.number == thing["number"])).scalar():
                newest = here.execute(select(func.max(kind.table.c.number)).where(same)).scalar() or 0
                if kind is TRIAL:
                    newest = last_number(here, rig_id)
                    self.told.renumbered[thing["rig"], thing["number"]] = newest + 1
                thing["number"] = newest + 1
        if kind.counts:
            thing[kind.counts] = self.told.renumbered.get((thing["rig"], thing[kind.counts]), thing[kind.counts])
        return thing

    @staticmethod
    def _names(kind: Kind, rig_id: int | None) -> Any:
        names = select(kind.table.c.name)
        return names.where(kind.table.c.rig_id == rig_id) if kind.of_a_rig else names

    def _rig(self, uid: str, thing: Thing) -> Thing | None:
        """A rig that came anew: the one of the same machine or, simulated, of the same name, is the same."""
        rig = thing["data"]
        if not isinstance(rig, Rig):
            return None
        rows = [(other, name, data) for other, (name, data) in self._rigs_known().items() if other != uid]
        if uid not in self._home.ids(t.rigs, [uid]):
            for other_uid, name, data in rows:
                if isinstance(data, Damaged):
                    continue
                same = same_machine(data.machine, rig.machine) if _here(data, rig) else name == rig.name
                if same and (_simulated(data, rig) or _here(data, rig)) and not self._knows(other_uid):
                    self._peer.aliases[uid] = other_uid
                    return None
        names = {name for _, name, _ in rows}
        if thing["name"] in names:
            given = free_name(names, thing["name"])
            self.told.gave_way.append(f"{thing['name']}: there was another rig of this name: it is {given} now")
            return {**thing, "name": given, "data": replace(rig, name=given)}
        return thing

    def _rigs_known(self) -> dict[str, tuple[str, Any]]:
        """Names and settings of the home's rigs, read once."""
        if self._rigs is None:
            rows = self._home.connection.execute(select(t.rigs.c.uid, t.rigs.c.name, t.rigs.c.data))
            self._rigs = {str(uid): (str(name), data) for uid, name, data in rows}
        return self._rigs

    def _knows(self, uid: str) -> bool:
        """Whether the other book has that rig too: then it is another than the one that came."""
        return uid in self._away.ids(t.rigs, [uid])

    def _gave_way(self, kind: Kind, thing: Thing, uid: str, words: str, data: Any) -> None:
        """Keep it beside what stands, until somebody looked."""
        what = (
            f"{kind.words} {thing.get('name') or thing.get('number') or thing.get('text') or thing.get('knob') or ''}"
        )
        told = f"{what.strip()[:60]}: {words}"
        self.told.gave_way.append(told)
        rig = uid if kind.name in OF_RIGS else thing.get("rig")
        values = {
            "rig_id": self._home.ids(t.rigs, [rig]).get(rig) if rig else None, "kind": kind.name, "of_uid": uid,
            "text": told, "data": data, "at_utc": self._now,
        }  # fmt: skip
        self._home.connection.execute(insert(t.conflicts).values(**values))


OF_RIGS = ("rig", "goldens", "machine")
"""Kinds whose identity is a rig's."""


def _order(thing: Thing | None) -> tuple[int, int]:
    """By number, so that what is numbered anew keeps its order."""
    return (0, 0) if thing is None else (1, int(thing.get("number") or 0))


def _here(one: Rig, other: Rig) -> bool:
    return BenchKind.HERE in one.benches and BenchKind.HERE in other.benches


def _simulated(one: Rig, other: Rig) -> bool:
    return BenchKind.SIM in one.benches and BenchKind.SIM in other.benches
