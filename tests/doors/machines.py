"""Several machines in one test: each with a place of its own for what it keeps."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest

from tenaz.journal.opening.opening import OpenBook, open_book


class Machines:
    """Books opened as if on machines of their own."""

    def __init__(self, folder: Path, monkeypatch: pytest.MonkeyPatch) -> None:
        self._folder, self._monkeypatch = folder, monkeypatch
        self._opened: list[OpenBook] = []

    def stand_at(self, name: str) -> None:
        """From now on everything happens on this machine."""
        self._monkeypatch.setenv("XDG_DATA_HOME", str(self._folder / name))

    def open(self, name: str, place: str, read_only: bool = False) -> OpenBook:
        """Open a book there."""
        self.stand_at(name)
        self._opened.append(open_book(place, read_only))
        return self._opened[-1]

    def close(self) -> None:
        """Close all that are open."""
        while self._opened:
            self._opened.pop().close()


@contextmanager
def machines(folder: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Machines]:
    """Some of them; what they opened is closed at the end."""
    made = Machines(folder, monkeypatch)
    try:
        yield made
    finally:
        made.close()
