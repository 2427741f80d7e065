"""Rigs across a wire in the real interface: one loads there while another is worked on; the line is cut; joined."""

from dataclasses import replace
from pathlib import Path

import pytest

from tenaz.core.base.outcomes import Outcome
from tenaz.core.rigs.rig import BenchKind
from tenaz.demo.ridge import ridge
from tenaz.intake.form.reaching import wired
from tenaz.journal.opening.opening import open_book
from tests.doors.wire import Sshd, sshd
from tests.terminal.screen import Screen

pytestmark = pytest.mark.terminal


@pytest.fixture
def far(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Sshd:
    with sshd(tmp_path) as server:
        for name, value in server.environment().items():
            monkeypatch.setenv(name, value)
        yield server


def test_a_load_across_the_wire_goes_on_while_another_rig_is_worked_on(book: Path, far: Sshd) -> None:
    opened = open_book(book)
    # Nothing is known of its parts: they are this machine's own.
    bare = replace(ridge(), name="shed", processor="", cores=None, memory_bytes=None, machine=None)
    shed = replace(wired(bare, f"ssh {far.host}"), benches=(BenchKind.WIRE, BenchKind.HAND))
    for rig in (ridge(), shed):
        opened.store.rigs.put(rig)
    opened.close()
    with Screen("--book", str(book)) as screen:
        screen.until("ridge on sim")
        screen.press("r›l").until("which rig")
        screen.type("shed").until("shed on wire")
        screen.press("a›l").until("load, now")
        screen.type("transform l1 25s 1 worker").until_gone("load, now")
        screen.press("t").until("about .* of shed")
        screen.agree().until("as asked")
        screen.press("y").until("GFLOP/s")
        far.proxy.refuses = True
        far.proxy.cut()
        screen.until("no sign of life since")
        far.proxy.refuses = False
        screen.until("the rig stayed up")
        # Another rig meanwhile; this one's run is left, and seen on the day.
        screen.press("r›l").until("which rig")
        screen.type("ridge").until("ridge on sim")
        screen.press("p›d").until("shed .*transform")
        screen.press("r›l").until("which rig")
        screen.type("shed").until("shed on wire")
        screen.until(r"trial 1: held \(pass\)")
        screen.press("q").until("LEFT WITH 0")
    opened = open_book(book, read_only=True)
    (trial,) = opened.store.trials.of("shed")
    assert (trial.outcome, round(trial.elapsed_s)) == (Outcome.HELD, 25)
    opened.close()
