"""Random histories of two books: one away, one at home; each is written in, they meet, and meetings are cut short."""

import random
import shutil
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import TYPE_CHECKING, Any
from uuid import uuid4

from sqlalchemy import select, update

from tenaz.core.base.loop import Move, Station
from tenaz.core.base.outcomes import Outcome
from tenaz.core.parts.works import parse_label
from tenaz.core.ports.bench import StationReport
from tenaz.core.rigs.notes import NoteKind, ValueNote
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.searches.plans import Planned
from tenaz.core.searches.search import SearchPlan
from tenaz.core.trials.past_trials import PastTrial
from tenaz.core.trials.record_text import SeenRecord
from tenaz.core.trials.trial import Heartbeat, Trial
from tenaz.demo.ridge import ridge
from tenaz.journal.base import tables as t
from tenaz.journal.feed.kinds import KINDS, LINES
from tenaz.journal.feed.meeting import Meeting
from tenaz.journal.feed.things import Side
from tenaz.journal.opening.opening import OpenBook, open_book
from tenaz.journal.store import Store
from tests.make import HOUR, SteppedClock

if TYPE_CHECKING:
    from collections.abc import Callable

OUTCOMES = [Outcome.HELD, Outcome.FROZE, Outcome.ERRED, Outcome.LOST]


class CutShort(Exception):
    """As if somebody had pulled the plug."""


class Clock(SteppedClock):
    """Of one of the two."""

    def utc(self) -> datetime:
        """A second later each time: no two things happen at once."""
        self.now_s += 1
        return datetime(2026, 1, 6, 9, 0, tzinfo=UTC) + timedelta(seconds=self.now_s)


def template(folder: Path) -> Path:
    """An empty book, made once."""
    made = folder / "empty.db"
    if not made.exists():
        open_book(made).close()
    return made


def fresh(folder: Path, name: str) -> Path:
    """A book of its own."""
    place = folder / f"{name}.db"
    for end in ("", "-wal", "-shm"):
        place.with_name(place.name + end).unlink(missing_ok=True)
    shutil.copy(template(folder), place)
    opened = open_book(place)
    with opened.store._database.writing() as connection:
        connection.execute(update(t.about).values(value=uuid4().hex))
    opened.close()
    return place


