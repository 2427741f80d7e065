"""The first look is shown only where it is certainly what the book would show."""

import json
import os
import sqlite3
from contextlib import closing
from pathlib import Path

import pytest

from tenaz.journal.opening.opening import open_book
from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.marks import Role
from tenaz.tui.app.first_look import FirstLook, drawn, find, keep, rows_of

SIZE = (158, 48)


@pytest.fixture
def kept(book: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> FirstLook:
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))
    open_book(book).close()
    cells = Cells(20, 2)
    cells.put(2, 1, "✗ 6200 MT/s", Role.FAILED)
    look = FirstLook(SIZE, {"page": rows_of(cells)}, ("ridge", "sim", "next load"), ("c   climb", "why"))
    keep(book, look)
    return look


def test_what_was_kept_is_found_as_long_as_nothing_was_written(book: Path, kept: FirstLook, tmp_path: Path) -> None:
    found = find(book, SIZE)
    assert found is not None
    assert drawn(found.panels["page"], 20, 2).text() == drawn(kept.panels["page"], 20, 2).text()
    assert (found.rail, found.next_step) == (kept.rail, kept.next_step)
    assert find(book, (80, 24)) is None, "another window"
    (place,) = (tmp_path / "cache" / "tenaz" / "looks").iterdir()
    assert place.stat().st_mode & 0o077 == 0, "nobody else reads it"
    with closing(sqlite3.connect(book)) as connection:
        connection.execute("PRAGMA user_version = 3")
        assert find(book, SIZE) is None, "somebody has it open and wrote"
    os.utime(book)
    assert find(book, SIZE) is None


@pytest.mark.parametrize(
    "spoil", [b"", b"[]", b'{"version": 1}', b"{" * 60_000, b"\xff\xfe", b'{"panels": {"page": [[["x", "gold"]]]}}']
)
def test_a_look_that_is_damaged_is_none(book: Path, kept: FirstLook, tmp_path: Path, spoil: bytes) -> None:
    (place,) = (tmp_path / "cache" / "tenaz" / "looks").iterdir()
    whole = json.loads(place.read_bytes())
    place.write_bytes(spoil)
    assert find(book, SIZE) is None
    place.write_text(json.dumps({**whole, "panels": {"page": [[["x", "gold"]]]}}))
    assert find(book, SIZE) is None
    place.write_text(json.dumps({**whole, "version": "0.0.1"}))
    assert find(book, SIZE) is None
