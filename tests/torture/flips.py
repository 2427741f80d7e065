"""Books with bytes turned, lost or overwritten: never a traceback, and never a trial that says what it did not say."""

import random
import sqlite3
import tempfile
from contextlib import closing
from pathlib import Path

from tenaz.core.base.errors import TenazError
from tenaz.core.trials.trial import Trial
from tenaz.journal.opening.opening import open_book
from tenaz.journal.store import Store
from tenaz.workshop.errands.carrying_back import merge_book
from tenaz.workshop.errands.demo_book import make_demo_book
from tenaz.workshop.shop.shop import Workshop
from tests.torture.tally import Tally

Told = dict[tuple[str, int], tuple[str, str, float]]


def _told(trials: list[Trial]) -> Told:
    return {(t.rig, t.number): (str(t.outcome), t.verdict.value, t.elapsed_s) for t in trials}


def _read_all(store: Store) -> list[Trial]:
    """Everything that any command or page reads."""
    trials = []
    for rig in store.rigs.all():
        trials += store.trials.of(rig.name)
        store.searches.of(rig.name)
        store.sheets.saved(rig.name)
        store.sheets.notes(rig.name)
        store.goldens.of(rig.name)
        store.log.lines(rig.name)
    for trial in trials:
        store.load.mismatches_of(trial.id)
        store.load.lanes_of(trial.id)
        store.log.said_of(trial.id)
        store.load.traces_of(trial.id)
        store.load.snapshot(trial.id)
    store.trials.unfinished()
    store.trials.newest()
    return trials


def _damaged(luck: random.Random, whole: bytes) -> bytes:
    raw = bytearray(whole)
    match luck.randrange(5):
        case 0:
            return bytes(raw[: luck.randrange(len(raw))])
        case 1:
            at = luck.randrange(len(raw))
            raw[at : at + 4096] = luck.randbytes(min(4096, len(raw) - at))
        case _:
            for _ in range(luck.choice((1, 3, 20, 200))):
                raw[luck.randrange(len(raw))] ^= 1 << luck.randrange(8)
    return bytes(raw)


TABLES = (
    "trials",
    "records",
    "rigs",
    "searches",
    "readings",
    "mismatches",
    "traces",
    "log",
    "heartbeats",
    "moves",
    "snapshots",
)
KEYS = ("id", "rig_id", "trial_id")
NO_VALUES = (b"\xff\xfe\x00", "nonsense", "", -1, 1e300, '{"a": 1}', "[]", "null", b"", "2026-99-99")


def _spoil_rows(luck: random.Random, path: Path) -> None:
    """Values inside rows that are none any more; SQLite itself finds nothing wrong with them."""
    with closing(sqlite3.connect(path)) as connection, connection:
        for _ in range(luck.randrange(1, 6)):
            table, value = luck.choice(TABLES), luck.choice(NO_VALUES)
            columns = [row[1] for row in connection.execute(f"PRAGMA table_info({table})") if row[1] not in KEYS]
            ids = [row[0] for row in connection.execute(f"SELECT rowid FROM {table}")]
            if ids:
                change = f"UPDATE OR IGNORE {table} SET {luck.choice(columns)} = ? WHERE rowid = ?"
                connection.execute(change, (value, luck.choice(ids)))


def flips(count: int, seed: int) -> Tally:
    """So many damaged books, read by everything that reads."""
    tally, luck = Tally("damaged books"), random.Random(f"flips:{seed}")
    with tempfile.TemporaryDirectory() as name:
        whole_path = Path(name) / "whole.db"
        make_demo_book(whole_path)
        opened = open_book(whole_path, read_only=True)
        right = _told(_read_all(opened.store))
        opened.close()
        whole = whole_path.read_bytes()
        for number in range(count):
            path = Path(name) / f"{number}.db"
            kind = "rows" if number % 2 else "bytes"
            path.write_bytes(whole if kind == "rows" else _damaged(luck, whole))
            if kind == "rows":
                _spoil_rows(luck, path)
            tally.attempt(f"book {number}, {kind}", lambda path=path, kind=kind: _try(path, right, kind))  # type: ignore[misc]
            path.unlink()
    return tally


def _try(path: Path, right: Told, kind: str) -> str:
    try:
        opened = open_book(path, read_only=True)
    except TenazError:
        return ""
    try:
        told, passed_over = _told(_read_all(opened.store)), len(opened.store.unread)
    except TenazError:
        return ""
    finally:
        opened.close()
    if not set(told) <= set(right) and kind == "rows":
        return f"trials that there never were: {set(told) - set(right)}"
    if kind == "rows" and len(told) < len(right) and not passed_over:
        return "trials are missing and nothing says so"
    workshop = Workshop()
    try:
        workshop.open(path, read_only=True)
        workshop.view()
    except TenazError:
        pass
    finally:
        workshop.close()
    return ""


def merges(count: int, seed: int) -> Tally:
    """So many damaged books brought into a good one: what is damaged is left there, what is here stays as it is, and
    what came once does not come again.
    """
    tally, luck = Tally("damaged books brought home"), random.Random(f"merges:{seed}")
    with tempfile.TemporaryDirectory() as name:
        whole_path, place = Path(name) / "whole.db", Path(name) / "theirs.db"
        make_demo_book(whole_path)
        whole = whole_path.read_bytes()
        for number in range(count):
            place.write_bytes(whole if number % 2 else _damaged(luck, whole))
            if number % 2:
                _spoil_rows(luck, place)
            home = Path(name) / f"home-{number}.db"
            tally.attempt(f"book {number}", lambda home=home: _bring_home(place, home))  # type: ignore[misc]
            home.unlink(missing_ok=True)
    return tally


def _bring_home(place: Path, home: Path) -> str:
    opened = open_book(home)
    try:
        came = merge_book(place, opened.store)
        first = _told(_read_all(opened.store))
        if sum(one.brought for one in came) != len(first):
            return f"{came} told, {len(first)} came"
        again = merge_book(place, opened.store)
        if any(one.brought or one.corrected for one in again) or _told(_read_all(opened.store)) != first:
            return f"not the same when it came again: {again}"
        unread = {what: why for what, why in opened.store.unread.items() if what.startswith(("trial", "record"))}
        return f"what came cannot be read: {unread}" if unread else ""
    except TenazError:
        return ""
    finally:
        opened.close()
