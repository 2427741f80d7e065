"""How many keys what one does most takes, counted in the real terminal: ``python -m tests.bench.keys``."""

import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from tests.terminal.screen import Screen, tenaz

LABEL = "6000 30-38-38-96 1.35V"

Task = tuple[str, int, Callable[[Screen], object]]
"""What is done, with how many keys at most, and how."""


def _typed(screen: Screen, text: str) -> Screen:
    """Letters and figures, each a key."""
    return screen.press(*text)


def _by_hand(screen: Screen) -> object:
    screen.press("Right", "t").until("begins it")
    screen.press("Enter").until("Enter these values")
    screen.press("y").until("Did ridge come up")
    screen.press("y").until("What did you see")
    # A load takes its time: what the clock says is proposed.
    time.sleep(2.5)
    screen.press("h").until("how long did")
    return screen.press("Enter").until(r"trial \d+: held")


def _compared(screen: Screen) -> object:
    screen.press("d›w").until("save what is dialled")
    _typed(screen, "a").press("Enter").until("saved as a")
    screen.press("p›s").until(r"\[sheet\]")
    return screen.press("=").until("set now +a")


def _exported(screen: Screen) -> object:
    screen.press("o›x").until("export")
    return screen.press("Enter").until("written")


def _corrected(screen: Screen) -> object:
    screen.press("b›c").until("how did it really end")
    screen.press("C-u")
    return _typed(screen, "froze").press("Enter").until("corrected from")


TASKS: tuple[Task, ...] = (
    ("a first climb, from the start", 2, lambda s: s.press("Tab", "c").until(r"trial 1")),
    ("stop it", 1, lambda s: s.press("s").until("nothing runs")),
    ("end the climb", 2, lambda s: s.press("a›e").until("ended by hand")),
    (
        "a setpoint in trade notation",
        23,
        lambda s: _typed(s, "6000 30-38-38-96 1.35V").press("Enter").until("6000 MT/s"),
    ),
    ("back to stock", 2, lambda s: s.press("d›s").until_gone("6000 MT/s")),
    ("the bench by hand", 2, lambda s: s.press("r›b").until("ridge on hand")),
    ("a trial by hand with a changed value", 7, _by_hand),
    ("correct it", 9, _corrected),
    ("save a setpoint, and compare with it", 7, _compared),
    ("write the page", 3, _exported),
    ("back to the bench sim", 2, lambda s: s.press("r›b").until("ridge on sim|this machine|ridge on here")),
    ("queue a night", 3, lambda s: s.press("a›n").until("a night alone")),
)


def counted() -> list[tuple[str, int, int]]:
    """Each task, the keys that it took, the most that it may."""
    found = []
    with tempfile.TemporaryDirectory() as folder, tenaz(Path(folder) / "keys.db") as screen:
        for what, most, done in TASKS:
            before = screen.pressed
            done(screen)
            found.append((what, screen.pressed - before, most))
        screen.press("Escape")
    return found


def report() -> None:
    """Print them."""
    print("keys that one presses for")
    for what, keys, most in counted():
        print(f"  {what}: {keys} (≤ {most})")


if __name__ == "__main__":
    report()
