"""Signs for a console that has few."""

from pathlib import Path

import tenaz
from tenaz.pictures.drawing.marks import ALARM_MARKS, MARKS, NEXT, RUNNING
from tenaz.pictures.drawing.stand_ins import plain_signs

CONSOLE = {*map(chr, range(32, 127)), *bytes(range(128, 256)).decode("cp437"), *"☺☻♥♦♣♠•◘○◙♂♀♪♫☼►◄↕‼¶§▬↨↑↓→←∟↔▲▼°·µ±«»"}
"""What the console's own font draws: code page 437 with its signs for control codes."""


def test_whatever_is_drawn_has_a_stand_in_that_the_console_has() -> None:
    rooms = [
        Path(tenaz.__file__).parent / room for room in ("charts", "tui", "core", "pictures", "workshop", "benches")
    ]
    text = "".join(path.read_text(encoding="utf-8") for room in rooms for path in room.rglob("*.py"))
    drawn = {sign for sign in plain_signs(text) if not sign.isspace()} - CONSOLE
    assert not drawn


def test_marks_are_still_told_apart() -> None:
    outcomes = [plain_signs(mark.sign) for mark in (*MARKS.values(), RUNNING, NEXT)]
    assert len(set(outcomes)) == len(outcomes)
    alarms = [plain_signs(mark.sign) for mark in ALARM_MARKS.values()]
    assert len(set(alarms)) == len(alarms)
