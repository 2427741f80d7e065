"""Another book brought into this one: its rigs, trials and all that belongs to them, each once however often it comes.

A trial is the same when it was begun at the same instant in the same boot of a machine: no two are.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from typing import Any

from sqlalchemy import Connection, RowMapping, Table, func, insert, select

from tenaz.core.loop import Station
from tenaz.core.rigs import Rig
from tenaz.journal import tables as t
from tenaz.journal.codec import as_utc
from tenaz.journal.database import Database
from tenaz.journal.moving import changed, last_number

OF_A_TRIAL = (t.moves, t.readings, t.heartbeats, t.records, t.mismatches, t.traces, t.laid, t.snapshots)
LEAST_UTC = datetime(2024, 1, 1, tzinfo=UTC)
"""A clock that says less was never set."""
AHEAD = timedelta(days=1)
WRONG_CLOCK = "the clock of that machine was wrong"


@dataclass(frozen=True, slots=True)
class Merged:
    """What came of one rig: its name here, trials brought, trials that were here already, trials nobody judged yet,
    and trials whose clock was wrong.
    """

    rig: str
    came_as: str
    brought: int = 0
    known: int = 0
    unfinished: int = 0
    wrong_clock: int = 0

    def show(self) -> str:
        """In one line."""
        parts = [f"{self.brought} trials brought", f"{self.known} were here already"]
        if self.unfinished:
            parts.append(f"{self.unfinished} left there: nobody judged it yet")
        if self.wrong_clock:
            parts.append(f"{self.wrong_clock} marked: {WRONG_CLOCK}")
        return (
            f"{self.rig}" + (f" (there {self.came_as})" if self.came_as != self.rig else "") + ": " + ", ".join(parts)
        )


def merge(source: Database, into: Database, name_for: Callable[[Rig], str], now: datetime) -> tuple[Merged, ...]:
    """Bring over every rig on which something was tried, in one commit; ``name_for`` tells which rig of this book one
    of the other is (a new name: it becomes a rig of its own).

    Raises:
        BookError: this book cannot be written; it is as it was then.
    """
    found = []
    with source.reading() as there, into.writing() as here:
        rigs = there.execute(select(t.rigs).order_by(t.rigs.c.id)).mappings().all()
        for row in rigs:
            mine = t.trials.c.rig_id == row["id"]
            trials = there.execute(select(t.trials).where(mine).order_by(t.trials.c.id)).mappings().all()
            if trials:
                found.append(_rig(there, here, row, trials, name_for(row["data"]), now))
    return tuple(found)


def _rig(
    there: Connection, here: Connection, row: RowMapping, trials: Sequence[RowMapping], name: str, now: datetime
) -> Merged:
    rig_id = here.execute(select(t.rigs.c.id).where(t.rigs.c.name == name)).scalar()
    if rig_id is None:
        key = here.execute(insert(t.rigs).values(name=name, data=replace(row["data"], name=name))).inserted_primary_key
        assert key is not None
        rig_id = int(key[0])
    ids = (t.trials.c.id, t.trials.c.number, t.trials.c.boot_id, t.trials.c.begun_utc)
    known = {
        (one["boot_id"], as_utc(one["begun_utc"])): (one["id"], one["number"])
        for one in here.execute(select(*ids).where(t.trials.c.rig_id == rig_id)).mappings()
    }
    searches = _searches(there, here, row["id"], rig_id)
    number = last_number(here, rig_id)
    numbers: dict[int, int] = {}
    brought = unfinished = wrong = met = 0
    latest = LEAST_UTC
    for trial in trials:
        begun = as_utc(trial["begun_utc"])
        same = known.get((trial["boot_id"], begun))
        if same is not None:
            met += 1
            numbers[trial["number"]] = same[1]
            continue
        if trial["station"] != Station.CLOSED.value:
            unfinished += 1
            continue
        number += 1
        numbers[trial["number"]] = number
        off = begun < latest or begun > now + AHEAD
        latest = max(latest, begun) if not off else latest
        wrong += off
        note = "; ".join(filter(None, (trial["note"], WRONG_CLOCK if off else "")))
        _trial(there, here, trial, rig_id, number, searches.get(trial["search_id"]), note)
        brought += 1
    _of_rig(there, here, row["id"], rig_id, numbers)
    return Merged(name, row["name"], brought, met, unfinished, wrong)


def _trial(
    there: Connection, here: Connection, trial: RowMapping, rig_id: int, number: int, search_id: int | None, note: str
) -> None:
    values = {**_without_id(trial), "rig_id": rig_id, "number": number, "search_id": search_id, "note": note}
    key = here.execute(insert(t.trials).values(**values)).inserted_primary_key
    assert key is not None
    trial_id = int(key[0])
    for table in OF_A_TRIAL:
        _copy(there, here, table, table.c.trial_id == trial["id"], {"trial_id": trial_id})
    _copy(there, here, t.log, t.log.c.trial_id == trial["id"], {"trial_id": trial_id, "rig_id": rig_id})
    changed(here, trial_id)


def _searches(there: Connection, here: Connection, from_id: int, rig_id: int) -> dict[int | None, int]:
    """Searches of the rig, each once: by the number there, the number here."""
    known = {
        as_utc(one["begun_utc"]): one["id"]
        for one in here.execute(select(t.searches).where(t.searches.c.rig_id == rig_id)).mappings()
    }
    found: dict[int | None, int] = {}
    for one in there.execute(select(t.searches).where(t.searches.c.rig_id == from_id)).mappings():
        begun = as_utc(one["begun_utc"])
        if begun not in known:
            values = {**_without_id(one), "rig_id": rig_id}
            key = here.execute(insert(t.searches).values(**values)).inserted_primary_key
            assert key is not None
            known[begun] = int(key[0])
        found[one["id"]] = known[begun]
    return found


def _of_rig(there: Connection, here: Connection, from_id: int, rig_id: int, numbers: Mapping[int, int]) -> None:
    """What belongs to the rig and to no trial: work on its parts, labels, notes on values, saved setpoints, goldens,
    measures.
    """
    for table, same in (
        (t.works, ("at_utc", "text")),
        (t.part_labels, ("at_utc", "place", "state")),
        (t.value_notes, ("at_utc", "knob")),
        (t.setpoints, ("name",)),
        (t.goldens, ("made_with", "name")),
        (t.measures, ("begun_utc",)),
    ):
        mine = select(table).where(table.c.rig_id == rig_id)
        known = {_same(row, same) for row in here.execute(mine).mappings()}
        theirs = there.execute(select(table).where(table.c.rig_id == from_id).order_by(table.c.id)).mappings()
        for row in theirs:
            if _same(row, same) in known:
                continue
            values = {**_without_id(row), "rig_id": rig_id}
            if "after_number" in values:
                before = [new for old, new in numbers.items() if old <= row["after_number"]]
                values["after_number"] = max(before, default=min(row["after_number"], 0))
            if table is t.measures:
                mine_too = select(func.max(table.c.number)).where(table.c.rig_id == rig_id)
                values["number"] = (here.execute(mine_too).scalar() or 0) + 1
            here.execute(insert(table).values(**values))


def _same(row: RowMapping, keys: Sequence[str]) -> tuple[object, ...]:
    return tuple(_without_id(row)[key] for key in keys)


def _copy(there: Connection, here: Connection, table: Table, which: Any, instead: Mapping[str, int]) -> None:
    rows = there.execute(select(table).where(which)).mappings().all()
    if rows:
        here.execute(insert(table), [{**_without_id(row), **instead} for row in rows])


def _without_id(row: RowMapping) -> dict[str, Any]:
    return {key: as_utc(value) if isinstance(value, datetime) else value for key, value in row.items() if key != "id"}
