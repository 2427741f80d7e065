"""Another book brought into this one: its rigs, trials and all that belongs to them, each once however often it comes.

A trial or a record is the same when it has the same identity; what was corrected or undone there since is corrected and
undone here. What is damaged there is named and left there; the rest comes.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from functools import partial
from typing import Any, TypeVar

from sqlalchemy import Connection, RowMapping, Table, func, insert, select, update
from sqlalchemy.exc import OperationalError, SQLAlchemyError

from tenaz.core.base.loop import Station
from tenaz.core.base.outcomes import Outcome
from tenaz.core.rigs.rig import Rig
from tenaz.journal.base import tables as t
from tenaz.journal.base.codec import as_utc
from tenaz.journal.base.columns import Damaged
from tenaz.journal.base.database import DAMAGE, Database
from tenaz.journal.base.moving import changed, grids_hold, last_number
from tenaz.journal.trials.gathering import gather

OF_A_TRIAL = (t.moves, t.readings, t.heartbeats, t.records, t.mismatches, t.traces, t.laid, t.last_seconds, t.snapshots)
LEAST_UTC = datetime(2024, 1, 1, tzinfo=UTC)
"""A clock that says less was never set."""
AHEAD = timedelta(days=1)
WRONG_CLOCK = "the clock of that machine was wrong"
MERGED, UNDONE_THERE = "merge", "its record was undone there, and nobody judged it anew yet"

Came = TypeVar("Came")


@dataclass(frozen=True, slots=True)
class Merged:
    """What came of one rig: its name here, trials brought, trials that were here already and how many of those were
    corrected since, trials nobody judged yet, trials whose clock was wrong, and what is damaged there.
    """

    rig: str
    came_as: str
    brought: int = 0
    known: int = 0
    unfinished: int = 0
    wrong_clock: int = 0
    corrected: int = 0
    damaged: tuple[str, ...] = ()

    def show(self) -> str:
        """In one line."""
        parts = [f"{self.brought} trials brought", f"{self.known} were here already"]
        if self.corrected:
            parts.append(f"{self.corrected} of them corrected or undone since")
        if self.unfinished:
            parts.append(f"{self.unfinished} left there: nobody judged it yet")
        if self.wrong_clock:
            parts.append(f"{self.wrong_clock} marked: {WRONG_CLOCK}")
        if self.damaged:
            more = f" and {len(self.damaged) - 1} more" if len(self.damaged) > 1 else ""
            parts.append(f"damaged there and left there: {self.damaged[0]}{more}")
        return (
            f"{self.rig}" + (f" (there {self.came_as})" if self.came_as != self.rig else "") + ": " + ", ".join(parts)
        )


def merge(source: Database, into: Database, name_for: Callable[[Rig], str], now: datetime) -> tuple[Merged, ...]:
    """Bring over every rig on which something was tried, in one commit; ``name_for`` tells which rig of this book one
    of the other is (a new name: it becomes a rig of its own).

    Raises:
        BookError: this book cannot be written, or the other one does not answer in time; it is as it was then.
        KeyboardInterrupt: somebody interrupted it; it is as it was then.
    """
    found = []
    with source.reading_warily() as there, into.writing() as here:
        for row in there.execute(select(t.rigs).order_by(t.rigs.c.id)).mappings().all():
            brief = select(t.trials.c.id, t.trials.c.uid, t.trials.c.number, t.trials.c.station)
            trials = there.execute(brief.where(t.trials.c.rig_id == row["id"]).order_by(t.trials.c.id)).mappings().all()
            if not trials:
                continue
            if not isinstance(row["data"], Rig):
                found.append(Merged(str(row["name"]), str(row["name"]), damaged=(f"the rig {row['name']}",)))
                continue
            found.append(_Bringing(there, here, into, now).rig(row, trials, name_for(row["data"])))
    return tuple(found)


class _Bringing:
    """One rig on its way from one book into another."""

    def __init__(self, there: Connection, here: Connection, into: Database, now: datetime) -> None:
        self._there, self._here, self._into, self._now = there, here, into, now
        self._latest = LEAST_UTC
        self._damaged: list[str] = []

    def rig(self, row: RowMapping, trials: Sequence[RowMapping], name: str) -> Merged:
        here = self._here
        rig_id = here.execute(select(t.rigs.c.id).where(t.rigs.c.name == name)).scalar()
        if rig_id is None:
            values = {"name": name, "data": replace(row["data"], name=name)}
            rig_id = _inserted(here, t.rigs, values)
        ids = (t.trials.c.id, t.trials.c.uid, t.trials.c.number)
        known = {
            one["uid"]: (one["id"], one["number"])
            for one in here.execute(select(*ids).where(t.trials.c.rig_id == rig_id)).mappings()
        }
        searches: dict[int | None, int] = {}
        self._whole("its searches", lambda: searches.update(_searches(self._there, here, row["id"], rig_id)))
        number = last_number(here, rig_id)
        numbers: dict[int, int] = {}
        brought = unfinished = wrong = met = corrected = 0
        for trial in trials:
            same, what = known.get(trial["uid"]), f"trial {trial['number']}"
            if same is not None:
                met += 1
                numbers[trial["number"]] = same[1]
                corrected += bool(self._whole(what, partial(self._correct, trial, same[0])))
            elif trial["station"] != Station.CLOSED.value:
                unfinished += 1
            else:
                came = self._whole(what, partial(self._trial, trial, rig_id, number + 1, searches))
                if came is not None:
                    number, brought, wrong = number + 1, brought + 1, wrong + came
                    numbers[trial["number"]] = number
        for table, keys in OF_A_RIG:
            self._of_rig(table, keys, row["id"], rig_id, numbers)
        return Merged(name, row["name"], brought, met, unfinished, wrong, corrected, tuple(self._damaged))

    def _whole(self, what: str, bring: Callable[[], Came]) -> Came | None:
        """Do it whole or not at all; None where it is damaged there."""
        try:
            with self._here.begin_nested():
                return bring()
        except (*DAMAGE, SQLAlchemyError) as error:
            if isinstance(error, OperationalError):
                raise
            self._damaged.append(what)
            return None

    def _trial(self, brief: RowMapping, rig_id: int, number: int, searches: Mapping[int | None, int]) -> bool:
        """Bring one trial; whether the clock of its machine was wrong."""
        there, here = self._there, self._here
        trial = there.execute(select(t.trials).where(t.trials.c.id == brief["id"])).mappings().one()
        begun = as_utc(trial["begun_utc"])
        off = begun < self._latest or begun > self._now + AHEAD
        note = "; ".join(filter(None, (trial["note"], WRONG_CLOCK if off else "")))
        search_id = searches.get(trial["search_id"])
        values = {**_without_id(trial), "rig_id": rig_id, "number": number, "search_id": search_id, "note": note}
        grids_hold(here, rig_id, trial["in_force"] or trial["setpoint"])
        trial_id = _inserted(here, t.trials, values)
        for table in OF_A_TRIAL:
            _copy(there, here, table, table.c.trial_id == trial["id"], {"trial_id": trial_id})
        _copy(there, here, t.log, t.log.c.trial_id == trial["id"], {"trial_id": trial_id, "rig_id": rig_id})
        changed(here, trial_id)
        self._see_that_it_reads(trial_id)
        self._latest = begun if not off else self._latest
        return off

    def _see_that_it_reads(self, trial_id: int) -> None:
        """Refuse a trial that nobody could read here: values of a plain kind may be nonsense too.

        Raises:
            ValueError: it, or a record of it, cannot be read.
        """
        before = dict(self._into.unread)
        found = gather(self._into, self._here, t.trials.c.id == trial_id)
        new = {what: why for what, why in self._into.unread.items() if what not in before}
        self._into.unread = before
        if new or not found:
            raise ValueError(next(iter(new.values()), "it cannot be read"))

    def _correct(self, brief: RowMapping, trial_id: int) -> bool:
        """Bring what was recorded or undone there since; whether there was any. Where both books have a record that
        stands, the later one does.
        """
        there, here = self._there, self._here
        theirs = there.execute(select(t.records).where(t.records.c.trial_id == brief["id"])).mappings().all()
        known = {
            one["uid"]: one["undone_utc"]
            for one in here.execute(select(t.records).where(t.records.c.trial_id == trial_id)).mappings()
        }
        new = [one for one in theirs if one["uid"] not in known]
        undone = [one for one in theirs if one["undone_utc"] is not None and known.get(one["uid"], 0) is None]
        for one in undone:
            which = t.records.c.uid == one["uid"]
            here.execute(update(t.records).where(which).values(undone_utc=as_utc(one["undone_utc"])))
        if new:
            here.execute(insert(t.records), [{**_without_id(one), "trial_id": trial_id} for one in new])
        if not new and not undone:
            return False
        self._let_stand(brief, trial_id, {one["uid"] for one in new})
        changed(here, trial_id)
        return True

    def _let_stand(self, brief: RowMapping, trial_id: int, new: set[str]) -> None:
        """The latest record stands, with what was in force by it (that of there, where it is ``new`` here); where none
        does, nobody knows how it ended.
        """
        here = self._here
        standing = (t.records.c.trial_id == trial_id) & t.records.c.undone_utc.is_(None)
        of_record = (t.records.c.id, t.records.c.uid, t.records.c.at_utc, t.records.c.seen_by)
        rows = here.execute(select(*of_record).where(standing)).mappings().all()
        if not rows:
            values = {"outcome": Outcome.LOST.value, "seen_by": MERGED, "elapsed_s": 0.0, "detail": UNDONE_THERE}
            here.execute(insert(t.records).values(trial_id=trial_id, at_utc=self._now, **values))
            return
        latest = max(rows, key=lambda one: (one["seen_by"] != MERGED, as_utc(one["at_utc"])))
        others = standing & (t.records.c.id != latest["id"])
        here.execute(update(t.records).where(others).values(undone_utc=self._now))
        if latest["uid"] in new:
            told = self._there.execute(select(t.trials.c.in_force).where(t.trials.c.id == brief["id"])).scalar_one()
            here.execute(update(t.trials).where(t.trials.c.id == trial_id).values(in_force=told))

    def _of_rig(
        self, table: Table, same: tuple[str, ...], from_id: int, rig_id: int, numbers: Mapping[int, int]
    ) -> None:
        """What belongs to the rig and to no trial, each once."""
        there, here = self._there, self._here
        known = {_same(row, same) for row in here.execute(select(table).where(table.c.rig_id == rig_id)).mappings()}
        theirs = there.execute(select(table).where(table.c.rig_id == from_id).order_by(table.c.id)).mappings().all()

        def bring(row: RowMapping) -> None:
            if _same(row, same) not in known:
                self._one(table, row, rig_id, numbers)

        for row in theirs:
            self._whole(f"{table.name} {row['id']}", partial(bring, row))

    def _one(self, table: Table, row: RowMapping, rig_id: int, numbers: Mapping[int, int]) -> None:
        values = {**_without_id(row), "rig_id": rig_id}
        if "after_number" in values:
            before = [new for old, new in numbers.items() if old <= row["after_number"]]
            values["after_number"] = max(before, default=min(row["after_number"], 0))
        if table is t.measures:
            mine_too = select(func.max(table.c.number)).where(table.c.rig_id == rig_id)
            values["number"] = (self._here.execute(mine_too).scalar() or 0) + 1
        self._here.execute(insert(table).values(**values))


OF_A_RIG = (
    (t.works, ("at_utc", "text")),
    (t.part_labels, ("at_utc", "place", "state")),
    (t.value_notes, ("at_utc", "knob")),
    (t.setpoints, ("name",)),
    (t.goldens, ("made_with", "name")),
    (t.measures, ("begun_utc",)),
)
"""Work on parts, labels, notes on values, saved setpoints, goldens, measures; and by what each is known again."""


def _inserted(here: Connection, table: Table, values: Mapping[str, Any]) -> int:
    key = here.execute(insert(table).values(**values)).inserted_primary_key
    assert key is not None
    return int(key[0])


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
            known[begun] = _inserted(here, t.searches, {**_without_id(one), "rig_id": rig_id})
        found[one["id"]] = known[begun]
    return found


def _same(row: RowMapping, keys: Sequence[str]) -> tuple[object, ...]:
    return tuple(as_utc(row[key]) if isinstance(row[key], datetime) else row[key] for key in keys)


def _copy(there: Connection, here: Connection, table: Table, which: Any, instead: Mapping[str, int]) -> None:
    rows = there.execute(select(table).where(which)).mappings().all()
    if rows:
        here.execute(insert(table), [{**_without_id(row), **instead} for row in rows])


def _without_id(row: RowMapping) -> dict[str, Any]:
    """A row's values; one that is damaged makes nothing here.

    Raises:
        ValueError: naming what is.
    """
    bad = next((key for key, value in row.items() if isinstance(value, Damaged)), None)
    if bad is not None:
        raise ValueError(f"{bad} is damaged")
    return {key: as_utc(value) if isinstance(value, datetime) else value for key, value in row.items() if key != "id"}
