"""Every outcome has its own mark and word; colour only helps."""

from dataclasses import dataclass
from enum import StrEnum

from tenaz.core.base.outcomes import Outcome
from tenaz.core.sensors.alarms import Alarm


class Role(StrEnum):
    """What a drawn thing means; each medium has its own colour for it."""

    TEXT = "text"
    FAINT = "faint"
    FRAME = "frame"
    LIT = "lit"
    HELD = "held"
    FAILED = "failed"
    UNKNOWN = "unknown"
    MEASURED = "measured"
    GUARD = "guard"


@dataclass(frozen=True, slots=True)
class Mark:
    """A sign of one cell, its word, and its role."""

    sign: str
    word: str
    role: Role


MARKS = {
    Outcome.HELD: Mark("●", "held", Role.HELD),
    Outcome.ERRED: Mark("✗", "erred", Role.FAILED),
    Outcome.FROZE: Mark("▣", "froze", Role.FAILED),
    Outcome.RESTARTED: Mark("↻", "restarted", Role.FAILED),
    Outcome.STOP_CODE: Mark("⊠", "stop code", Role.FAILED),
    Outcome.PICTURE: Mark("▨", "picture faults", Role.FAILED),
    Outcome.NO_BOOT: Mark("∅", "no boot", Role.FAILED),
    Outcome.TOO_HOT: Mark("▲", "too hot", Role.FAILED),
    Outcome.STOPPED: Mark("○", "stopped", Role.UNKNOWN),
    Outcome.LOST: Mark("?", "lost", Role.UNKNOWN),
    Outcome.STARVED: Mark("◌", "starved", Role.UNKNOWN),
    Outcome.UNCHECKED: Mark("¿", "unchecked", Role.UNKNOWN),
}

ALARM_MARKS = {
    Alarm.WRONG_VALUE: Mark("✗", "wrong value", Role.FAILED),
    Alarm.HARDWARE_ERROR: Mark("‼", "hardware error", Role.FAILED),
    Alarm.TOO_HOT: Mark("▲", "too hot", Role.FAILED),
    Alarm.BLIND: Mark("⊘", "guard lost", Role.FAILED),
    Alarm.THROTTLED: Mark("↓", "throttled", Role.LIT),
    Alarm.WARNING: Mark("!", "warning", Role.LIT),
    Alarm.SENSOR: Mark("~", "sensor", Role.UNKNOWN),
    Alarm.NOTE: Mark("·", "note", Role.UNKNOWN),
}
"""What happens under load, gravest first: where two fall together the first is drawn."""

RUNNING = Mark("◐", "running", Role.MEASURED)
NEXT = Mark("◇", "next", Role.LIT)
STOCK = Mark("s", "stock", Role.TEXT)


def mark_of(outcome: Outcome | None) -> Mark:
    """The mark of a trial; one without outcome is under way."""
    return RUNNING if outcome is None else MARKS[outcome]
