"""Keys typed at any speed, also while every core is busy: none acts on what was not in sight when it was pressed."""

import multiprocessing
import os
import random
import re
import time
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path

import psutil
import pytest

from tenaz.core.base.loop import Move, Station
from tenaz.journal.opening.opening import open_book
from tenaz.tui.base.sight import READ_S
from tests.terminal.screen import Screen, tenaz

pytestmark = pytest.mark.terminal

LONGEST_GAP_S, TYPED_S = 0.6, 25.0
ASKED = {
    Station.SET: "Enter these values in the firmware",
    Station.BOOT: "Did ridge come up, with the values",
    Station.CONFIRM: "read back as asked",
    Station.LOAD: "the clock runs. What did you see",
}
ANSWERS = {
    (Station.SET, Move.ENTERED): "y",
    (Station.BOOT, Move.CAME_UP_AS_ASKED): "y",
    (Station.BOOT, Move.CAME_UP): "l",
    (Station.BOOT, Move.CAME_UP_RETRAINED): "a",
    (Station.BOOT, Move.FELL_BACK): "d",
    (Station.BOOT, Move.STAYED_DOWN): "n",
    (Station.CONFIRM, Move.CONFIRMED): "y",
    (Station.CONFIRM, Move.DIFFERS): "d",
}


@dataclass(frozen=True)
class Press:
    """A key, and the screen as it stood just before."""

    key: str
    sight: str

    @property
    def trial(self) -> int:
        """The trial that the rail told of."""
        found = re.search(r"trial (\d+)", self.sight.split("\n", 1)[0])
        return int(found[1]) if found else 0


def burn() -> None:
    # Behind other tests that run beside this one: their loads must not starve.
    os.nice(10)
    while True:
        sum(range(10_000))


@pytest.fixture
def no_core_is_idle() -> Iterator[None]:
    busy = [multiprocessing.get_context("spawn").Process(target=burn, daemon=True) for _ in range(os.cpu_count() or 1)]
    for one in busy:
        one.start()
    yield
    for one in busy:
        with suppress(psutil.Error):
            one.kill()


SENSIBLE = {"begins it": "Enter", "stops it": "Escape", "how long did": "Enter", **dict.fromkeys(ASKED.values(), "y")}
"""What somebody who reads would press; half of the keys are such, however long ago it was read."""


def typed(screen: Screen, keys: str, seed: int) -> list[Press]:
    """Keys at random speeds, some in bursts, each with what was seen before it."""
    drawn, presses = random.Random(seed), []
    end = time.monotonic() + TYPED_S
    while time.monotonic() < end:
        sight = screen.text
        sensible = next((key for words, key in SENSIBLE.items() if words in sight), "t")
        key = drawn.choice([*keys, "Enter", "Escape", *[sensible] * (len(keys) + 2)])
        presses.append(Press(key, sight))
        screen.press_now(key)
        time.sleep(drawn.choice([0.0, 0.02, drawn.uniform(0.0, LONGEST_GAP_S), drawn.uniform(0.2, LONGEST_GAP_S)]))
    return presses


@pytest.mark.parametrize("seed", [3, 11])
def test_by_hand_an_answer_is_of_the_question_in_sight(book: Path, no_core_is_idle: None, seed: int) -> None:
    del no_core_is_idle
    with tenaz(book) as screen:
        screen.press("r›b").until("ridge on hand")
        screen.press("p›t", "Right").until("4800 → 5000")
        presses = typed(screen, "ttyyyyyynlhfsd1", seed)
        screen.kill_group()
    opened = open_book(book, read_only=True)
    trials = opened.store.trials.of("ridge")
    opened.close()
    assert trials, "nothing was begun at all"
    answered = 0
    for trial in trials:
        mine = iter([one for one in presses if one.trial == trial.number])
        for fact in trial.stations:
            wanted = ANSWERS.get((fact.station, fact.move))
            # What took no time was not asked: nothing was to be typed in.
            if wanted is not None and fact.by_hand and (fact.seconds or 0.0) >= READ_S:
                answered += 1
                assert any(one.key == wanted and ASKED[fact.station] in one.sight for one in mine), (
                    f"trial {trial.number}: {fact.move} was answered by no key that was pressed while it was asked"
                )
    begun = sum(one.key == "Enter" and "begins it" in one.sight for one in presses)
    assert len(trials) <= begun, "each was begun by an Enter that was pressed on its price"
    assert answered


@pytest.mark.parametrize("seed", [5])
def test_on_a_simulated_rig_nothing_begins_by_a_key_for_something_else(
    book: Path, no_core_is_idle: None, seed: int
) -> None:
    del no_core_is_idle
    with tenaz(book) as screen:
        screen.press("p›t").until("No climb along data rate")
        presses = typed(screen, "tttsyxu?zn", seed)
        screen.kill_group()
    opened = open_book(book, read_only=True)
    trials = opened.store.trials.of("ridge")
    opened.close()
    assert trials
    at_rest = [one for one in presses if re.search(r"nothing runs|\[ +JUDGE +\]", one.sight)]
    by_t = sum(one.key == "t" for one in at_rest)
    by_enter = sum(one.key == "Enter" and re.search(r"next +⏎", one.sight) is not None for one in at_rest)
    loads = {trial.plan.kind for trial in trials}
    assert len(trials) <= by_t + by_enter * max(1, len(loads)) * 8
    assert by_enter or len(trials) <= by_t
