"""Keys act on what is in sight: what is typed ahead waits for its dialog, and nothing dear starts by accident."""

import time
from pathlib import Path

import pytest

from tenaz.journal.opening.opening import open_book
from tenaz.tui.base.commands import CALLED as KEYS_BY_SIGN
from tenaz.tui.base.commands import COMMANDS, foot_of
from tenaz.tui.base.menus import PAGE, path_of
from tenaz.tui.base.typed_ahead import BURST_S
from tenaz.tui.pages.strip import PAGES
from tests.terminal.screen import Screen, tenaz

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
        screen.agree().until("Did ridge come up|Enter these|read back as asked")
        screen.type_fast("yyyyyy").until("read back as asked|What did you see|Did ridge come up")
        screen.until("pressed|read back as asked|What did you see|Did ridge come up")
        assert "What did you see" not in screen.text
        time.sleep(2 * BURST_S)  # Another burst of keys.
        screen.press("s").until("does not count then")
        screen.agree().until("nothing runs")
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


CALLED = {
    "up": "Up", "down": "Down", "left": "Left", "right": "Right", "shift+left": "S-Left", "shift+right": "S-Right",
    "pageup": "PPage", "pagedown": "NPage", "space": "Space", "backspace": "BSpace", "delete": "DC", "tab": "Tab",
    "shift+tab": "BTab", "enter": "Enter", "escape": "Escape", "f6": "F6", "ctrl+y": "C-y",
    **{name: sign for sign, name in KEYS_BY_SIGN.items()},
}  # fmt: skip
"""Keys as tmux names them."""

EVERYWHERE = {
    "next_page": r"\[tune\]",
    "next_page(-1)": r"\[day\]",
    "page_back": r"\[tune\]",
    "follow_next": "nothing for Enter|Enter starts nothing|trial 1",
    "stop_run": "stopped|Nothing runs that could be stopped",
    "start_trial": "trial [12]",
    "undo": "taken back: ",
    "redo": "done again: ",
    "climb": "c +|close the climb|trial [23]",
    "find_anything": "find anything",
    "show_menu": r"menus +│",
    "help": "↑ ↓ scroll to all keys",
    "fold": r"\[tune\]",
    "quit": "LEFT WITH 0|leave it running",
}
"""What is seen after each key that acts everywhere, in an order in which each makes sense."""


def test_every_key_that_is_told_of_does_something(book: Path) -> None:
    direct = {one.action: CALLED.get(one.key, one.key) for one in COMMANDS if one.key and not one.pages}
    assert set(EVERYWHERE) == set(direct), "each is pressed"
    with tenaz(book) as screen:
        screen.press("e›p", "e›p", "e›p").until("pace: in a moment")
        for page in PAGES:
            screen.press(path_of(f"{PAGE}{page}")).until(rf"\[{page}\]")
            foot = [one for one in COMMANDS if page in one.pages and one.key]
            for one in foot:
                screen.press(CALLED.get(one.key, one.key))
            assert "does nothing here" not in screen.text
            shown = screen.text
            for keys, word in foot_of(page)[:3]:
                assert f"{keys} {word}" in shown, (page, keys)
        # First it takes away what was complained of.
        screen.press("Escape", "p›d").until(r"\[day\]")
        for action, seen in EVERYWHERE.items():
            if action == "undo":
                screen.press("p›t", "Right").until("→ 5000|5000")
            screen.press(direct[action]).until(seen)
            if action in ("find_anything", "show_menu", "help"):
                screen.press("Escape").until_gone(seen)


def test_what_is_typed_before_the_book_is_open_is_what_it_would_be_after(book: Path) -> None:
    with tenaz(book) as screen:
        screen.press("q").until("LEFT WITH 0")
    for typed, shown in (("pm", r"\[margins\]"), ("ptdr5200", r"carry the whole sheet[\s\S]*5200")):
        with Screen("--book", str(book)) as screen:
            screen.until("opening the book")
            for key in typed:
                screen.press_now(key)
            screen.until(shown)
