"""Two benches at one book, in the real interface: who works on what is seen, and the server may go away."""

from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import pytest

from tenaz.demo.ridge import ridge
from tenaz.journal.opening.addresses import server_address
from tenaz.journal.opening.server import open_on_server
from tests.doors.server import Server, server
from tests.terminal.screen import Screen

pytestmark = pytest.mark.terminal


@pytest.fixture
def postgresql() -> Iterator[Server]:
    with server() as running:
        yield running


def test_two_benches_see_each_other_and_work_goes_on_while_the_server_is_away(
    postgresql: Server, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    url = postgresql.fresh()
    opened = open_on_server(server_address(url))
    for rig in (ridge(), replace(ridge(), name="brook")):
        opened.rigs.put(rig)
    opened.close()
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "one"))
    with Screen("--book", url) as one:
        one.until("ridge on sim")
        monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "two"))
        with Screen("--book", url) as two:
            two.until("ridge on sim")
            two.press("p›d").until("ridge .*@")
            one.press("a›l").until("load, now")
            one.type("march 24h").until_gone("load, now")
            one.press("t")
            two.until(r"ridge .*@.*: trial 1: march \d+%")
            postgresql.stop()
            try:
                one.until("does not answer")
                two.until("does not answer|server is away")
                two.until("READ-ONLY")
            finally:
                postgresql.start()
            two.until(r"ridge .*@.*: trial 1: march \d+%")
            one.press("s").until("recorded|stopped")
            two.until(r"trial 1: stopped")
