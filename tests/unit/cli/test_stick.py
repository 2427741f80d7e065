"""``tenaz stick`` and what it brings home, on the command line."""

import json
from pathlib import Path

import pytest
from typer.testing import CliRunner, Result

from tenaz.cli.app import app
from tenaz.core.base.errors import Refused
from tenaz.core.loads.plan import WorkerProgress
from tenaz.core.machine.physical_memory import Laid, Span
from tenaz.core.trials.trial import Heartbeat
from tenaz.journal.opening.opening import open_book
from tenaz.stick.making import StickMaker
from tenaz.tui.screens.make_stick import target_of
from tests.make import SteppedClock

MIB = 1 << 20


def tenaz(*arguments: str) -> Result:
    return CliRunner().invoke(app, list(arguments))


@pytest.fixture
def tried(tmp_path: Path, clock: SteppedClock) -> Path:
    """A book with one load of ten seconds, half of whose memory was gone over."""
    place = tmp_path / "tried.db"
    done = tenaz("--book", str(place), "load", "march", "--for", "1s", "--size", "16MiB", "--json")
    assert done.exit_code in (0, 3)
    opened = open_book(place)
    (trial,) = opened.store.trials.of("this machine")
    opened.store.load.laid(trial.id, Laid((Span(0, 64 * MIB),), (), ((Span(0, 32 * MIB),),), 64 * MIB))
    opened.store.load.heartbeat(trial.id, Heartbeat(1.0, "x", clock.utc()), (WorkerProgress(0, 0, laps=2.0),))
    opened.close()
    return place


def test_what_was_reached_is_told_in_letters_and_in_json(tried: Path) -> None:
    told = tenaz("--book", str(tried), "stick", "reached").stdout
    assert "50.0 % of 64 MiB fitted" in told
    assert "2" * 32 in told
    found = json.loads(tenaz("--book", str(tried), "stick", "reached", "--json").stdout)
    assert (found["rig"], found["share"], found["wrong"]) == ("this machine", 0.5, [])
    assert found["spans"][0] == {"start": 0, "end": 32 * MIB, "is": "gone over", "times": 2}
    nothing = tenaz("--book", str(tried), "stick", "reached", "--rig", "nobody")
    assert nothing.exit_code == 2
    assert "nobody" in nothing.stderr


def test_the_book_of_a_stick_comes_home(tried: Path, tmp_path: Path) -> None:
    home = tmp_path / "home.db"
    first = tenaz("--book", str(home), "book", "merge", str(tried))
    assert (first.exit_code, first.stdout) == (
        0, "from the stick (there this machine): 1 trials brought, 0 were here already\n",
    )  # fmt: skip
    assert "0 trials brought, 1 were here already" in tenaz("--book", str(home), "book", "merge", str(tried)).stdout
    wrong = tenaz("--book", str(home), "book", "merge", str(tmp_path / "none"))
    assert wrong.exit_code == 2
    assert "There is nothing at" in wrong.stderr
    # The word by itself is still looked for in the book.
    assert "merge is typed so" in tenaz("--book", str(home), "book", "merge").output


def test_a_stick_is_made_of_what_may_be_erased_only(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(StickMaker, "image", lambda self, out, size=0, replace=False: 3 * MIB)
    made = tenaz("stick", "make", str(tmp_path / "x.img"))
    assert (made.exit_code, "3 MiB" in made.stdout) == (0, True)
    for arguments in (("make", "/dev/nowhere"), ("restore", "/dev/nowhere", "--name", "x")):
        refused = tenaz("stick", *arguments)
        assert refused.exit_code == 2
        assert "is no disk" in refused.stderr
    for text in ("x.iso", "", "/dev/nowhere name"):
        with pytest.raises(Refused):
            target_of(text)
    assert target_of("x.img")[1] == ""
