"""Aboard the stick, through the door of the workshop: which machine it is, what comes next, what is left behind."""

import re
import subprocess
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pytest

from tenaz import orders as o
from tenaz.aboard.ending import ending
from tenaz.aboard.medium import keyboards, set_keyboard
from tenaz.core.base.errors import Refused
from tenaz.core.base.loop import Move
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.machine.kept_free import Which
from tenaz.core.machine.machine import Machine, MemoryModule
from tenaz.core.machine.physical_memory import Laid, Span
from tenaz.core.ports.bench import StationReport
from tenaz.core.ports.events import RunEnded, StandingPaused
from tenaz.core.rigs.rig import Rig
from tenaz.core.trials.trial import Heartbeat
from tenaz.intake import new_rigs
from tenaz.papers.square_code import square_rows
from tenaz.papers.stick_report import StickReport
from tenaz.pictures.memory.build import memory_picture
from tenaz.stick.keyboards import LAYOUTS, keymap_text
from tenaz.tui.controllers.stick import parse_standing
from tenaz.workshop.shop.aboard import REASON
from tenaz.workshop.shop.shop import Workshop
from tests.make import SteppedClock
from tests.patience import PATIENCE_S

GIB = 1 << 30
TWO = (
    MemoryModule("A1", 0), MemoryModule("A2", 8 * GIB, serial="0042"), MemoryModule("B1", 0),
    MemoryModule("B2", 8 * GIB, serial="0051"),
)  # fmt: skip
Put = Callable[..., None]


@pytest.fixture
def put_into(monkeypatch: pytest.MonkeyPatch) -> Put:
    """Put the stick into a machine."""
    monkeypatch.setenv("TENAZ_ABOARD", "1")
    real = new_rigs.this_machine

    def put(serial: str = "B-17", modules: tuple[MemoryModule, ...] = TWO) -> None:
        def this() -> Rig:
            rig = real()
            machine = replace(rig.machine or Machine(), board_serial=serial, modules=modules)
            return replace(rig, machine=machine)

        monkeypatch.setattr(new_rigs, "this_machine", this)

    put()
    return put


class Aboard:
    """A workshop aboard, with what it published and how the machine was left."""

    def __init__(self, book: Path) -> None:
        self.events: list[object] = []
        self.workshop = Workshop(self.events.append)
        self.workshop.open(book)

    def follow(self) -> None:
        self.workshop.do(o.FollowStanding())
        self.workshop.running.wait(60)

    @property
    def paused(self) -> list[str]:
        return [event.text for event in self.events if isinstance(event, StandingPaused)]

    def outcomes(self) -> list[Outcome | None]:
        return [trial.outcome for trial in self.workshop.trials()]


def test_each_machine_is_a_rig_of_its_own(book: Path, put_into: Put) -> None:
    for serial, name in (("B-17", "this machine"), ("B-18", "this machine 2"), ("B-17", "this machine")):
        put_into(serial)
        aboard = Aboard(book)
        assert aboard.workshop.rig.name == name
        if not aboard.workshop.store.trials.newest():
            aboard.workshop.do(o.StandBy(parse_standing("march 1s 16MiB | 1 | still")))
        # In another machine the same order begins anew.
        seen = aboard.workshop.view().aboard
        assert seen is not None
        assert seen.coming == "march for 1s, 16 MiB"
        aboard.follow()
        aboard.workshop.close()


def test_it_records_what_nobody_saw_and_goes_on(book: Path, put_into: Put) -> None:
    aboard = Aboard(book)
    shop, clock = aboard.workshop, SteppedClock()
    shop.do(o.StandBy(parse_standing("march 1s 16MiB; permute 1s 16MiB | 1 | still | go on | 3")))
    plan = LoadPlan(LoadKind.MARCH, 1.0, size_bytes=16 << 20)
    trial = shop.store.trials.begin(
        shop.rig, shop.bench, shop.in_force(), plan, clock, reason="standing order of the stick"
    )
    for move in (Move.ENTERED, Move.CAME_UP, Move.CONFIRMED):
        trial = shop.store.trials.move(trial, StationReport(move), clock)
    shop.store.load.heartbeat(trial.id, Heartbeat(7.0, "another boot", clock.utc()))
    seen = shop.view().aboard
    assert seen is not None
    assert "record trial 1 as restarted, nobody saw it" in seen.coming
    aboard.follow()
    first, second = aboard.outcomes()
    assert first is Outcome.RESTARTED
    assert second is not None
    assert second.ran_clean
    record = shop.trials()[0]
    assert (record.seen_by, record.elapsed_s) == ("Tenaz", 7.0)
    aboard.follow()
    assert aboard.paused == ["the standing order has ended: the start is done"]
    assert not [event for event in aboard.events if isinstance(event, RunEnded) and event.trouble]
    shop.close()


