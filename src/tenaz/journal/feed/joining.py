"""What both books changed since they met: brought together where that can be, and else kept side by side."""

import json
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any

from sqlalchemy import Table

from tenaz.core.base.loop import Station
from tenaz.core.rigs.rig import Rig
from tenaz.journal.base import tables as t
from tenaz.journal.base.columns import Coded
from tenaz.journal.feed.kinds import ATTACHED, GOLDENS, MACHINE, RIG, TRIAL, Kind
from tenaz.journal.feed.things import Thing, made_with

MOST_SHOWN = 60
BESIDE = "; of the other book: "
UNSAID = ("uid", "at_utc", "number", "place", "records", "rig", "search", "trial", *(table.name for table in ATTACHED))
"""Columns whose difference nobody need be told of."""


@dataclass(frozen=True, slots=True)
class Joined:
    """What stands from now on, and in words what gave way; empty: nothing did."""

    thing: Thing
    gave_way: str = ""
    data: Any = None


def join(kind: Kind, home: Thing, away: Thing) -> Joined:
    """Bring together what both changed. The home's stands where only one can."""
    if kind is TRIAL:
        return _trials(home, away)
    if kind is GOLDENS:
        return _goldens(home, away)
    if kind is MACHINE:
        return Joined(away)
    if kind is RIG:
        return _rigs(home, away)
    return _told(kind.table, home, away)


def _told(table: Table, home: Thing, away: Thing) -> Joined:
    """The home's stands; what the other had differently is told."""
    differ = [name for name in away if name not in UNSAID and away[name] != home.get(name)]
    if not differ:
        return Joined(home)
    words = ", ".join(f"{name} {_shown(table, name, away[name])}" for name in differ)
    return Joined(home, words, as_json(table, {name: away[name] for name in differ}))


def _rigs(home: Thing, away: Thing) -> Joined:
    """Settings of a rig: what differs, but for values of knobs that came with trials, which come again with them."""
    mine, theirs = home["data"], away["data"]
    if not isinstance(mine, Rig) or not isinstance(theirs, Rig):
        return Joined(home)
    known = {knob.name: knob for knob in mine.knobs}
    alike = tuple(replace(knob, grid=known[knob.name].grid) if knob.name in known else knob for knob in theirs.knobs)
    theirs = replace(theirs, name=mine.name, knobs=alike)
    if theirs == mine:
        return Joined(home)
    names = [name for name in Rig.__dataclass_fields__ if getattr(theirs, name) != getattr(mine, name)]
    words = ", ".join(f"{name} {str(getattr(theirs, name))[:MOST_SHOWN]}" for name in names)
    return Joined(home, words, as_json(t.rigs, {"data": theirs}))


def _goldens(home: Thing, away: Thing) -> Joined:
    """Those made with the same instructions and libraries belong together: the home's, then the other's."""
    made_here = {made_with(key) for key in home}
    mine = {**home, **{key: value for key, value in away.items() if made_with(key) not in made_here}}
    differ = sorted({made_with(key) for key, value in away.items() if key in mine and mine[key][0] != value[0]})
    return Joined(mine, f"made with {', '.join(differ)}" if differ else "")


def _trials(home: Thing, away: Thing) -> Joined:
    """Records of both; the latest stands. Notes of both; what was in force as the record that stands has it."""
    joined, gave_way = dict(home), ""
    records = {uid: dict(one) for uid, one in home["records"].items()}
    for uid, one in away["records"].items():
        mine = records.setdefault(uid, dict(one))
        mine["undone_utc"] = mine["undone_utc"] or one["undone_utc"]
    standing = sorted(
        (one for one in records.values() if one["undone_utc"] is None), key=lambda one: (one["at_utc"], one["uid"])
    )
    for one in standing[:-1]:
        one["undone_utc"] = standing[-1]["at_utc"]
        if one["outcome"] != standing[-1]["outcome"]:
            gave_way = f"{one['outcome']} gave way to {standing[-1]['outcome']}, which was told later"
    joined["records"] = records
    if standing:
        from_home = standing[-1]["uid"] in home["records"]
        told = home if from_home and home["station"] == Station.CLOSED.value else away
        joined["in_force"], joined["station"] = told["in_force"], Station.CLOSED.value
    else:
        # Its record was taken back at one of the two: it waits for another there.
        joined["station"] = next(
            (one["station"] for one in (home, away) if one["station"] != Station.CLOSED.value), Station.JUDGE.value
        )
    joined["note"] = _both(home["note"], away["note"])
    for name in ("stations", "sources"):
        joined[name] = home[name] or away[name]
    for table in ATTACHED:
        joined[table.name] = _later(home[table.name], away[table.name])
    return Joined(joined, gave_way)


def _both(mine: str, theirs: str) -> str:
    """Notes are short: where both wrote one, both stand."""
    if theirs in mine:
        return mine
    return theirs if mine in theirs else f"{mine}{BESIDE}{theirs}"


def _later(mine: Thing | None, theirs: Thing | None) -> Thing | None:
    if mine is None:
        return theirs
    if theirs is None:
        return mine
    return theirs if "at_utc" in theirs and theirs["at_utc"] > mine["at_utc"] else mine


def _shown(table: Table, name: str, value: Any) -> str:
    show = getattr(value, "show", None)
    if callable(show):
        return str(show())[:MOST_SHOWN]
    return json.dumps(as_json(table, {name: value})[name], default=str)[:MOST_SHOWN]


def as_json(table: Table, values: Thing) -> Any:
    """Columns as JSON values."""
    found = {}
    for name, value in values.items():
        kind = table.c[name].type if name in table.c else None
        if isinstance(kind, Coded) and value is not None:
            found[name] = kind.encode(value)
        elif isinstance(value, datetime):
            found[name] = value.isoformat()
        elif isinstance(value, bytes):
            found[name] = value.hex()
        else:
            found[name] = value
    return found
