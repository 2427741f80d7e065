"""What was left running is joined again, whoever was killed meanwhile; where it cannot be, it is not said to go on."""

import tempfile
import threading
import time
from collections.abc import Iterator
from multiprocessing.connection import Client
from pathlib import Path
from types import SimpleNamespace
from typing import Any

import pytest

from tenaz.core.base.errors import BookError
from tenaz.core.ports.events import Logged
from tenaz.core.rigs.rig import BenchKind
from tenaz.orders.wire import PROTOCOL
from tenaz.workshop.shop.staying import Staying, listen, receive, send, socket_of
from tests.patience import PATIENCE_S


@pytest.fixture(autouse=True)
def runtime(monkeypatch: pytest.MonkeyPatch) -> Iterator[Path]:
    # The name of a socket must be short.
    with tempfile.TemporaryDirectory(prefix="tz", dir="/tmp") as name:
        monkeypatch.setenv("XDG_RUNTIME_DIR", name)
        yield Path(name)


class Shop:
    """Something that runs, and tells of it again and again."""

    def __init__(self) -> None:
        self.rig, self.bench = SimpleNamespace(name="ridge"), BenchKind.SIM
        self.running = SimpleNamespace(asking=None)
        self.at = SimpleNamespace(runs=True)
        self.told: Any = lambda event: None

    def publish_to(self, told: Any) -> None:
        self.told = told

    def next_back(self) -> str:
        return ""


def test_it_is_joined_again_after_every_guest_that_was_killed(tmp_path: Path) -> None:
    book, shop = tmp_path / "book.db", Shop()
    staying = Staying(shop, listen(book, "ridge"))  # type: ignore[arg-type]
    serving = threading.Thread(target=staying.serve)
    serving.start()
    for number in range(16):
        guest = Client(str(socket_of(book, "ridge")), family="AF_UNIX")
        assert receive(guest)["protocol"] == PROTOCOL
        if number % 2:
            send(guest, {"number": 1, "state": True})
        guest.close()
    guest = Client(str(socket_of(book, "ridge")), family="AF_UNIX")
    assert receive(guest)["protocol"] == PROTOCOL
    second = Client(str(socket_of(book, "ridge")), family="AF_UNIX")
    assert "taken" in receive(second)
    # A guest that takes nothing any more does not hold up what runs.
    began = time.monotonic()
    for _ in range(2000):
        shop.told(Logged("loop", "x" * 1000))
    assert time.monotonic() - began < PATIENCE_S / 2
    third = Client(str(socket_of(book, "ridge")), family="AF_UNIX")
    assert receive(third)["protocol"] == PROTOCOL
    third.close()
    shop.at.runs = False
    serving.join(PATIENCE_S)
    assert not serving.is_alive()
    assert not socket_of(book, "ridge").exists()


def test_a_folder_with_a_long_name_gives_way_to_a_short_one(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("XDG_RUNTIME_DIR", str(tmp_path / ("x" * 90)))
    listener = listen(tmp_path / "book.db", "ridge")
    assert len(str(listener.address)) < 100
    listener.close()


@pytest.mark.parametrize("how", ["entered by others", "no folder"])
def test_where_nobody_could_join_it_is_said_and_nothing_is_left(tmp_path: Path, runtime: Path, how: str) -> None:
    if how == "no folder":
        (runtime / "tenaz").write_text("a file")
    else:
        (runtime / "tenaz").mkdir(mode=0o755)
        (runtime / "tenaz").chmod(0o755)
    with pytest.raises(BookError, match=r"[Nn]othing can be left running"):
        listen(tmp_path / "book.db", "ridge")