def test_a_start_with_another_range_is_told_to_the_next_or_let_be(
    book: Path, put_into: Put, monkeypatch: pytest.MonkeyPatch
) -> None:
    told: list[object] = []
    memory = (Span(1 << 20, 4 * GIB),)
    monkeypatch.setattr("tenaz.probe.memory_map.firmware_memory", lambda *_: memory)
    monkeypatch.setattr("tenaz.aboard.medium.tell_next_start", told.append)
    monkeypatch.setattr("tenaz.aboard.medium.leave_for", told.append)
    aboard = Aboard(book)
    aboard.workshop.do(o.StandBy(parse_standing("march 1s 16MiB | 2 | turns")))
    aboard.follow()
    ranges, then = told
    assert then == "restart"
    assert aboard.paused == ["restarting with the upper range kept free"]
    assert aboard.workshop.aboard.standing.which is Which.UPPER
    # It came up, but without the range: that is not tried again, and the loads run all the same.
    aboard.follow()
    assert aboard.outcomes() == [Outcome.HELD]
    assert len(told) == 2
    assert ranges
    monkeypatch.setattr("tenaz.probe.memory_map.firmware_memory", lambda *_: (Span(0, GIB // 2),))
    aboard.workshop.do(o.StandBy(parse_standing("march 1s 16MiB | 1 | turns")))
    aboard.follow()
    assert aboard.outcomes() == [Outcome.HELD] * 2
    aboard.workshop.do(o.LeaveMachine(restart=False))
    assert told[-2:] == [(), "off"]
    aboard.workshop.close()


def test_the_ladder_goes_on_with_whatever_is_fitted(book: Path, put_into: Put) -> None:
    order = "march 1s 16MiB | 1 | still"
    for modules, coming in (
        (TWO, "leave only 0042, in A2"),
        ((TWO[0], TWO[1], TWO[2], MemoryModule("B2", 0)), "leave only 0051, in A2"),
        ((TWO[0], replace(TWO[1], serial="0051"), TWO[2], MemoryModule("B2", 0)), "at its end"),
    ):
        put_into(modules=modules)
        aboard = Aboard(book)
        if modules is TWO:
            aboard.workshop.do(o.StandBy(parse_standing(order)))
            aboard.workshop.do(o.ClimbLadder())
            aboard.workshop.running.wait(60)
        aboard.follow()
        aboard.follow()
        seen = aboard.workshop.view().aboard
        assert seen is not None
        assert coming in seen.coming
        aboard.workshop.close()
    opened = Aboard(book).workshop
    assert {one.show() for one in opened.store.works.labels("this machine")}
    assert opened.aboard.ladder().next is None
    assert {one.state.value for one in opened.store.works.labels("this machine")} == {"good"}
    opened.close()


def test_the_ladder_goes_with_one_module_and_needs_one(book: Path, put_into: Put) -> None:
    put_into(modules=())
    shop = Aboard(book).workshop
    with pytest.raises(Refused, match="needs modules"):
        shop.do(o.ClimbLadder())
    shop.close()
    put_into(modules=(TWO[0], TWO[1]))
    aboard = Aboard(book)
    aboard.workshop.do(o.StandBy(parse_standing("march 1 lap 16MiB | 1 | still")))
    aboard.workshop.do(o.ClimbLadder())
    aboard.workshop.running.wait(60)
    aboard.follow()
    rungs = aboard.workshop.aboard.ladder()
    assert (len(rungs.rungs), rungs.next) == (2, None)
    assert [one.state.value for one in rungs.verdicts] == ["good"]
    aboard.workshop.close()


def test_a_stick_comes_to_its_end_and_says_what_came_of_it(book: Path, put_into: Put) -> None:
    aboard = Aboard(book)
    shop = aboard.workshop
    shop.do(o.StandBy(parse_standing("march 1 lap 16MiB; transform 1s | 1 | still")))
    for _ in range(3):
        assert shop.aboard.ended() is None
        aboard.follow()
    seen = shop.view().aboard
    assert seen is not None
    assert seen.ended is not None
    assert (seen.ended.fine, seen.ended.headline) == (True, "DONE, NOTHING WRONG")
    told = " ".join(seen.ended.lines)
    assert re.search(r"tested: march \d+s, transform 1s", told)
    assert "95% sure: a failure that comes oftener than once in" in told
    rows = square_rows(seen.ended.brief)
    assert len({len(row) for row in rows}) == 1
    assert abs(2 * len(rows) - len(rows[0])) <= 1, "it is square"
    assert seen.ended.brief.isascii()
    trials = [replace(one, reason=REASON) for one in shop.trials()]
    wrong = [replace(trials[0], outcome=Outcome.ERRED, errors=3, failed_after_s=0.4), *trials[1:]]
    bad = ending("x", shop.aboard.standing, wrong, 0.99, REASON, "2026-11-30")
    assert bad is not None
    assert (bad.fine, bad.headline) == (False, "DONE: SOMETHING IS WRONG (one of its loads failed, 3 wrong values)")
    assert any("files that were written" in one for one in bad.lines)
    shop.close()


def test_a_keyboard_is_chosen_by_its_name_and_remembered(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    for name, layout in LAYOUTS.items():
        text = keymap_text(layout)
        assert text.count("keycode") == 48
        (tmp_path / f"{name}.map").write_text(text)
    assert "keycode 16 = U+0061 U+0041 U+0061" in keymap_text(LAYOUTS["fr"])
    assert "keycode 16 = U+0071 U+0051 U+0040" in keymap_text(LAYOUTS["de"])
    chosen, ran = tmp_path / "keyboard", list[list[str]]()

    def run(command: list[str], **_: object) -> subprocess.CompletedProcess[str]:
        ran.append(command)
        return subprocess.CompletedProcess(command, 0, "", "")

    monkeypatch.setattr("tenaz.aboard.medium.subprocess.run", run)
    assert keyboards(tmp_path, chosen)[0] == "us"
    set_keyboard("fr", tmp_path, chosen)
    assert keyboards(tmp_path, chosen)[0] == "fr"
    assert ran[0][-1] == str(tmp_path / "fr.map")
    with pytest.raises(Refused, match="no keyboard 'klingon'"):
        set_keyboard("klingon", tmp_path, chosen)


def test_a_load_that_never_ends_is_no_standing_order(book: Path, put_into: Put) -> None:
    shop = Aboard(book).workshop
    with pytest.raises(Refused, match="must end by itself"):
        shop.do(o.StandBy(replace(parse_standing("march 1s"), routine="march until stopped")))
    shop.close()


def test_the_report_is_read_anywhere(book: Path, put_into: Put, clock: SteppedClock) -> None:
    aboard = Aboard(book)
    shop = aboard.workshop
    shop.do(o.StandBy(parse_standing("march 1 lap 16MiB | 1 | still")))
    aboard.follow()
    (trial,) = shop.trials()
    memory, lane = (Span(0, 64 << 20),), (Span(0, 32 << 20),)
    shop.store.load.laid(trial.id, Laid(memory, (Span(40 << 20, 48 << 20),), (lane,), 64 << 20))
    rig = replace(shop.rig, name="<b>rig & \x1b[31mco</b>")
    picture = memory_picture(shop.store, shop.rig)
    report = StickReport(rig, shop.trials(), (), picture, "march", clock.utc())
    text, page = report.text(), report.html()
    assert "● held" in text
    assert "gone over at least once" in text
    assert "0042" in text
    assert "50.0 % of 64 MiB fitted" in text
    assert "\x1b" not in text + page
    assert "<b>" not in page
    assert "&lt;b&gt;" in page
    assert page.startswith("<!doctype html>")
    assert "http" not in page
    shop.close()


def test_a_setpoint_typed_into_the_firmware_is_taken_up_after_the_restart(
    book: Path, put_into: Put, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("tenaz.aboard.medium.leave_for", lambda _: None)
    monkeypatch.setattr("tenaz.engine.clock.RealClock.boot_id", lambda _: "before")
    shop = Aboard(book).workshop
    knob = next(one for one in shop.rig.knobs if one.name == "t_cl_nck")
    setpoint = shop.in_force().replacing(knob.name, knob.grid.values()[0])
    shop.do(o.StartTrial(setpoint, LoadPlan(LoadKind.MARCH, 1.0, size_bytes=16 << 20)))
    until = time.monotonic() + PATIENCE_S
    while shop.running.asking is None and time.monotonic() < until:
        time.sleep(0.05)
    assert shop.running.asking is not None
    shop.do(o.LeaveMachine(restart=True))
    shop.close()
    monkeypatch.setattr("tenaz.engine.clock.RealClock.boot_id", lambda _: "after")
    aboard = Aboard(book)
    seen = aboard.workshop.view().aboard
    assert seen is not None
    assert seen.takes_up
    assert seen.coming.startswith("go on with trial 1, which was being typed in")
    aboard.follow()
    assert aboard.outcomes() == [Outcome.HELD]
    assert aboard.workshop.in_force() == setpoint
    aboard.workshop.close()
