"""Keys act on what is in sight: what is typed ahead waits for its dialog, and nothing dear starts by accident."""

import time
from pathlib import Path

import pytest

from tenaz.journal.opening.opening import open_book
from tenaz.tui.base.typed_ahead import BURST_S
from tests.terminal.screen import tenaz

pytestmark = pytest.mark.terminal


def test_the_ways_out_and_the_list_of_commands_work_as_everywhere(book: Path) -> None:
    for key in ("C-q", "C-c"):
        with tenaz(book) as screen:
            screen.press("C-p").until("find anything")
            screen.press("Escape").until_gone("Enter does what stands beside it")
            screen.press(key).until("LEFT WITH 0")


def test_a_minus_begins_a_value_and_enter_starts_nothing_that_takes_long(book: Path) -> None:
    with tenaz(book) as screen:
        screen.press("d›f").until("which knob")
        screen.type("core offset").until_gone("which knob")
        screen.press("-").until("core offset, now")
        screen.type("40")
        screen.until(r"core offset\s+-40 mV")
        screen.until("t   try the dialled values")
        screen.press("Enter").until("Enter starts nothing that takes long: t does")
        screen.until("next load: transform")
        screen.press("q").until("LEFT WITH 0")
    assert trials_in(book) == []


def test_answers_typed_ahead_answer_nothing(book: Path) -> None:
    with tenaz(book) as screen:
        screen.press("r›b").until("ridge on hand")
        screen.press("t").until("begins it")
        screen.type_fast("yyy")
        assert "begins it" in screen.text, "letters agree to nothing"
        screen.press("Enter").until("Did ridge come up|Enter these|read back as asked")
        screen.type_fast("yyyyyy").until("read back as asked|What did you see|Did ridge come up")
        screen.until("pressed|read back as asked|What did you see|Did ridge come up")
        assert "What did you see" not in screen.text
        time.sleep(2 * BURST_S)  # Another burst of keys.
        screen.press("s").until("does not count then")
        screen.press("Enter").until("nothing runs")
        screen.press("q").until("LEFT WITH 0")


def test_letters_typed_for_a_dialog_that_did_not_open_do_nothing_beneath(book: Path) -> None:
    with tenaz(book) as screen:
        screen.press("e›p").until("pace: an hour in a minute")
        screen.press("t").until(r"\[ +LOAD +\].*trial 1")
        screen.type_fast("orshelf").until("stop it first with s")
        screen.until(r"\[ +LOAD +\].*trial 1")
        assert "trial 1: stopped" not in screen.text
        screen.press("Escape").until_gone("stop it first with s")
        screen.press("u").until(r"\[ +LOAD +\]")
        time.sleep(2 * BURST_S)
        screen.press("s").until(r"trial 1: stopped \(does not count\)")
        screen.type_fast("orshelf").until("report 1 of ridge")
        screen.until("❯? ?shelf")
        screen.press("Escape").until_gone("report 1 of ridge")
        screen.press("q").until("LEFT WITH 0")


def trials_in(book: Path) -> list[object]:
    opened = open_book(book, read_only=True)
    found = list(opened.store.trials.of("ridge"))
    opened.close()
    return found