class History:
    """One of them."""

    def __init__(self, seed: int, home: OpenBook, away: OpenBook) -> None:
        self.dice = random.Random(seed)
        self.home, self.away = home, away
        self.clock = Clock()
        self.rig = ridge()
        self.trials: set[str] = set()
        self.taken_out: set[str] = set()
        self.going: Meeting | None = None
        home.store.rigs.put(self.rig)
        if self.dice.random() < 0.3:
            away.store.rigs.put(replace(self.rig, owner="made away"))
        self.meet()

    def play(self, steps: int = 24) -> None:
        """Write here and there, meet now and then, be cut short sometimes."""
        for _ in range(steps):
            if self.dice.random() < 0.2:
                self.meet(cut=self.dice.choice([None, None, "told", "heard", "taking"]))
            else:
                self.write(self.dice.choice([self.home, self.away]).store)
        self.meet()

    def meet(self, cut: str | None = None) -> None:
        """Let them meet; cut it short at a place."""
        meeting = Meeting(self.away.store._database, self.home.store._database)
        if cut is not None:
            _cut(meeting, cut)
        elif self.dice.random() < 0.6:
            # As where one is open for long.
            meeting = self.going = self.going or meeting
        try:
            meeting.until_quiet(self.clock.utc)
        except CutShort:
            return

    def write(self, store: Store) -> None:
        """Do one thing that a technician does."""
        things: list[Callable[[Store, Rig], None]] = [
            self._try, self._try, self._try, self._open, self._undo, self._note, self._value_note, self._setpoint,
            self._work, self._label, self._settings, self._search, self._measure, self._routine, self._report,
            self._planned, self._log, self._enter, self._golden, self._new_rig,
        ]  # fmt: skip
        rigs = store.rigs.all()
        if rigs:
            self.dice.choice(things)(store, self.dice.choice(rigs))

    # -- what a technician does ----------------------------------------

    def _begun(self, store: Store, rig: Rig) -> Trial:
        setpoint = rig.stock.replacing("data_rate_mts", self.dice.choice([4800, 5600, 6000, 6037]))
        trial = store.trials.begin(rig, BenchKind.SIM, setpoint, HOUR, self.clock)
        self.trials.add(trial.uid)
        beat = Heartbeat(self.dice.random() * 100, "boot", self.clock.utc())
        store.load.heartbeat(trial.id, beat)
        return trial

    def _try(self, store: Store, rig: Rig) -> None:
        self._judge(store, self._begun(store, rig))

    def _judge(self, store: Store, trial: Trial) -> None:
        if trial.station is not Station.JUDGE:
            trial = store.trials.move(trial, StationReport(Move.STOP, "ended"), self.clock)
        store.trials.record(trial, self.dice.choice(OUTCOMES), "test", self.clock, elapsed_s=self.dice.random() * 3600)

    def _open(self, store: Store, rig: Rig) -> None:
        self._begun(store, rig)

    def _some(self, store: Store, rig: Rig, open_too: bool = False) -> Trial | None:
        found = [one for one in store.trials.of(rig.name) if open_too or one.station is Station.CLOSED]
        return self.dice.choice(found) if found else None

    def _undo(self, store: Store, rig: Rig) -> None:
        trial = self._some(store, rig)
        if trial is None:
            return
        trial = store.trials.undo(trial, self.clock)
        if self.dice.random() < 0.7:
            self._judge(store, trial)

    def _note(self, store: Store, rig: Rig) -> None:
        if (trial := self._some(store, rig, open_too=True)) is not None:
            store.trials.note(trial.id, f"note {self.dice.randrange(5)}")

    def _value_note(self, store: Store, rig: Rig) -> None:
        notes = store.sheets.notes(rig.name)
        if notes and self.dice.random() < 0.6:
            one = self.dice.choice(notes)
            store.sheets.drop_note(one.id) if self.dice.random() < 0.5 else store.sheets.settle(one.id, not one.settled)
            return
        store.sheets.note(rig.name, ValueNote("data_rate_mts", 6000, NoteKind.FLOOR, "as low"), self.clock)

    def _setpoint(self, store: Store, rig: Rig) -> None:
        saved = [one.name for one in store.sheets.saved(rig.name)]
        name = f"daily {self.dice.randrange(3)}"
        if name in saved:
            store.sheets.drop(rig.name, name)
        else:
            store.sheets.save(rig.name, name, rig.stock, "", self.clock)

    def _work(self, store: Store, rig: Rig) -> None:
        done = store.works.of(rig.name, BenchKind.HAND)
        if done and self.dice.random() < 0.3:
            store.works.take_out(done[-1].id)
            return
        from tenaz.core.parts.fitting import Fitting  # noqa: PLC0415

        store.works.add(rig.name, BenchKind.HAND, Fitting(), "swap A1", "swapped", 5.0, Fitting(), self.clock)

    def _label(self, store: Store, rig: Rig) -> None:
        store.works.label(rig.name, parse_label("module 2262 bad"), self.clock)

    def _settings(self, store: Store, rig: Rig) -> None:
        store.rigs.put(replace(store.rigs.one(rig.name), owner=f"owner {self.dice.randrange(4)}"))

    def _search(self, store: Store, rig: Rig) -> None:
        going = store.searches.going(rig.name, BenchKind.SIM)
        if going is not None:
            store.searches.end(going.id, f"ended {self.dice.randrange(9)}", self.clock)
            return
        plan = SearchPlan(0, rig.name, BenchKind.SIM, ("data_rate_mts",), rig.stock, HOUR, "adapt")
        plan = store.searches.begin(plan, self.clock)
        trial = store.trials.begin(rig, BenchKind.SIM, rig.stock, HOUR, self.clock, search_id=plan.id)
        self.trials.add(trial.uid)
        self._judge(store, trial)

    def _measure(self, store: Store, rig: Rig) -> None:
        store.measures.begin(rig.name, BenchKind.SIM, rig.stock, self.clock)

    def _routine(self, store: Store, rig: Rig) -> None:
        del rig
        store.routines.save(f"routine {self.dice.randrange(2)}", f"march {self.dice.randrange(1, 9)}h", self.clock)

    def _report(self, store: Store, rig: Rig) -> None:
        store.reports.keep(rig.name, BenchKind.SIM, 1, b"it says so", self.clock.utc())

    def _planned(self, store: Store, rig: Rig) -> None:
        store.plans.add(rig.name, BenchKind.SIM, [Planned(0, rig.stock, HOUR, "because")], self.clock)

    def _log(self, store: Store, rig: Rig) -> None:
        trial = self._some(store, rig, open_too=True)
        store.log.write(rig.name, trial.id if trial else None, "test", f"line {self.dice.random()}", self.clock)

    def _enter(self, store: Store, rig: Rig) -> None:
        past = PastTrial(rig.stock, HOUR, SeenRecord(Outcome.HELD, 60.0))
        (entered,) = store.afterwards.enter([(rig, BenchKind.HAND, [past])], self.clock)
        self.trials.add(entered.uid)
        if self.dice.random() < 0.5:
            store.afterwards.take_out([entered])
            self.taken_out.add(entered.uid)

    def _golden(self, store: Store, rig: Rig) -> None:
        store.goldens.put(rig.name, {f"made {self.dice.randrange(2)}": {"a": uuid4().hex}}, self.clock)

    def _new_rig(self, store: Store, rig: Rig) -> None:
        name = f"rig {self.dice.randrange(3)}"
        if name not in store.rigs.names():
            store.rigs.put(replace(rig, name=name, benches=(BenchKind.HAND,), machine=None))


