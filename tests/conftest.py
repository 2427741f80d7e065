"""What many tests need: a clock that is told the time, an open book, the demo rig."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import settings

from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.trials.trial import Trial
from tenaz.demo.ridge import ridge
from tenaz.journal.opening.opening import open_book
from tenaz.journal.store import Store
from tests.make import HOUR, SteppedClock

settings.register_profile("patient", deadline=None)
settings.load_profile("patient")


LOADING: dict[str, tuple[str, ...]] = {
    "contract/test_loads.py": (),
    "contract/test_standstill.py": (),
    "contract/test_programs.py": (),
    "contract/test_benches.py": ("[here", "[wire"),
    "contract/test_wire.py": (),
    "contract/test_ceilings.py": ("this_machine", "whatever", "no_temperature", "does_not_answer", "nobody_hears"),
    "unit/workshop/test_aboard.py": (),
    "unit/cli/test_cli.py": ("_load_",),
    "unit/cli/test_measure.py": (),
    "unit/measuring/test_measuring.py": (),
    "unit/test_torture.py": ("workers", "blinded"),
}
"""Tests that load this machine for real, and ask what came of it: one at a time. Of a file all, or those with one of
these words in their name; single ones elsewhere say so themselves.
"""


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """What loads the machine goes one at a time, and last: then all else is over, and its cores are its own."""
    for item in items:
        words = next((LOADING[part] for part in LOADING if item.path.as_posix().endswith(part)), None)
        if words is not None and (not words or any(word in item.name for word in words)):
            item.add_marker(pytest.mark.xdist_group("loading"))
            item.add_marker(pytest.mark.loading)
    items.sort(key=lambda item: item.get_closest_marker("loading") is not None)


@pytest.fixture(autouse=True)
def _settings(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Nobody's own settings, and nobody's own books."""
    monkeypatch.setenv("TENAZ_SETTINGS", str(tmp_path / "settings.toml"))
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))


@pytest.fixture
def clock() -> SteppedClock:
    return SteppedClock()


@pytest.fixture
def rig() -> Rig:
    return ridge()


@pytest.fixture
def book(tmp_path: Path) -> Path:
    return tmp_path / "book.db"


@pytest.fixture
def store(book: Path, rig: Rig) -> Iterator[Store]:
    opened = open_book(book)
    opened.store.rigs.put(rig)
    yield opened.store
    opened.close()


@pytest.fixture
def open_trial(store: Store, rig: Rig, clock: SteppedClock) -> Trial:
    return store.trials.begin(rig, BenchKind.HAND, rig.stock, HOUR, clock)