def _cut(meeting: Meeting, where: str) -> None:
    """Cut the meeting short once it came there."""
    if where == "told":
        tell = meeting._tell

        def told(*all_of: Any) -> Any:
            tell(*all_of)
            raise CutShort

        meeting._tell = told  # type: ignore[method-assign]
    elif where == "heard":

        def heard(*_: Any) -> Any:
            raise CutShort

        meeting._take = heard  # type: ignore[method-assign]
    else:
        take = meeting._take

        def taking(*all_of: Any) -> Any:
            from tenaz.journal.feed import meeting as module  # noqa: PLC0415

            keep, module.keep_peer = module.keep_peer, _fail  # type: ignore[assignment]
            try:
                return take(*all_of)
            finally:
                module.keep_peer = keep

        meeting._take = taking  # type: ignore[method-assign]


def _fail(*_: Any) -> None:
    raise CutShort


def everything(store: Store) -> dict[str, Any]:
    """All that a book holds, as it would be in any other."""
    database = store._database
    found: dict[str, Any] = {}
    with database.reading() as connection:
        side = Side(database, connection)
        for kind in KINDS:
            of = t.rigs if kind.name in ("goldens", "machine") else kind.table
            uids = list(connection.execute(select(of.c.uid)).scalars())
            assert len(uids) == len(set(uids)), f"each {kind.name} once"
            found[kind.name] = side.things(kind, uids)
        from tenaz.journal.feed.lines import _neutral  # noqa: PLC0415

        for table in LINES:
            rows = connection.execute(select(table)).mappings().all()
            found[table.name] = sorted(map(repr, _neutral(side, table, rows)))
    assert not side.damaged
    return found


def differing(one: dict[str, Any], other: dict[str, Any]) -> list[str]:
    """Where two differ, in words."""
    found = []
    for name, mine in one.items():
        theirs = other[name]
        if isinstance(mine, dict):
            found += [
                f"{name} {uid[:6]}: {mine.get(uid)} and {theirs.get(uid)}"
                for uid in {*mine, *theirs}
                if mine.get(uid) != theirs.get(uid)
            ]
        elif mine != theirs:
            found.append(f"{name}: {len(mine)} and {len(theirs)}: {set(mine) ^ set(theirs)}")
    return found
